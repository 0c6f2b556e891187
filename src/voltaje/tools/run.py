"""The run tool: one run on its own, sized by its book."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from voltaje.books.answers import DropLimit, EarthConductor, Run
from voltaje.books.questions import Book
from voltaje.books.registry import every_choice, find_book
from voltaje.design.chain import Pins, RunDesign, size_run
from voltaje.design.ladder import Option, options
from voltaje.errors import InputError, NoLawfulAnswer, UnknownName
from voltaje.findings import Severity
from voltaje.message import Message
from voltaje.path.surroundings import read_surroundings
from voltaje.quantity import (
    length_in,
    read_amps,
    read_count,
    read_length,
    read_plain,
    read_temperature,
    read_volts,
    require_between,
)
from voltaje.reader import Reader
from voltaje.sheet import Sheet
from voltaje.tools.answer import Json, answer
from voltaje.tools.run_schema import DEFAULT_BOOK, KEYS

NAME = "run"

_MOST_A, _MOST_V, _MOST_M = 6000.0, 1000.0, 10_000.0
_MOST_BUNDLED = 200
_MOST_SETS = 12


def run(raw: object) -> Json:
    """Return a run's answer. Raises InputError naming the key that stands in the way of a lawful one."""
    request, pins, book, unit = read_run(raw)
    sheet = Sheet()
    design = size_run(request, pins, book, sheet)
    for finding in design.findings:
        if finding.field in ("size", "device_a", "sets") and finding.severity is Severity.STOP:
            raise NoLawfulAnswer(finding.field, finding.message, str(finding.rule))
    ladder = options(request, pins, book, book.terms.materials)
    limit = book.drop_limit(request, False)
    return answer(NAME, book.name, result_of(design, limit, ladder, unit), sheet.steps, design.findings)


def read_run(raw: object) -> tuple[Run, Pins, Book, str]:
    """Return a run, its pins, its book, and the unit that its length was given in."""
    reader = Reader(raw, tuple(KEYS))
    book = reader.value("book", find_book, find_book(DEFAULT_BOOK))
    amps = reader.required("amps", _between(read_amps, 0, _MOST_A, "A"), 1.0)
    no_length: tuple[str, float | None] = (book.terms.length_unit, None)
    unit, length_m = reader.value("length", lambda typed: _length(typed, book), no_length)
    request = Run(
        amps=amps,
        volts=reader.required("volts", _between(read_volts, 0, _MOST_V, "V"), 1.0),
        phases=reader.value("phases", _phases, 1),
        continuous_a=reader.value("continuous_amps", _between(read_amps, 0, amps, "A", above=False), 0.0),
        length_m=length_m,
        material=reader.value("material", _one_of("Cu", "Al"), "Cu"),
        insulation=reader.value("insulation", _text, book.terms.insulation),
        method=reader.value("method", _text, book.terms.method),
        cable=reader.value("cable", _one_of("singles", "multicore", "armoured"), book.terms.cable),
        ambient_c=reader.value("ambient_c", _ambient, None),
        bundled=reader.value("bundled", lambda typed: read_count(typed, 1, _MOST_BUNDLED), 0),
        arrangement=reader.value("arrangement", _text, ""),
        terminal_c=reader.value("terminal_c", _terminal, None),
        power_factor=reader.value("power_factor", _between(read_plain, 0, 1, ""), 1.0),
        use=reader.value("use", _one_of("lighting", "other"), "other"),
        supply=reader.value("supply", _one_of("public", "private"), "public"),
        raceway=reader.value("raceway", _one_of(*every_choice("raceway")), ""),
        surroundings=read_surroundings(reader),
        round_up=reader.flag("round_up", True),
    )
    pins = Pins(
        device_a=reader.value("device_a", lambda typed: _rating(typed, request, book), None),
        size=reader.value("size", lambda typed: str(typed) if isinstance(typed, int) else _text(typed), None),
        sets=reader.value("sets", lambda typed: read_count(typed, 1, _MOST_SETS), None),
    )
    reader.finish()
    return request, pins, book, unit


