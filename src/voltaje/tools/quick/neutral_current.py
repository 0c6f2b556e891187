"""The neutral-current tool: what the neutral carries, and what two circuits on one neutral ask for."""

from __future__ import annotations

from voltaje.books.answers import Choice, Run
from voltaje.errors import InputError
from voltaje.findings import Finding, Severity
from voltaje.formula import Formula
from voltaje.inputs.declare import declared, many
from voltaje.inputs.shapes import AMPS, AMPS_OR_NONE, LEGS, PART, SIZE, SYSTEM, Json, number, one_word, several
from voltaje.message import Figure, Message
from voltaje.physics.neutral import leg_phasors, most_with_any_off, returned
from voltaje.rounding import exceeds
from voltaje.sheet import Sheet, off
from voltaje.systems import SYSTEMS, System
from voltaje.tools.asking import Asked
from voltaje.tools.conductors import MATERIAL, MATERIALS, OfABook
from voltaje.tools.tool import Answered, Group, Head, Tool

_SUPPLY, _LEGS, _CIRCUITS = Message("Supply"), Message("Legs"), Message("Circuits on this neutral")
_TO_NEUTRAL = tuple(name for name, system in SYSTEMS.items() if system.line_to_neutral_v)
_HARMONIC = number(-1e-9, 1, read=lambda raw: PART.read(raw, "") if raw not in (0, "0") else 0.0)

_IN_STEP = Formula("sum(along)")
_ACROSS = Formula("sum(across)")
_LENGTH = Formula("sqrt(along * along + across * across)")
_THIRDS = Formula("share * sum(amps)")
_BOTH = Formula("sqrt(own * own + third * third)")


class SharingItem(Asked):
    """A circuit that uses the neutral."""

    amps: float = declared(AMPS_OR_NONE, "what it draws", "Load", hint="A", required=True)
    leg: str = declared(one_word(*LEGS), "that it stands on", "Leg", required=True)
    device_a: float | None = declared(AMPS, "rating of its breaker or fuse", "Breaker", hint="A")
    power_factor: float = declared(PART, "lagging", "Power factor", shown=1, more=True, default=1.0)


class NeutralAsked(OfABook):
    """What a neutral's current is asked by: the legs' currents, or the circuits that share it."""

    system: System = declared(SYSTEM, "that the legs belong to", "Supply", _SUPPLY, required=True)
    legs: list[float] | None = declared(
        several(AMPS_OR_NONE, len(LEGS)),
        "current of each leg to neutral, in the supply's order",
        "Legs",
        _LEGS,
        "A; A; A",
    )
    power_factors: list[float] | None = declared(
        several(PART, len(LEGS)), "of each leg, lagging; 1 where not given", "Power factors", _LEGS, more=True
    )
    third_harmonic: float = declared(
        _HARMONIC, "share of each leg's current: 0.33 or 33 %", "Third harmonic", _LEGS, shown=0, default=0.0
    )
    circuits: list[SharingItem] | None = many(SharingItem, _CIRCUITS, Message("circuit"))
    neutral_size: str | None = declared(
        SIZE, "of the neutral that the circuits share", "Neutral's size", _SUPPLY, more=True
    )
    material: str = declared(
        MATERIAL, "of the neutral", "Metal", _SUPPLY, shown="Cu", choices="material", titles=MATERIALS, more=True
    )


def solve(asked: NeutralAsked) -> Answered:
    """Return what the neutral carries. Raises InputError at the leg, the factor or the circuit that does not fit."""
    book, system, sheet = asked.book, asked.system, Sheet()
    if system.name not in _TO_NEUTRAL:
        raise InputError("system", Message("{name} has no neutral", name=system.name))
    order = [leg for leg, _angle in system.legs]
    amps, factors = _by_leg(asked, order)
    found = returned(amps, factors, system, asked.third_harmonic)
    phasors = leg_phasors(amps, factors, system)
    along, across = [each.real for each in phasors.values()], [each.imag for each in phasors.values()]
    x = sheet.apply(_IN_STEP, Message("Legs along the first"), "A", None, None, along=along)
    y = sheet.apply(_ACROSS, Message("Legs across it"), "A", None, None, across=across)
    own = sheet.apply(_LENGTH, Message("What they do not cancel"), "A", None, None, along=x, across=y)
    total = own
    if asked.third_harmonic:
        because = Message("in step on every leg of a wye: they add") if _in_step(system) else None
        if because:
            sheet.apply(
                _THIRDS,
                Message("Third harmonics"),
                "A",
                None,
                because,
                share=asked.third_harmonic,
                amps=list(amps.values()),
            )
        total = sheet.apply(
            _BOTH,
            Message("Neutral"),
            "A",
            None,
            Message("unlike frequencies add as squares"),
            own=own,
            third=abs(found.third),
        )
    result: Json = {
        "neutral_a": total,
        "angle_deg": found.angle_deg,
        "third_a": abs(found.third),
        "legs": {leg: {"amps": abs(each), "volts_deg": dict(system.legs)[leg]} for leg, each in phasors.items()},
        "neutral_worst_a": None,
        "neutral_any_a": None,
    }
    findings: list[Finding] = []
    if asked.circuits:
        _sharing(asked, result, findings)
    said = _sentence(amps, total, asked, system)
    findings.insert(0, Finding(Severity.NOTE, "neutral.carries", said, None, "legs"))
    drawn = {"asked": asked, "phasors": phasors, "returned": found, "said": said, "order": order}
    return Answered(book, result, sheet.steps, findings, _heads(result), drawn.copy)


