"""What transformers lose inside, and the volts that are left: passed down the path beside the drop of conductors."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from voltaje.design.drop import Fallen, Legs, nominal_of, voltages_of
from voltaje.design.leaves import Flow
from voltaje.design.solution import NodeSolution
from voltaje.design.transformers.made import Made
from voltaje.path.transformer import TransformerSpec
from voltaje.physics.currents import around
from voltaje.physics.transformer import Plate
from voltaje.systems import THREE_PHASE, System

_HUNDRED = 100.0


def falls_inside(plate: Plate, flows: Sequence[Flow], secondary: System) -> Fallen:
    """Return what each voltage of a secondary loses in the transformer while its loads run [% of its nominal].

    Every winding by its own current; what a light one gains from a loaded one is not counted.
    """
    whole = plate.impedance * plate.secondary_v**2 / (plate.kva * 1000)
    alone = len(secondary.legs) == 1
    each = whole if plate.phases == THREE_PHASE or alone else whole / 2
    return _falls(flows, secondary, lambda flow, voltage: around(flow.lagging, voltage)[0] * each)


def falls_made(made: Made, flows: Sequence[Flow], secondary: System) -> Fallen:
    """Return the same of units that are joined, by the coils that each voltage goes through [% of its nominal]."""
    return _falls(flows, secondary, lambda flow, voltage: made.lost(flow.lagging, voltage))


def _falls(flows: Sequence[Flow], secondary: System, lost: Callable[[Flow, Legs], complex]) -> Fallen:
    """Return what each voltage falls by along itself, the most of any flow [%]; lost: volts of a flow, as a phasor."""
    volts = secondary.phasors()
    found: Fallen = {}
    for voltage in voltages_of(secondary, tuple(leg for leg, _angle in secondary.legs), board=True):
        along = volts[voltage[0]] - (volts[voltage[1]] if len(voltage) > 1 else 0)
        turn = along.conjugate() / abs(along)
        most = max((lost(flow, voltage) * turn).real for flow in flows)
        found[voltage] = max(most, 0.0) / nominal_of(voltage, secondary) * _HUNDRED
    return found


def passed_on(solved: NodeSolution, above: NodeSolution, voltages: Sequence[Legs]) -> None:
    """Give a node what its voltages have lost in transformers above it, and the volts that its supply begins with."""
    unit, spec = above.unit, above.node.transformer
    before = max(above.inside.values(), default=0.0)
    if unit is not None and spec is not None:
        solved.inside = {each: before + unit.falls.get(each, 0.0) for each in voltages}
        solved.supply_share = above.supply_share * (unit.made.share if unit.made else tapped(spec))
        return
    if above.inside:
        solved.inside = {each: above.inside.get(each, before) for each in voltages}
    solved.supply_share = above.supply_share


def tapped(spec: TransformerSpec) -> float:
    """Return what a tap makes of the secondary's volts [factor]: more turns on the primary, less on the secondary."""
    turns = 1 + spec.tap / _HUNDRED
    return turns if spec.taps_on == "secondary" else 1 / turns
