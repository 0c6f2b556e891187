"""A load: its volt-amperes, what its own circuit counts of it, and how the boards above see it."""

from __future__ import annotations

from voltaje.books.answers import AtHome, Connected, Household, NeutralLoad
from voltaje.books.questions import Book, Demands, Motors, Welders
from voltaje.design import checks, own_rules
from voltaje.design.equipment.kitchen import kitchen_va
from voltaje.design.equipment.motor import circuit_of, motor_of
from voltaje.design.leaves import Drawn, Leaf, Rising
from voltaje.design.solution import NodeSolution
from voltaje.errors import NotCovered, Refused
from voltaje.formula import Formula
from voltaje.message import Message
from voltaje.path.kinds import Kind, LoadKind
from voltaje.path.load import LoadSpec
from voltaje.path.model import Node
from voltaje.physics.currents import Currents, Placed, leg_currents
from voltaje.systems import THREE_PHASE, System

VA_OF_AMPS_1 = Formula("amps * volts * count")
VA_OF_AMPS_3 = Formula("sqrt(3) * amps * volts * count")
VA_OF_RESISTANCE = Formula("watts * volts * volts / (rated * rated) * count")
VA_OF_WATTS = Formula("watts / power_factor * count")

_CONNECTED = Message("Connected load")
_RESISTANCE, RESISTANCE_WELDER = "resistance", "resistance_welder"  # as what feeds several tells them apart


