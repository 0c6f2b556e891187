"""Reading what people type: `13.9 kW`, `14 200 VA`, `1½ hp`, `2340 ft2`.

A number grammar of its own comes first (fractions, thousands, decimal comma by locale): what is
ambiguous is refused, never guessed. Units that need converting go through pint, imported only
then. The typed text is kept.
"""

from __future__ import annotations

import math
import re
import unicodedata
from dataclasses import dataclass
from functools import cache
from typing import Any

from voltaje.errors import InputError
from voltaje.limits import MOST_AMPS, MOST_HP, MOST_NUMBER, MOST_VA, MOST_VOLTS
from voltaje.message import Figure, Message

_HUGE = 1e15
_SPACES = "\u0020\u00a0\u2009\u202f"
_NUMBER = re.compile(rf"[+\-−]?[\d.,'{_SPACES}/\-⁄½⅓⅔¼¾⅕⅛⅜⅝⅞]*[\d½⅓⅔¼¾⅕⅛⅜⅝⅞.,]")
_MIXED = re.compile(r"(?:(?P<whole>\d+)[ \-])?(?P<top>\d+)[/⁄](?P<bottom>\d+)")
# What a rule or a tape divides by; anything else with a stroke between is two ratings of one plate.
_PARTS = (2, 3, 4, 5, 8, 16, 32, 64)
_PARTS_OF_HP = (6, 10, 12, 15, 20)  # of small motors, one of them (Tables 430.248 and makers' plates)
_DUAL = re.compile(r"(?P<first>[\d.,]*\d) ?[/⁄] ?(?P<second>\d[\d.,]*)")
GROUP = 3  # digits between the commas of thousands
_VULGAR = "½⅓⅔¼¾⅕⅛⅜⅝⅞"

_RATING_UNITS: dict[str, tuple[float, str]] = {
    "va": (1, "VA"),
    "w": (1, "VA"),
    "watts": (1, "VA"),
    "kva": (1000, "VA"),
    "mva": (1_000_000, "VA"),
    "kw": (1000, "VA"),
    "a": (1, "A"),
    "amp": (1, "A"),
    "amps": (1, "A"),
    "hp": (1, "hp"),
}
_MOST_RATED = {"VA": MOST_VA, "A": MOST_AMPS, "hp": MOST_HP}
_AREA_UNITS = {
    "ft2": "foot**2",
    "ft^2": "foot**2",
    "sqft": "foot**2",
    "sq ft": "foot**2",
    "sq. ft": "foot**2",
    "sf": "foot**2",
    "m2": "meter**2",
    "m^2": "meter**2",
    "sqm": "meter**2",
    "sq m": "meter**2",
}
_SIZE = re.compile(r"#? ?(?P<size>\d+(?:/0|[.,]\d+)?) ?(?:awg|kcmil|mcm|mm2|mm²|sq ?mm)?")
# 85'-6", 85 ft 6 in, 85 feet 6: how a tape is read out.
_FEET_AND_INCHES = re.compile(
    r"(?P<feet>\d{1,6}) ?(?:'|\u2032|\u2019|ft\.?|feet|foot)[ -]*"
    r"(?P<inches>\d{1,2}(?:[.,]\d+)?(?:[ -]\d+/\d+)?|\d+/\d+) ?(?:\"|\u2033|''|in\.?|inch(?:es)?)?"
)
_INCHES_IN_FOOT = 12
_LENGTH_UNITS = {"ft": 0.3048, "feet": 0.3048, "'": 0.3048, "m": 1.0, "km": 1000.0, "yd": 0.9144, "in": 0.0254}
_OHM_UNITS = {"ohm": 1.0, "ohms": 1.0, "ω": 1.0, "Ω": 1.0, "mohm": 1e-3, "mω": 1e-3, "mΩ": 1e-3}
_WATT_UNITS = {"w": 1.0, "watts": 1.0, "va": 1.0, "kw": 1000.0, "kva": 1000.0}
_VOLT_UNITS = {"v": 1.0, "volt": 1.0, "volts": 1.0, "kv": 1000.0}
# Fields of one unit: what may be typed there, and how many of that unit it is.
_UNITS_OF = {
    "VA": {"va": 1.0, "kva": 1e3},
    "kVA": {"kva": 1.0, "va": 1e-3, "mva": 1e3},
    "kA": {"ka": 1.0, "a": 1e-3},
    "%": {"%": 1.0, "percent": 1.0, "per cent": 1.0, "pct": 1.0},
    "s": {"s": 1.0, "sec": 1.0, "seconds": 1.0, "ms": 1e-3},
    "°": {"°": 1.0, "deg": 1.0, "degrees": 1.0},
}
_DEGREES = ("c", "f")
_FREEZING_F, _C_PER_F = 32.0, 5 / 9