def _in_step(system: System) -> bool:
    """Return whether the legs stand a third of a turn apart, so that third harmonics are in step."""
    return (len(system.legs) == len(LEGS) and not system.high_leg) or system.wye_legs


def _by_leg(asked: NeutralAsked, order: list[str]) -> tuple[dict[str, float], dict[str, float]]:
    """Return current and power factor by leg. Raises InputError."""
    if asked.circuits:
        return _of_circuits(asked.circuits, order, asked.system)
    if not asked.legs:
        raise InputError("legs", Message("must be given"))
    if len(asked.legs) > len(order):
        raise InputError(
            f"legs[{len(order)}]", Message("{name} has {count} legs", name=asked.system.name, count=len(order))
        )
    factors = asked.power_factors or []
    if len(factors) > len(asked.legs):
        raise InputError(f"power_factors[{len(asked.legs)}]", Message("there is no such leg"))
    return dict(zip(order, asked.legs, strict=False)), dict(zip(order, factors, strict=False))


def _of_circuits(
    circuits: list[SharingItem], order: list[str], system: System
) -> tuple[dict[str, float], dict[str, float]]:
    amps: dict[str, float] = {}
    watts: dict[str, float] = {}
    for at, circuit in enumerate(circuits):
        if circuit.leg not in order or circuit.leg == system.high_leg:
            message = Message("{name} has no {leg} to neutral", name=system.name, leg=circuit.leg)
            raise InputError(f"circuits[{at}].leg", message)
        amps[circuit.leg] = amps.get(circuit.leg, 0.0) + circuit.amps
        watts[circuit.leg] = watts.get(circuit.leg, 0.0) + circuit.amps * circuit.power_factor
    return amps, {leg: min(watts[leg] / each, 1.0) if each else 1.0 for leg, each in amps.items()}


def _sharing(asked: NeutralAsked, result: Json, findings: list[Finding]) -> None:
    """Judge circuits that share a neutral, and fill in what their devices let onto it."""
    book, system, circuits = asked.book, asked.system, asked.circuits or []
    rated = [(circuit.leg, circuit.device_a or circuit.amps) for circuit in circuits]
    by_leg: dict[str, float] = {}
    for leg, each in rated:
        by_leg[leg] = by_leg.get(leg, 0.0) + each
    worst, most = returned(by_leg, {}, system).amps, most_with_any_off(rated, system)
    result["neutral_worst_a"], result["neutral_any_a"] = worst, most
    rule = book.shared_neutral_rule
    legs = [circuit.leg for circuit in circuits]
    twice = sorted({leg for leg in legs if legs.count(leg) > 1})
    if len(circuits) < _TWO:
        return
    if not book.shares_neutrals:
        message = Message("Every circuit has a neutral of its own here: it is not shared.")
        findings.append(Finding(Severity.STOP, "neutral.shared", message, rule, "circuits"))
    if twice:
        message = Message(
            "Two circuits on {leg} share this neutral: their currents add on it, {worst} at the ratings of their "
            "breakers, and no breaker opens. Move one to another leg, or give it a neutral of its own.",
            leg=", ".join(twice),
            worst=Figure(most, "A", 1),
        )
        findings.append(
            Finding(Severity.STOP, "neutral.shared_on_one_leg", message, rule, f"circuits[{legs.index(twice[0])}].leg")
        )
    if book.shares_neutrals:
        message = Message(
            "Both open together: one 2- or 3-pole breaker, or handles tied. A handle tie opens both by hand; it does "
            "not make both trip. A load between the lines asks for a common trip."
        )
        findings.append(Finding(Severity.NOTE, "neutral.opened_together", message, rule, "circuits"))
    sizes = {circuit.device_a for circuit in circuits if circuit.device_a}
    if len(sizes) > 1:
        message = Message(
            "Unlike devices: every conductor, the neutral too, suits the larger, {most}.", most=Figure(max(sizes), "A")
        )
        findings.append(Finding(Severity.WARN, "neutral.unlike_devices", message, rule, "circuits"))
    if asked.neutral_size:
        _against_its_size(asked, most, result, findings)


