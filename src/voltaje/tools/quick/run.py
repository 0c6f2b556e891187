"""The run tool: one run on its own, sized by its book."""

from __future__ import annotations

from typing import Any, ClassVar

from voltaje.books.answers import DropLimit, Run, sets_of
from voltaje.design.chain import Pins, RunDesign, size_run
from voltaje.design.ladder import Option, options
from voltaje.errors import InputError, NoLawfulAnswer
from voltaje.findings import Severity
from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import AMPS, AMPS_OR_NONE, FLAG, KEEPS, PART, VOLTS, Json, Shape, one_number, one_word
from voltaje.message import Figure, Message
from voltaje.path.surroundings import EXEMPT, Surroundings
from voltaje.quantity import length_in, require_between
from voltaje.sheet import Sheet
from voltaje.tools import plates
from voltaje.tools.answer import option_json
from voltaje.tools.conductors import CIRCUIT, OnARun, conductor_of, earth_of, exactly, run_node, said_length, standing
from voltaje.tools.tool import Answered, Group, Head, Tool

_LOAD, _DEVICE = Message("Load"), Message("Device")


def _pinned_size(raw: Any, _unit: str) -> str:
    if isinstance(raw, bool) or not isinstance(raw, str | int):
        raise InputError("", Message("must be a text"))
    return str(raw).strip()


_SIZE = Shape(_pinned_size, {"type": ["string", "integer"]})


class RunAsked(OnARun):
    """What a run is asked by."""

    plate: ClassVar[plates.Plate | None] = plates.RUN

    amps: float = declared(AMPS, "load current per line, in all", "Current", _LOAD, hint="A", required=True)
    volts: float = declared(
        VOLTS,
        "nominal: line to line on three phase",
        "Volts",
        _LOAD,
        hint="V",
        by_family={"nec": "", "iec": ""},
        required=True,
    )
    phases: int = declared(one_number(1, 3), "1 or 3", "Phases", _LOAD, shown=1)
    continuous_amps: float = declared(
        AMPS_OR_NONE, "the part of it that is continuous", "Continuous part", _LOAD, "A", 0, default=0.0
    )
    power_factor: float = declared(PART, "lagging", "Power factor", _LOAD, shown=1, more=True, default=1.0)
    use: str = declared(
        one_word("lighting", "other"),
        "for the IEC profiles' drop limit",
        "Use",
        _LOAD,
        shown="other",
        more=True,
        family="iec",
    )
    terminal_c: int | None = declared(
        one_number(60, 75, 90),
        "NEC; not given: 60 °C for 100 A and less, 75 °C above",
        "Terminals",
        CIRCUIT,
        "°C",
        family="nec",
        both="conductor",
    )
    device_a: float | None = declared(AMPS, "the device, pinned", "Breaker or fuse by hand", CIRCUIT, "A", more=True)
    size: str | None = declared(_SIZE, "the conductor, pinned", "Size by hand", CIRCUIT, more=True)
    rewireable_fuse: bool = declared(
        FLAG, "IEC: semi-enclosed fuse, Cf", "Rewireable fuse", _DEVICE, shown=False, more=True, family="iec"
    )
    breaker_ambient: float | None = declared(
        KEEPS,
        "IEC: what a modular breaker keeps at its ambient; 1 by default",
        "Keeps in its ambient",
        _DEVICE,
        more=True,
        family="iec",
    )
    breaker_neighbours: float | None = declared(
        KEEPS,
        "IEC: the same, beside its neighbours; 1 by default",
        "Keeps beside neighbours",
        _DEVICE,
        more=True,
        family="iec",
    )
    breaker_enclosure: float | None = declared(
        KEEPS,
        "IEC: the same, in its enclosure; 1 by default",
        "Keeps in its enclosure",
        _DEVICE,
        more=True,
        family="iec",
    )
    exempt: str = declared(
        one_word(*EXEMPT),
        "NEC: why the limits of small conductors do not hold, 240.4(E) and (G)",
        "240.4(D) limits",
        _DEVICE,
        more=True,
        family="nec",
        default="",
    )
    round_up: bool = declared(
        FLAG,
        "NEC: false for branch circuits of several cord-and-plug outlets",
        "Next rating up",
        _DEVICE,
        shown=True,
        more=True,
        family="nec",
    )

    def as_run(self) -> Run:
        """Return the run. Raises InputError where the continuous part is more than the whole."""
        try:
            require_between(self.continuous_amps, 0, self.amps, "A")
        except InputError as error:
            raise error.at("continuous_amps") from None
        run = self.run(
            self.amps,
            self.volts,
            self.phases,
            continuous_a=self.continuous_amps,
            power_factor=self.power_factor,
            use=self.use,
            round_up=self.round_up,
        )
        return run._replace(surroundings=self._surroundings())

    def _surroundings(self) -> Surroundings:
        return Surroundings(
            soil_kmw=self.soil_kmw,
            insulated_mm=self.insulated_mm or 0.0,
            rewireable=self.rewireable_fuse,
            breaker_ambient=self.breaker_ambient,
            breaker_neighbours=self.breaker_neighbours,
            breaker_enclosure=self.breaker_enclosure,
            exempt=self.exempt,
            over_roof_m=self.over_roof,
            full_rated=self.full_rated,
            whole_amperes=self.whole_amperes,
        )

    def as_pins(self, run: Run) -> Pins:
        """Return what is set by hand. Raises InputError for a rating that is not made."""
        if self.device_a is not None and self.device_a not in self.book.made_devices(run):
            message = Message("{value} A is not a standard rating", value=f"{self.device_a:g}")
            raise InputError("device_a", message, str(self.book.device_rule))
        return Pins(device_a=self.device_a, size=self.size, sets=self.sets)