@dataclass(frozen=True)
class Rating:
    """A load as entered: `value` in VA, A or hp, and the text that was typed.

    Watts stand as VA with `is_watts` set: rules that know a power factor divide by it.
    """

    typed: str
    value: float
    unit: str
    is_watts: bool = False


def read_number(text: str, decimal: str = ".") -> float:
    """Return the number written in a text [no unit].

    decimal: the locale's decimal mark, "." or ","; the other one may group thousands.
    Raises: InputError (field "") for what is no number, or reads two ways.

    >>> [read_number(text) for text in ("14 200", "14,200", "1-1/2", "½", ".5")]
    [14200.0, 14200.0, 1.5, 0.5, 0.5]
    """
    text = text.strip()
    sign = -1.0 if text[:1] in ("-", "−") else 1.0
    body = text[1:].strip(_SPACES) if text[:1] in ("+", "-", "−") else text
    if not body or len(body) > MOST_NUMBER:
        raise _refused("{typed} is not a number", text)
    if body[-1] in _VULGAR:
        whole = body[:-1].rstrip(_SPACES + "-")
        if (whole and not whole.isascii()) or (whole and not whole.isdigit()):
            raise _refused("{typed} is not a number", text)
        return sign * ((float(whole) if whole else 0.0) + unicodedata.numeric(body[-1]))
    if "/" in body or "⁄" in body:
        return sign * _mixed_fraction(body, text)
    return sign * _decimal(body, text, decimal)


def _mixed_fraction(body: str, typed: str) -> float:
    plain = re.sub(f"[{_SPACES}]+", " ", body)
    match = _MIXED.fullmatch(plain)
    if match and (body.isascii() or "⁄" in body):
        top, bottom = int(match["top"]), int(match["bottom"])
        parts = (*_PARTS, *_PARTS_OF_HP) if top == 1 else _PARTS
        if bottom in parts and top < bottom and math.gcd(top, bottom) == 1:
            return int(match["whole"] or 0) + top / bottom
    dual = _DUAL.fullmatch(plain)
    if dual:
        message = Message(
            "{typed} is two ratings: write the one that is meant, {first} or {second}",
            typed=typed[:MOST_NUMBER],
            first=dual["first"],
            second=dual["second"],
        )
        raise InputError("", message)
    raise _refused("{typed} is not a fraction such as 1/2 or 1-1/2", typed)


def _decimal(body: str, typed: str, decimal: str) -> float:
    group = "," if decimal == "." else "."
    plain = re.fullmatch(rf"\d+(?:{re.escape(decimal)}\d+)?|{re.escape(decimal)}\d+", body, re.ASCII)
    if plain:
        return float(body.replace(decimal, "."))
    part = re.fullmatch(r"(\d+)[.,](\d+)", body, re.ASCII)
    if part and (part[1] == "0" or len(part[2]) != GROUP):
        return float(f"{part[1]}.{part[2]}")  # no thousands are grouped so: the mark of another country
    grouped = re.fullmatch(
        rf"\d{{1,3}}(?P<mark>[{_SPACES}'{group}])\d{{3}}(?:(?P=mark)\d{{3}})*(?P<rest>{re.escape(decimal)}\d+)?",
        body,
        re.ASCII,
    )
    if not grouped:
        raise _refused("{typed} can be read more than one way, or none: write 14200 or 14.2", typed)
    if decimal == "," and grouped["mark"] == "." and body.count(".") == 1 and not grouped["rest"]:
        raise _refused("{typed} can be read two ways: write 14200 or 14,2", typed)
    return float(body.replace(grouped["mark"], "").replace(decimal, "."))


def _refused(template: str, typed: str) -> InputError:
    return InputError("", Message(template, typed=typed[:MOST_NUMBER]))