_TWO = 2


def _against_its_size(asked: NeutralAsked, most: float, result: Json, findings: list[Finding]) -> None:
    book, terms = asked.book, asked.book.terms
    run = Run(
        amps=most,
        volts=asked.system.line_to_line_v,
        phases=1,
        length_m=None,
        material=asked.material,
        insulation=terms.insulation,
        method=terms.method,
        cable=terms.cable,
    )
    size = asked.neutral_size or ""
    try:
        carries = book.capacity(run, Choice(most, size, 1), off()).ampacity_a
    except InputError as error:
        raise error.at("neutral_size") from None
    result["neutral_carries_a"] = carries
    if exceeds(most, carries):
        message = Message(
            "{size} carries {carries}, and the devices let {most} onto it: it overheats with no breaker open.",
            size=size,
            carries=Figure(carries, "A", 1),
            most=Figure(most, "A", 1),
        )
        findings.append(Finding(Severity.STOP, "neutral.too_small", message, book.shared_neutral_rule, "neutral_size"))


def _sentence(amps: dict[str, float], total: float, asked: NeutralAsked, system: System) -> Message:
    """Say whether the neutral carries, here and else."""
    loaded, carries = [leg for leg, each in amps.items() if each], Figure(total, "A", 1)
    if len(loaded) == 1:
        return Message("It carries all that the one leg does, {amps}: never left out.", amps=carries)
    if total < _QUIET_A and asked.third_harmonic == 0:
        return Message(
            "It carries nothing: the legs are alike and cancel. It could be left out only where nothing stands to "
            "neutral and no leg is ever switched alone (a motor); never where receptacles or lamps hang on it."
        )
    if _in_step(system) and len(loaded) == _TWO:
        return Message(
            "It carries {amps}: two legs of a wye do not cancel, with both alike it carries as much as each. "
            "Never left out here.",
            amps=carries,
        )
    if _in_step(system) and asked.third_harmonic:
        return Message(
            "It carries {amps}: third harmonics of all legs come back on it though the legs are alike. Never left "
            "out, and it counts among the conductors that carry.",
            amps=carries,
        )
    return Message(
        "It carries {amps}, what the legs do not cancel. With one leg switched off it carries all of another. Never "
        "left out where anything stands to neutral.",
        amps=carries,
    )


_QUIET_A = 0.05


def _heads(result: Json) -> tuple[Head, ...]:
    heads = [
        Head(
            Message("Neutral"),
            Figure(result["neutral_a"], "A", 1),
            "",
            Message("at {angle}", angle=Figure(result["angle_deg"], "°", 1)),
        )
    ]
    for leg, each in result["legs"].items():
        heads.append(Head(Message("{leg}", leg=leg), Figure(each["amps"], "A", 1), main=False))
    if result["neutral_any_a"] is not None:
        heads.insert(
            1,
            Head(
                Message("Most on it"),
                Figure(result["neutral_any_a"], "A", 1),
                "",
                Message("at the breakers' ratings, any of them off"),
            ),
        )
    return tuple(heads)


TOOL = Tool(
    name="neutral-current",
    title=Message("Neutral current"),
    question=Message("Does the neutral carry, and how much?"),
    group=Group.CIRCUIT,
    place=6,
    words=(
        "neutral",
        "shared neutral",
        "multiwire",
        "harmonic",
        "third harmonic",
        "unbalanced",
        "210.4",
        "220.61",
        "314.4",
        "handle tie",
        "phasor",
    ),
    asks=NeutralAsked,
    solve=solve,
    example={
        "nec": {"system": "208Y/120", "legs": [24, 18, 11], "third_harmonic": 0},
        "iec": {"system": "230/400", "legs": [20, 14, 9]},
    },
    caution=Message(
        "A neutral that is opened under load is live. Open every line first, prove dead. Local code and "
        "the licensed person decide."
    ),
)
