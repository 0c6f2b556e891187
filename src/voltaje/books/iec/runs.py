"""Conductors of a run by Ib ≤ In ≤ Iz, with the factors of the installation."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache

from voltaje.books.answers import Capacity, Choice, Objection, Run, require_choices
from voltaje.books.iec import rings
from voltaje.books.iec.profile import PACKAGE, Profile
from voltaje.books.tables import load_table, number, text
from voltaje.errors import InputError
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.surroundings import PLAIN
from voltaje.rounding import DUST
from voltaje.sheet import Sheet
from voltaje.systems import THREE_PHASE

FACTOR = Formula("ca * cg * ci * cf * cs * cc * ch")
CARRIES = Formula("sets * it * factor")
NEED = Formula("ib / (ambient * neighbours * enclosure)")

INSULATIONS = {"PVC 70": "pvc70", "XLPE 90": "xlpe90"}
FLAT_TWIN = "flat twin"
CABLES = ("singles", "multicore", "armoured")
METHODS = ("A", "B", "C", "D", "E", "F")
IN_INSULATION = ("100", "101", "102", "103")  # methods of flat cables alone, as their table numbers them
ARRANGEMENTS = ("bunched", "wall", "tray", "buried touching", "buried ducts touching")
CHOICES = {
    "material": ("Cu",),
    "insulation": tuple(INSULATIONS),
    "cable": CABLES,
    "method": METHODS,
    "arrangement": ARRANGEMENTS,
}
BURIED = "D"


@cache
def choices(profile: Profile) -> dict[str, tuple[str, ...]]:
    """Return what may be chosen of a run: flat twin, and how it lies in insulation, where the profile has its table.

    Source: BS 7671 Table 4D5.
    """
    if _flat(FLAT_TWIN, "PVC 70") not in profile.currents:
        return CHOICES
    return {**CHOICES, "cable": (*CABLES, FLAT_TWIN), "method": (*METHODS, *IN_INSULATION)}


def check(run: Run, profile: Profile) -> None:
    """Raise InputError at the key that the profile's tables do not hold.

    Source: the tables of IEC 60364-5-52 Annex B, BS 7671 Appendix 4.
    """
    require_choices(choices(profile), {key: getattr(run, key) for key in CHOICES})
    if run.cable == FLAT_TWIN and run.phases == THREE_PHASE:
        raise InputError("cable", Message("flat twin has two cores: a single phase"))
    rings.check(run, profile)
    if table_of(run, profile) is None:
        message = Message(
            "{method}: no current table for {insulation} {cable} by that method is included",
            method=run.method,
            insulation=run.insulation,
            cable=run.cable,
        )
        raise InputError("method", message, str(profile.cite("unmarked")))
    ambient_factor(run, profile)
    grouping_factor(run, profile)
    soil_factor(run, profile)


def kind(run: Run) -> str:
    """Return cable and insulation as the profiles name their tables."""
    return _flat(run.cable, run.insulation)


@cache
def _flat(cable: str, insulation: str) -> str:
    return f"{cable.replace(' ', '_')}_{INSULATIONS[insulation]}"


def _column(run: Run) -> str:
    return f"{run.method}_{3 if run.phases == THREE_PHASE else 2}"


def table_of(run: Run, profile: Profile) -> str | None:
    """Return the key of the current table that holds the run's cable and method, None where there is none.

    Source: IEC 60364-5-52 Annex B, BS 7671 Appendix 4.
    """
    return _table_of(profile, kind(run), _column(run))


@cache
def _table_of(profile: Profile, kind: str, column: str) -> str | None:
    for key in profile.currents.get(kind, []):
        if any(found.name == column for found in load_table(PACKAGE, key).columns):
            return key
    return None


@cache
def currents(key: str, column: str) -> dict[str, float]:
    """Return the tabulated current of every size [A], smallest first."""
    rows = load_table(PACKAGE, key).rows
    return {text(row, "size"): number(row, column) for row in rows if row[column] is not None}


def sizes(run: Run, profile: Profile) -> dict[str, float]:
    """Return the sizes of the run's table with their tabulated current [A].

    Source: IEC 60364-5-52 Annex B, BS 7671 Appendix 4.
    """
    return currents(table_of(run, profile) or "", _column(run))


def sizes_by(profile: Profile, kind: str, method: str, phases: int) -> tuple[str, ...]:
    """Return the sizes of the table of a kind of cable by a method [mm²]. Source: IEC 60364-5-52 Annex B."""
    column = f"{method}_{3 if phases == THREE_PHASE else 2}"
    return tuple(currents(_table_of(profile, kind, column) or "", column))


def usual_c(run: Run, profile: Profile) -> float:
    """Return the air or the soil that is taken where none is entered [°C]. Source: IEC 60364-5-52 B.52.2."""
    return profile.figure("usual_soil_c" if run.method == BURIED else "usual_air_c")


def ambient_factor(run: Run, profile: Profile) -> float:
    """Return Ca [factor]. Raises InputError above the tables.

    Source: IEC 60364-5-52 Tables B.52.14 (air), B.52.15 (ground); BS 7671 Tables 4B1, 4B2.
    """
    buried = run.method == BURIED
    ambient = usual_c(run, profile) if run.ambient_c is None else run.ambient_c
    key = "ambient_ground" if buried else "ambient_air"
    factor = _ambient(profile, key, INSULATIONS[run.insulation], ambient)
    if factor is None:
        message = Message(
            "{ambient} °C is above {table}", ambient=f"{ambient:g}", table=profile.table(key).numbered(profile.name)
        )
        raise InputError("ambient_c", message, str(profile.cite_table(key)))
    return factor


@cache
def _ambient(profile: Profile, key: str, column: str, ambient: float) -> float | None:
    rows = profile.table(key).rows
    return next((number(r, column) for r in rows if number(r, "ambient_c") >= ambient and r[column] is not None), None)


def arrangement_of(run: Run) -> str:
    """Return how circuits lie together: as entered, else touching in the ground and bunched elsewhere."""
    return run.arrangement or ("buried touching" if run.method == BURIED else "bunched")


def grouping_factor(run: Run, profile: Profile, sets: int = 1) -> float:
    """Return Cg of the cables that lie together [factor]; those of one circuit in parallel count each.

    Source: IEC 60364-5-52 Tables B.52.17 to B.52.19; BS 7671 Tables 4C1 to 4C3, 523.5, 523.7.
    Raises: InputError for an arrangement that the method has not, and beyond the table.
    """
    arrangement, cables = arrangement_of(run), (run.bundled or 1) + sets - 1
    if arrangement.startswith("buried") != (run.method == BURIED):
        message = Message("{arrangement} contradicts method {method}", arrangement=arrangement, method=run.method)
        raise InputError("arrangement", message, str(profile.cite_table("grouping")))
    factor = _grouping(profile, arrangement, cables)
    if factor is None:
        message = Message(
            "{cables} circuits or cables {arrangement} are more than the table has",
            cables=cables,
            arrangement=arrangement,
        )
        raise InputError("bundled", message, str(profile.cite_table("grouping")))
    return factor


@cache
def _grouping(profile: Profile, arrangement: str, circuits: int) -> float | None:
    rows = [row for row in profile.table("grouping").rows if row["arrangement"] == arrangement]
    return next((number(row, "factor") for row in rows if number(row, "circuits") >= circuits), None)


def devices_of(run: Run | None, profile: Profile) -> tuple[float, ...]:
    """Return the ratings that a run's device may have [A]: rewireable fuses where that is what protects it.

    Source: IEC 60898-1, IEC 60269-1, BS 3036.
    """
    if run is not None and run.ring:
        return rings.devices_of(run, profile)
    return rewireable() if run is not None and run.surroundings.rewireable else devices(profile)


@cache
def rewireable() -> tuple[float, ...]:
    """Return the ratings of semi-enclosed fuses [A]. Source: BS 3036."""
    return tuple(number(row, "amps") for row in load_table(PACKAGE, "rewireable_fuses").rows)


@cache
def breakers(profile: Profile) -> tuple[float, ...]:
    """Return the ratings of modular breakers that the profile's trade has [A]. Source: IEC 60898-1."""
    return tuple(number(row, "amps") for row in profile.table("breakers").rows)