def split_unit(text: str) -> tuple[str, str]:
    """Split a text into its number and its unit, the unit in lower case with ² as 2."""
    match = _NUMBER.match(text)
    if not match:
        raise _refused("{typed} does not begin with a number", text)
    unit = text[match.end() :].strip(_SPACES).replace("²", "2")
    return match.group(), re.sub(r"\s+", " ", unit).lower()


def unit_of(text: str) -> str:
    """Return the unit that stands behind a typed number, empty where none does."""
    match = _NUMBER.match(text.strip())
    return text.strip()[match.end() :].strip(_SPACES) if match else ""


def _typed(raw: object) -> str:
    if isinstance(raw, bool) or not isinstance(raw, str | int | float):
        raise InputError("", Message("give a number, or a text such as 4.5 kW"))
    if isinstance(raw, str):
        if len(raw) > MOST_NUMBER or (not raw.isprintable() and not set(raw) & set(_SPACES)):
            raise _refused("{typed} is not a number", raw)
        return raw.strip()
    if not -_HUGE < raw < _HUGE:  # also refuses what is not a number, and integers no float can hold
        raise InputError("", Message("that number is too large, or not a number"))
    return repr(float(raw)) if "e" not in repr(raw) else f"{raw:.12f}"


def read_rating(raw: object, decimal: str = ".") -> Rating:
    """Return a load rating; a bare number is volt-amperes.

    Units: VA, kVA, W, kW, A, hp (any case). Raises InputError (field ""), also for more than any supply can carry.

    >>> read_rating("7.5 hp").value, read_rating("14,200 VA").value, read_rating(4500).unit
    (7.5, 14200.0, 'VA')
    """
    typed = _typed(raw)
    number, unit = split_unit(typed)
    if "btu" in unit:
        raise _refused("{typed} is heating or cooling output: enter the nameplate's amperes or VA", typed)
    if unit and unit not in _RATING_UNITS:
        raise _refused("{typed} has no unit that a load can have: VA, kVA, W, kW, A or hp", typed)
    factor, base = _RATING_UNITS[unit or "va"]
    value = read_number(number, _decimal_of(raw, decimal)) * factor
    require_carried(value, base)
    return Rating(typed, value, base, unit in ("w", "kw", "watts"))


def read_nameplate(raw: object, decimal: str = ".") -> Rating:
    """Return a load rating whose unit must be written: 4.5 may be kW, amperes or horsepower.

    Raises: InputError (field "") that shows how it may be read.
    """
    number, unit = split_unit(_typed(raw))
    if not unit:
        message = Message(
            "{typed} what? Write its unit: {first} or {second}",
            typed=number.strip(),
            first=f"{number.strip()} kW",
            second=f"{number.strip()} A",
        )
        raise InputError("", message)
    return read_rating(raw, decimal)


def require_carried(value: float, unit: str) -> None:
    """Raise InputError (field "") for more VA, A or hp than a supply of 1,000 V can have."""
    if not value <= _MOST_RATED[unit]:
        amount, most = Figure(value, unit), Figure(_MOST_RATED[unit], unit)
        message = Message(
            "{amount} is more than {most}, the most that a supply of {volts} can have",
            amount=amount,
            most=most,
            volts=Figure(MOST_VOLTS, "V"),
        )
        raise InputError("", message)


def read_area(raw: object, decimal: str = ".") -> tuple[str, float]:
    """Return the typed text and the area [ft²]; a bare number is square feet.

    >>> round(read_area("217 m²")[1], 1)
    2335.8
    """
    typed = _typed(raw)
    number, unit = split_unit(typed)
    if unit and unit not in _AREA_UNITS:
        raise _refused("{typed} is not an area: ft² or m²", typed)
    value = read_number(number, _decimal_of(raw, decimal))
    name = _AREA_UNITS[unit or "ft2"]
    return typed, value if name == "foot**2" else convert(value, name, "foot**2")