class Loads:
    """Works loads by a book."""

    def __init__(self, book: Book):
        self.book, self.demands = book, book.asked(Demands)

    def work(self, node: Node, load: LoadSpec, solved: NodeSolution, home: bool) -> Rising:
        """Fill in a load's demand and currents; return what it passes up.

        home: it hangs on the board of a household
        """
        mine, kind = Rising(), load.counts_as.value
        rules = self.demands.load_rules(kind, load.continuous)
        checks.continuous_by_rule(node, load, rules, solved)
        try:
            va = self._load_va(load, solved)
            # American household equipment is such wherever it hangs; practice at 230 V is that of a household's board.
            own = load.household and load.count == 1 and (home or self.book.terms.family == "nec")
            unit = Household(kind, va, solved.nominal_v, load.with_socket)
            counts = self.demands.branch_va(unit, solved.sheet) if own else va
            if kind == LoadKind.WELDER:
                counts = va * self._welder_factor(load, solved)
            if own and kind == LoadKind.RANGE and (load.parts or load.cooking != LoadKind.RANGE):
                counts = kitchen_va(load, solved.nominal_v, self.book, solved.sheet)
        except Refused as error:
            checks.not_known(node, solved, error.at("load.rating"))
            mine.unknown = [node.name or node.id]
            return mine
        pinned = node.run.pins.demand_va
        checks.pinned_demand(node, counts, solved, self.book)
        solved.connected_va, solved.demand_va = va, pinned or counts
        solved.least_device_a = self.demands.least_device_a(kind, va / load.count) if load.household else 0.0
        lagging, level = _lagging_and_level(Placed(solved.demand_va, load.power_factor, solved.legs), solved.system)
        amps, share = abs(level[solved.legs[0]]), rules.circuit_continuous  # every leg of a load carries the same
        solved.amps = {leg: amps for leg, _angle in solved.system.legs if leg in level}
        solved.neutral_a = amps if len(level) == 1 and solved.system.line_to_neutral_v else 0.0
        mine.drawn = Drawn(needs=dict.fromkeys(solved.amps, (amps, amps * share)))
        mine.drawn.installed_factor, mine.drawn.nonlinear_share = rules.installed_factor, load.nonlinear
        mine.drawn.neutral = self._own_neutral(load, kind, solved)
        checks.volts(node, load, solved)
        checks.harmonics_without_neutral(node, load, solved)
        own_rules.told(node, load, solved, self.book)
        checks.on_one_circuit(node, load, solved, self.book)
        if node.kind is Kind.INVERTER:
            # An inverter feeds back: it is no load of the board, nor may it make the others smaller.
            mine.back = dict(solved.amps)
            return mine
        # What feeds it takes a welder by its duty, anything else at its nameplate: its own rules reduce that there.
        shown = counts if kind == LoadKind.WELDER else va
        if counts != shown and not pinned:
            lagging, level = _lagging_and_level(Placed(va, load.power_factor, solved.legs), solved.system)
        leaf = self._leaf(node, load, solved, lagging, level, shown)
        mine.leaves = [leaf._replace(continuous=rules.feeder_continuous)]
        return mine

    def _leaf(
        self, node: Node, load: LoadSpec, solved: NodeSolution, lagging: Currents, level: Currents, shown: float
    ) -> Leaf:
        """Return a load as the boards above see it, at so many volt-amperes or its pin."""
        pinned, kind = node.run.pins.demand_va, load.counts_as.value
        va = pinned or shown
        if kind == LoadKind.WELDER and load.welder == _RESISTANCE:
            kind = RESISTANCE_WELDER
        connected = Connected(
            node.id,
            kind,
            va,
            load.count,
            f"{node.parent}/{load.group}" if load.group else "",
            1.0 if pinned else load.diversity,
            abs(level[solved.legs[0]]) / load.count,
            load.household,
            settled=bool(pinned) or load.managed_a is not None,
            parts=tuple(part.rating.value for part in load.parts) if load.household else (),
            home=None if pinned else _at_home(node, load, solved),
        )
        share = full = 1.0
        if len(solved.legs) > 1:
            share, full = self.demands.neutral_share(kind, load.household, reducible=not solved.system.wye_legs)
        to_neutral = {leg: abs(amps) * share for leg, amps in level.items()} if share else {}
        whole = to_neutral if full == share else {leg: abs(amps) * full for leg, amps in level.items()}
        entered_va = solved.connected_va
        return Leaf(node, connected, lagging, level, 0.0, None, to_neutral, whole, load.nonlinear, entered_va)

    def _welder_factor(self, load: LoadSpec, solved: NodeSolution) -> float:
        """Return what of its rated current a welder counts [factor]: all of it where the book has no rule."""
        try:
            rules = self.book.asked(Welders)
        except NotCovered:
            return 1.0
        factor = rules.factor(load.welder, load.duty_percent)
        return solved.sheet.read(factor, Message("By its duty"), "", self.book.rule("welder_arc_group"))

    def _own_neutral(self, load: LoadSpec, kind: str, solved: NodeSolution) -> NeutralLoad | None:
        """Return the neutral of a circuit between lines, as household ranges and dryers have one."""
        if not load.household or len(solved.legs) == 1 or not solved.system.line_to_neutral_v:
            return None
        return self.demands.branch_neutral(
            kind, max(solved.amps.values()), reducible=not solved.system.is_wye_pair(solved.legs)
        )

    def _load_va(self, load: LoadSpec, solved: NodeSolution) -> float:
        va = self._plate_va(load, solved)
        if load.managed_a is None or load.counts_as is not LoadKind.CHARGER:
            return va
        # What load management holds it to stands in the place of its plate, where that is more.
        formula = VA_OF_AMPS_3 if load.phases == THREE_PHASE else VA_OF_AMPS_1
        held = formula.value(amps=load.managed_a, volts=solved.nominal_v, count=load.count)
        if held >= va:
            return va
        values = {"amps": load.managed_a, "volts": solved.nominal_v, "count": load.count}
        label, rule = Message("Held to, by load management"), self.book.rule("charger_continuous")
        return solved.sheet.apply(formula, label, "VA", rule, None, **values)

    def _plate_va(self, load: LoadSpec, solved: NodeSolution) -> float:
        rating, sheet, rule = load.rating, solved.sheet, self.book.load_rule
        if load.counts_as is LoadKind.MOTOR and (rating.is_watts or rating.unit == "hp"):
            return self._motor_va(load, solved)
        if self._is_metric_resistance(load):
            # What heats draws less where its plate is of a higher voltage: 9.5 kW at 240 V are 8.7 at 230.
            because = Message("a resistance, at the supply's volts")
            values = {"watts": rating.value, "volts": solved.nominal_v, "rated": load.volts or 0.0, "count": load.count}
            return sheet.apply(VA_OF_RESISTANCE, _CONNECTED, "VA", rule, because, **values)
        if rating.unit == "VA":
            factor = load.power_factor if rating.is_watts else 1.0
            values = {"watts": rating.value, "power_factor": factor, "count": load.count}
            return sheet.apply(VA_OF_WATTS, _CONNECTED, "VA", rule, None, **values)
        formula = VA_OF_AMPS_3 if load.phases == THREE_PHASE else VA_OF_AMPS_1
        return sheet.apply(
            formula, _CONNECTED, "VA", rule, None, amps=rating.value, volts=solved.nominal_v, count=load.count
        )

    def _is_metric_resistance(self, load: LoadSpec) -> bool:
        """Return whether a load's watts are those of another voltage; American circuits go by the plate as it is."""
        heats = load.traits.resistive and load.power_factor == 1 and load.rating.is_watts
        return heats and bool(load.volts) and self.book.terms.family == "iec"

    def _motor_va(self, load: LoadSpec, solved: NodeSolution) -> float:
        """Return what a motor draws by its output: the current that its own circuit goes by."""
        sheet, kw = solved.sheet, load.rating.value / 1000
        motor = motor_of(load, None, solved.nominal_v, load.phases)
        by_output = load.rating.is_watts and (load.nameplate_a is None or self.book.terms.family == "nec")
        if sheet.on and by_output and not load.by_plate:
            self.book.asked(Motors).output_amps(kw, load.phases, solved.nominal_v, "rating", sheet)
        amps = circuit_of(motor, self.book).flc_a
        formula = VA_OF_AMPS_3 if load.phases == THREE_PHASE else VA_OF_AMPS_1
        values = {"amps": amps, "volts": solved.nominal_v, "count": load.count}
        return sheet.apply(formula, _CONNECTED, "VA", self.book.load_rule, None, **values)


def _at_home(node: Node, load: LoadSpec, solved: NodeSolution) -> AtHome:
    kind = "ring sockets" if node.run.ring else load.traits.at_home
    diversity = load.diversity if load.diversity != 1 else None
    return AtHome(kind, load.points or load.count, load.with_socket, diversity, solved.legs)


def _lagging_and_level(placed: Placed, system: System) -> tuple[Currents, Currents]:
    lagging = leg_currents(placed, system)
    return lagging, lagging if placed.power_factor == 1 else leg_currents(placed._replace(power_factor=1.0), system)