@cache
def devices(profile: Profile) -> tuple[float, ...]:
    """Return modular breakers, and gG fuses above them [A]. Source: IEC 60898-1, IEC 60269-1."""
    modular = breakers(profile)
    fuses = [number(row, "amps") for row in load_table(PACKAGE, "fuses").rows]
    return (*modular, *(rating for rating in fuses if rating > modular[-1]))


def device_need(run: Run, profile: Profile, sheet: Sheet) -> float:
    """Return the rating that the device may not be under [A]: Ib over what a breaker keeps where it stands.

    Source: IEC 60364-4-43 clause 433.1.
    """
    around = run.surroundings
    if around.breaker_keeps == 1:
        because = Message("no factor entered for ambient, neighbours or enclosure of the breaker: 1 by default")
        return sheet.read(run.amps, Message("Design current Ib"), "A", profile.cite("coordination"), because)
    default = [
        name
        for name, given in (
            (Message("ambient"), around.breaker_ambient),
            (Message("neighbours"), around.breaker_neighbours),
            (Message("enclosure"), around.breaker_enclosure),
        )
        if given is None
    ]
    marked = Message("factors as entered; 1 by default for: {default}", default=default)
    return sheet.apply(
        NEED,
        Message("Ib, over what the breaker keeps"),
        "A",
        profile.cite("coordination"),
        marked if default else Message("factors as entered"),
        ib=run.amps,
        ambient=around.breaker_ambient or 1.0,
        neighbours=around.breaker_neighbours or 1.0,
        enclosure=around.breaker_enclosure or 1.0,
    )