def read_length(raw: object, unit: str, decimal: str = ".") -> tuple[str, float]:
    """Return the unit that was typed, or `unit` for a bare number, and the length [m].

    >>> read_length("150 ft", "m"), read_length(30, "m")
    (('ft', 45.72), ('m', 30.0))
    >>> round(read_length("85'-6\\"", "ft")[1] / 0.3048, 2), round(read_length("85 ft 6 1/2 in", "m")[1] / 0.3048, 3)
    (85.5, 85.542)
    """
    typed = _typed(raw)
    both = _FEET_AND_INCHES.fullmatch(typed.strip().lower())
    if both:
        inches = read_number(both["inches"].replace("-", " "), _decimal_of(raw, decimal))
        if inches >= _INCHES_IN_FOOT:
            raise _refused("{typed}: twelve inches are a foot", typed)
        return "ft", (float(both["feet"]) + inches / _INCHES_IN_FOOT) * _LENGTH_UNITS["ft"]
    number, given = split_unit(typed)
    given = given or unit
    if given not in _LENGTH_UNITS:
        raise _refused("{typed} is not a length: ft or m", str(raw))
    return given, read_number(number, _decimal_of(raw, decimal)) * _LENGTH_UNITS[given]


_HEIGHT_UNITS = {"in": 0.0254, '"': 0.0254, "mm": 0.001, "cm": 0.01, "ft": 0.3048, "m": 1.0}


def read_height(raw: object, decimal: str = ".") -> float:
    """Return a small distance [m]; a bare number is in inches.

    >>> round(read_height("7/8 in"), 4), read_height("20 mm"), read_height(0)
    (0.0222, 0.02, 0.0)
    """
    number, given = split_unit(_typed(raw))
    if (given or "in") not in _HEIGHT_UNITS:
        raise _refused("{typed} is not a height: in, mm", str(raw))
    return read_number(number, _decimal_of(raw, decimal)) * _HEIGHT_UNITS[given or "in"]


def length_in(length_m: float, unit: str) -> float:
    """Return a length [m] in another unit that a length can be typed in."""
    return length_m / _LENGTH_UNITS[unit]


_KG_IN_LB = 0.45359237  # exact, by definition of the pound


def mass_by(mass_kg: float, length_unit: str) -> tuple[float, str]:
    """Return a mass [kg] in the unit that goes with a unit of length, and that unit: lb with ft, kg with m."""
    return (mass_kg / _KG_IN_LB, "lb") if length_unit == "ft" else (mass_kg, "kg")


def read_amps(raw: object, decimal: str = ".") -> float:
    """Return a current [A]; the unit may be left out."""
    number, given = split_unit(_typed(raw))
    if given not in ("", "a", "amp", "amps", "ka"):
        raise _refused("{typed} is not a current", str(raw))
    return read_number(number, _decimal_of(raw, decimal)) * (1000 if given == "ka" else 1)


def read_plain(raw: object, decimal: str = ".") -> float:
    """Return a number without a unit [no unit]."""
    number, given = split_unit(_typed(raw))
    if given:
        raise _refused("{typed} has a unit where none belongs", str(raw))
    return read_number(number, _decimal_of(raw, decimal))


def read_in(raw: object, unit: str, decimal: str = ".") -> float:
    """Return a number in the unit that its field means, which may be left out or typed [`unit`].

    >>> read_in("45 kVA", "kVA"), read_in("600 VA", "kVA"), read_in("4.5 %", "%"), read_in(22, "kA")
    (45.0, 0.6, 4.5, 22.0)
    """
    number, given = split_unit(_typed(raw))
    known = _UNITS_OF.get(unit, {unit.lower().replace("²", "2"): 1.0})
    if given and given not in known:
        raise InputError("", Message("{typed}: give it in {unit}", typed=str(raw)[:MOST_NUMBER], unit=unit))
    return read_number(number, _decimal_of(raw, decimal)) * known.get(given, 1.0)


def read_share(raw: object, decimal: str = ".") -> float:
    """Return a share of a whole, written as such or in per cent [share].

    >>> read_share("90 %"), read_share("0.9"), read_share(1)
    (0.9, 0.9, 1.0)
    """
    number, unit = split_unit(_typed(raw))
    if unit not in ("", "%"):
        raise _refused("{typed} is not a share: 0.9 or 90 %", str(raw))
    value = read_number(number, _decimal_of(raw, decimal))
    return value / 100 if unit else value