def _between(
    read: Callable[[Any], float], low: float, high: float, unit: str, above: bool = True
) -> Callable[[Any], float]:
    def checked(raw: Any) -> float:
        value = read(raw)
        require_between(value, low, high, unit, above=above)
        return value

    return checked


def _one_of(*known: str) -> Callable[[Any], str]:
    def read(raw: Any) -> str:
        if raw not in known:
            raise UnknownName("", Message("must be one of: {known}", known=list(known)))
        return str(raw)

    return read


def _text(raw: Any) -> str:
    if not isinstance(raw, str):
        raise InputError("", Message("must be a text"))
    return raw.strip()


def _phases(raw: Any) -> int:
    if raw not in (1, 3, "1", "3") or isinstance(raw, bool):
        raise UnknownName("", Message("must be 1 or 3"))
    return int(raw)


def _length(raw: Any, book: Book) -> tuple[str, float | None]:
    unit, metres = read_length(raw, book.terms.length_unit)
    require_between(metres, 0, _MOST_M, "m", above=True)
    return unit, metres


_COLDEST_C, _HOTTEST_C = -40, 100


def _ambient(raw: Any) -> float | None:
    value = read_temperature(raw)
    require_between(value, _COLDEST_C, _HOTTEST_C, "°C")
    return value


def _terminal(raw: Any) -> int | None:
    return round(read_plain(raw))


def _rating(raw: Any, run: Run, book: Book) -> float | None:
    value = read_amps(raw)
    if value not in book.made_devices(run):
        raise InputError("", Message("{value} A is not a standard rating", value=f"{value:g}"), str(book.device_rule))
    return value


def result_of(design: RunDesign, limit: DropLimit, ladder: list[Option], unit: str) -> Json:
    """Return the result's figures, not rounded; lengths in the unit that was given."""
    run, choice, drop = design.run, design.choice, design.drop
    return {
        "required_a": design.need_a,
        "device_a": choice.device_a,
        "device_max_a": design.capacity.device_max_a,
        "device_at_or_below_a": design.capacity.device_below_a,
        "conductor": {"size": choice.size, "material": run.material, "sets": choice.sets},
        "conductor_other_terminals": _other(design),
        "conduit": design.conduit,
        "factor": design.capacity.factor,
        "ampacity_a": design.capacity.ampacity_a,
        "equipment_ground": _earth(design.earth),
        "drop_v": drop.volts if drop else None,
        "drop_percent": drop.percent if drop else None,
        "limit_percent": limit.percent,
        "limit_is_mandatory": limit.mandatory,
        "longest": None if drop is None or drop.longest_m is None else length_in(drop.longest_m, unit),
        "options": [option_json(option) for option in ladder],
    }


def _other(design: RunDesign) -> Json | None:
    """Return the conductor by the other practice of terminals, None where it makes no difference."""
    if design.other is None:
        return None
    return {"size": design.other.size, "material": design.run.material, "sets": design.other.sets}


def _earth(earth: EarthConductor) -> Json:
    return {"size": earth.size, "material": earth.material}


def option_json(option: Option) -> Json:
    """Return an option of the ladder."""
    choice = option.choice
    return {
        "device_a": choice.device_a,
        "conductor": {"size": choice.size, "material": option.material, "sets": choice.sets},
        "equipment_ground": _earth(option.earth),
        "metal_kg": option.metal_kg,
        "conduit": option.conduit,
        "drop_v": option.drop.volts if option.drop else None,
        "drop_percent": option.drop_percent,
        "remark": str(option.remark),
    }


def as_pins(option: Json) -> Json:
    """Return an option as the keys that pin it."""
    conductor = option["conductor"]
    return {
        "device_a": option["device_a"],
        "size": conductor["size"],
        "sets": conductor["sets"],
        "material": conductor["material"],
    }