def insulation_factor(run: Run, profile: Profile) -> float:
    """Return Ci for a length wholly in thermal insulation [factor]. Source: BS 7671 Table 52.2."""
    length = run.surroundings.insulated_mm
    if not length:
        return 1.0
    rows = profile.table("thermal_insulation").rows
    return next(
        (number(row, "factor") for row in rows if number(row, "length_mm") >= length),
        profile.figure("long_in_insulation"),
    )


def soil_factor(run: Run, profile: Profile) -> float:
    """Return the factor of the soil's thermal resistivity, 1 where none is entered: the tables' 2.5 K·m/W [factor].

    Armoured cables lie directly in the ground, others in ducts. Source: IEC 60364-5-52 Table B.52.16.
    """
    soil = run.surroundings.soil_kmw
    if soil is None or run.method != BURIED:
        return 1.0
    column = "direct" if run.cable == "armoured" else "duct"
    rows = profile.table("soil").rows
    found = next((number(row, column) for row in rows if number(row, "kmw") >= soil), None)
    if found is None:
        raise InputError("soil_kmw", Message("{soil} K·m/W is above the table", soil=f"{soil:g}"))
    return found


def _fuse_factor(run: Run, profile: Profile) -> float:
    """Return Cf: a semi-enclosed fuse. Source: BS 7671 433.1.202."""
    return profile.figure("semi_enclosed_fuse") if run.surroundings.rewireable else 1.0


def buried_factor(run: Run, profile: Profile) -> float:
    """Return Cc of a buried cable, 1 elsewhere [factor]. Source: BS 7671 433.1.203; not in IEC 60364 or SANS."""
    return profile.figure("buried_factor") if run.method == BURIED else 1.0


def third_harmonic(run: Run, profile: Profile) -> tuple[float, float]:
    """Return the factor of third harmonic in the lines, and the current that the neutral asks of the cable [A].

    That current counts where the size is chosen by the neutral; 0 elsewhere.
    Source: IEC 60364-5-52 Annex E, Table E.52.1; BS 7671 523.6.3.
    """
    share = run.neutral.third_harmonic if run.neutral else 0.0
    if not share:
        return 1.0, 0.0
    rows = profile.table("third_harmonic").rows
    row = next(row for row in rows if row["to_percent"] is None or share * 100 <= number(row, "to_percent"))
    times = min(profile.figure("neutral_of_third_harmonic") * share, profile.figure("neutral_most_of_line"))
    return number(row, "factor"), run.amps * times if row["by_neutral"] else 0.0