def read_size(text: str) -> str:
    """Return a conductor size as its table has it: without its unit and mark [AWG, kcmil or mm²].

    >>> [read_size(each) for each in ("#4", "4 AWG", "250 kcmil", "2,5 mm²", "4/0")]
    ['4', '4', '250', '2.5', '4/0']
    """
    found = _SIZE.fullmatch(text.strip().lower())
    if not found:
        raise _refused("{typed} is not a size, as 4 AWG, 4/0, 250 kcmil or 2.5 mm²", text)
    return found["size"].replace(",", ".")


def read_temperature(raw: object, decimal: str = ".") -> float:
    """Return a temperature [°C]; a bare number is °C.

    >>> read_temperature("104 °F"), read_temperature("40 C"), read_temperature(40)
    (40.0, 40.0, 40.0)
    """
    number, unit = split_unit(_typed(raw))
    value = read_number(number, _decimal_of(raw, decimal))
    scale = unit.replace("°", "").strip()
    if scale not in ("", *_DEGREES):
        raise _refused("{typed} is not a temperature", str(raw))
    return (value - _FREEZING_F) * _C_PER_F if scale == "f" else value


def read_volts(raw: object, decimal: str = ".") -> float:
    """Return a voltage [V]; the unit may be left out.

    >>> read_volts("15 kV"), read_volts("600D"), read_volts("480 V")
    (15000.0, 600.0, 480.0)
    """
    number, unit = split_unit(_typed(raw))
    unit = unit.removesuffix("δ").removesuffix("d").strip() if unit in ("d", "δ", "v d", "v δ", "vd") else unit
    wye = _WYE.fullmatch(unit)
    if wye:
        message = Message(
            "{typed} is two voltages: write the one that is meant, {first} or {second}",
            typed=str(raw),
            first=number,
            second=wye["neutral"],
        )
        raise InputError("", message)
    if unit and unit not in _VOLT_UNITS:
        raise _refused("{typed} is not a voltage", str(raw))
    return read_number(number, _decimal_of(raw, decimal)) * _VOLT_UNITS[unit or "v"]


_WYE = re.compile(r"(?:v )?y ?/? ?(?P<neutral>\d+)(?: ?v)?")


def read_ohms(raw: object, decimal: str = ".") -> float:
    """Return a resistance [Ω]; the unit may be left out.

    >>> read_ohms("60 mΩ"), read_ohms(0.5)
    (0.06, 0.5)
    """
    number, unit = split_unit(_typed(raw))
    if unit and unit not in _OHM_UNITS:
        raise _refused("{typed} is not a resistance", str(raw))
    return read_number(number, _decimal_of(raw, decimal)) * _OHM_UNITS[unit or "ohm"]


def read_watts(raw: object, decimal: str = ".") -> float:
    """Return a power [W]; the unit may be left out."""
    number, unit = split_unit(_typed(raw))
    if unit and unit not in _WATT_UNITS:
        raise _refused("{typed} is not a power: W or kW", str(raw))
    return read_number(number, _decimal_of(raw, decimal)) * _WATT_UNITS[unit or "w"]


def read_count(raw: object, low: int, high: int) -> int:
    """Return a whole number between `low` and `high`, both included [count]."""
    value = read_number(_typed(raw))
    if value != math.floor(value):
        raise InputError("", Message("must be a whole number"))
    require_between(value, low, high)
    return int(value)


def _decimal_of(raw: object, decimal: str) -> str:
    """Numbers that were not typed by a person always have a point."""
    return decimal if isinstance(raw, str) else "."


def require_between(
    value: float, low: float, high: float, unit: str = "", rule: str = "", *, above: bool = False
) -> None:
    """Raise InputError (field "") unless low ≤ value ≤ high, or low < value where `above`."""
    if value < low or (above and value <= low) or not value <= high:
        template = "must be above {low} and at most {high}" if above else "must be from {low} to {high}"
        message = Message(template, low=Figure(low, unit, 2), high=Figure(high, unit, 2))
        raise InputError("", message, rule)


def convert(value: float, unit: str, to: str) -> float:
    """Convert between units of pint's registry [the unit asked for]."""
    return float(_registry().Quantity(value, unit).to(to).magnitude)


@cache
def _registry() -> Any:
    import pint  # noqa: PLC0415  (most calls never need it, and it is slow to import)

    return pint.UnitRegistry()