def solve(asked: RunAsked) -> Answered:
    """Return a run's answer. Raises InputError naming the key that stands in the way of a lawful one."""
    book, run = asked.book, asked.as_run()
    pins, sheet = asked.as_pins(run), Sheet()
    design = size_run(run, pins, book, sheet)
    for finding in design.findings:
        if finding.field in ("size", "device_a", "sets") and finding.severity is Severity.STOP:
            raise NoLawfulAnswer(finding.field, finding.message, str(finding.rule))
    ladder = options(run, pins, book, book.terms.materials)
    result = result_of(design, book.drop_limit(run, False), ladder, asked.length_unit)
    facts = {"asked": asked, "length": said_length(asked.length)}.copy
    return Answered(book, result, sheet.steps, design.findings, heads_of(design, asked), facts, (_node(asked),))


def heads_of(design: RunDesign, asked: OnARun) -> tuple[Head, ...]:
    """Return what stands large of a run: device, lines, protective conductor, drop."""
    choice, terms = design.choice, asked.book.terms
    lines = 3 if design.run.phases == 3 else 2  # noqa: PLR2004  (conductors that carry)
    heads = [
        Head(
            Message("Breaker"),
            Figure(choice.device_a, "A"),
            note=Message("{need} needed", need=Figure(design.need_a, "A", 1)),
        ),
        Head(
            Message("Lines"),
            f"{lines} × {sets_of(choice.size, choice.sets)}",
            f"{terms.gauge(choice.size)} {design.run.material}",
            Message("carries {amps}", amps=Figure(design.capacity.ampacity_a, "A", 1)),
        ),
        Head(
            Message("Ground") if terms.family == "nec" else Message("Earth"),
            design.earth.size,
            f"{terms.gauge(design.earth.size)} {design.earth.material}",
            main=False,
        ),
    ]
    if design.drop:
        limit = Figure(design.drop.limit.percent, "%", 1)
        heads.append(
            Head(Message("Drop"), Figure(design.drop.percent, "%", 2), "", Message("of {limit}", limit=limit), False)
        )
    return tuple(heads)


def _node(asked: RunAsked) -> Json:
    share = asked.continuous_amps / asked.amps
    # A circuit of several cord-and-plug outlets is what may not be rounded up: two stand for them.
    count, kind = (1, "general") if asked.round_up else (2, "sockets")
    kind = "lighting" if asked.use == "lighting" else kind
    load = {
        "kind": kind,
        "rating": f"{exactly(asked.amps / count)} A",
        "count": count,
        **standing(asked.volts, asked.phases, asked.book),
    }
    return {
        "kind": "load",
        "name": "Load",
        "load": {**load, "power_factor": asked.power_factor, "continuous": share},
        "run": run_node(asked, device_a=asked.device_a, size=asked.size),
    }


def result_of(design: RunDesign, limit: DropLimit, ladder: list[Option], unit: str) -> Json:
    """Return the result's figures, not rounded; lengths in the unit that was given."""
    choice, drop = design.choice, design.drop
    return {
        "required_a": design.need_a,
        "device_a": choice.device_a,
        "device_max_a": design.capacity.device_max_a,
        "device_at_or_below_a": design.capacity.device_below_a,
        "conductor": conductor_of(design),
        "conductor_other_terminals": _other(design),
        "conduit": design.conduit,
        "factor": design.capacity.factor,
        "ampacity_a": design.capacity.ampacity_a,
        "equipment_ground": earth_of(design.earth),
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


TOOL = Tool(
    name="run",
    title=Message("Breaker and wire"),
    question=Message("What breaker and wire for so many amps, so far away?"),
    group=Group.CIRCUIT,
    place=0,
    words=(
        "fuse",
        "mcb",
        "circuit breaker",
        "ampacity",
        "conductor",
        "cable",
        "size",
        "voltage drop",
        "feeder",
        "branch",
        "310.16",
        "240.4",
        "433.1",
    ),
    asks=RunAsked,
    solve=solve,
    example={
        "nec": {"amps": "32 A", "volts": "240 V", "length": "150 ft", "continuous_amps": "32 A"},
        "iec": {"amps": "32 A", "volts": "230 V", "length": "30 m"},
    },
    caution=Message("Isolate, lock off, prove dead. Local code and the licensed person decide."),
)