def _factor(run: Run, profile: Profile, sets: int) -> float:
    plain = ambient_factor(run, profile) * grouping_factor(run, profile, sets) * buried_factor(run, profile)
    if run.neutral is not None:
        plain *= third_harmonic(run, profile)[0]
    if run.surroundings is PLAIN:
        return plain
    return plain * insulation_factor(run, profile) * _fuse_factor(run, profile) * soil_factor(run, profile)


def carries(run: Run, size: str, sets: int, profile: Profile) -> float:
    """Return Iz of a size as it is installed, of all sets [A]. Source: IEC 60364-5-52 clause 523."""
    return sets * sizes(run, profile)[size] * _factor(run, profile, sets)


def complying(run: Run, device_a: float, sets: int, profile: Profile) -> Callable[[str], bool]:
    """Return the test whether a size passes Ib ≤ In ≤ Iz. Source: IEC 60364-4-43 clause 433.1."""
    enough = device_a >= run.amps / run.surroundings.breaker_keeps - DUST
    tabulated = sizes(run, profile)
    try:
        factor = _factor(run, profile, sets)
    except InputError:
        return lambda _size: False  # so many cables lie together that the table has no factor for them
    least = max(rings.leg_a(run, device_a, profile), third_harmonic(run, profile)[1])
    return lambda size: enough and least <= sets * tabulated[size] * factor + DUST


def objections(run: Run, choice: Choice, profile: Profile) -> tuple[Objection, ...]:
    """Return why Ib ≤ In ≤ Iz does not hold. Source: IEC 60364-4-43 clause 433.1."""
    found = []
    need = run.amps / run.surroundings.breaker_keeps
    rule = profile.cite("coordination")
    if choice.device_a < need - DUST:
        message = Message("In {device} is under {need}", device=Figure(choice.device_a, "A"), need=Figure(need, "A", 1))
        found.append(Objection("device_a", message, rule))
    mine = carries(run, choice.size, choice.sets, profile)
    if run.ring:
        found.extend(rings.objections(choice, mine, profile))
    elif choice.device_a > mine + DUST:
        message = Message(
            "{size} mm² carries Iz {carries} as it is installed, {working}, under In {device}",
            size=choice.size,
            carries=Figure(mine, "A", 1),
            device=Figure(choice.device_a, "A"),
            working=_working(run, choice, profile),
        )
        found.append(Objection("size", message, rule))
    by_neutral = third_harmonic(run, profile)[1]
    if by_neutral > mine + DUST:
        message = Message(
            "{size} mm² carries Iz {carries}, under the {neutral} that third harmonics leave on the neutral",
            size=choice.size,
            carries=Figure(mine, "A", 1),
            neutral=Figure(by_neutral, "A", 1),
        )
        found.append(Objection("size", message, profile.cite("third_harmonic")))
    return tuple(found)


def _working(run: Run, choice: Choice, profile: Profile) -> str:
    factor = _factor(run, profile, choice.sets)
    parts = [sizes(run, profile)[choice.size], factor]
    return " × ".join(f"{part:g}" for part in ([choice.sets, *parts] if choice.sets > 1 else parts))


def capacity(run: Run, choice: Choice, profile: Profile, sheet: Sheet) -> Capacity:
    """Return the factor, Iz and the greatest In, written on the sheet. Source: IEC 60364-5-52 clause 523, Annex B."""
    key = table_of(run, profile) or ""
    factor = sheet.apply(
        FACTOR,
        Message("Ca × Cg × Ci × Cf × Cs × Cc × Ch"),
        "",
        profile.cite("grouping"),
        Message(
            "ambient, grouping, thermal insulation, semi-enclosed fuse, soil, buried, third harmonic; "
            "1 where nothing is entered"
        ),
        ca=ambient_factor(run, profile),
        cg=grouping_factor(run, profile, choice.sets),
        ci=insulation_factor(run, profile),
        cf=_fuse_factor(run, profile),
        cs=soil_factor(run, profile),
        cc=buried_factor(run, profile),
        ch=third_harmonic(run, profile)[0],
    )
    mine = sheet.apply(
        CARRIES,
        Message("Iz of {size} mm²", size=choice.size),
        "A",
        profile.cite_table(key),
        Message("tabulated current It times the factor"),
        sets=choice.sets,
        it=sizes(run, profile)[choice.size],
        factor=factor,
    )
    fits = (rating for rating in devices_of(run, profile) if rings.leg_a(run, rating, profile) <= mine + DUST)
    most = max(fits, default=0.0)
    because = rings.why(profile) if run.ring else Message("In may not exceed Iz")
    rule = profile.cite("ring" if run.ring else "coordination")
    sheet.read(most, Message("Greatest device"), "A", rule, because)
    return Capacity(factor, mine, most, most)


def own_core(size: str) -> str:
    """Return the protective core of a flat twin cable [mm²]. Source: BS 6004, as BS 7671 Table 4D5 has it."""
    return text(load_table(PACKAGE, "flat_twin_pvc70").row("size", "", size=size), "protective")


@cache
def resistances(material: str) -> dict[str, float]:
    """Return what conductors of a metal have at 20 °C, by size [mΩ/m]. Source: IEC 60228 Table 2."""
    metal, rows = {"Cu": "copper", "Al": "aluminium"}[material], load_table(PACKAGE, "resistance").rows
    return {text(row, "size"): number(row, metal) for row in rows if row[metal] is not None}


def hottest_c(run: Run) -> int:
    """Return what its insulation stands [°C], as its name says."""
    return int(run.insulation.rsplit(" ", 1)[-1])


def heat_of(run: Run, profile: Profile) -> float:
    """Return how much more resistance a conductor has at the heat of its insulation than at 20 °C [factor].

    Source: IEC 60228 annex (temperature coefficients), rounded as the drop tables have it.
    """
    return profile.figure(f"heat_{hottest_c(run)}")


def remarks(run: Run, choice: Choice, profile: Profile) -> list[Finding]:
    """Return a conductor that its load heats over what terminals stand, a harmonic that nothing brings back.

    Its heat rises with the square of its current, from the ambient to what its insulation stands at its full current.
    Source: BS 7671 512.1.5, IEC 60364-5-52 523.1; Annex E.
    """
    found, most = [], profile.figure("terminals_c")
    full = sizes(run, profile)[choice.size] * choice.sets
    base = usual_c(run, profile) if run.ambient_c is None else run.ambient_c
    share = rings.leg_a(run, run.amps, profile) / (full * _factor(run, profile, choice.sets)) if full else 0.0
    heat = base + (hottest_c(run) - base) * share**2
    if hottest_c(run) > most and heat > most + _NEARLY_C:
        message = Message(
            "Its load heats the conductor to {heat}: terminals stand {most} where they are not marked.",
            heat=Figure(heat, "°C"),
            most=Figure(most, "°C"),
        )
        mend = Message("A larger size, or equipment that is marked for it.")
        found.append(Finding(Severity.WARN, "device.terminals_hot", message, profile.cite("unmarked"), "size", mend))
    if profile.stands_in:
        message = Message(
            "Sized by IEC 60364-5-52, whose tables stand in for those of {book}: air of {air}, soil of {soil}.",
            book=profile.short,
            air=Figure(profile.figure("usual_air_c"), "°C"),
            soil=Figure(profile.figure("usual_soil_c"), "°C"),
        )
        mend = Message("Hold the size against your own tables.")
        found.append(Finding(Severity.NOTE, "run.tables_stand_in", message, profile.cite("unmarked"), "size", mend))
    return found


_NEARLY_C = 0.5  # what a table's rounding may make of it
