"""A radial network as the simulator and the compiled power-flow library have it, from the same spans and loads."""

import cmath
import math

from dss import dss

from tests.reference.spice import Netlist
from voltaje.physics.draws import Draws
from voltaje.physics.unit import CONDUCTORS

THREE = ("L1", "L2", "L3")


def ends_of(load):
    """The conductors that each part of a load stands between, and what part of its power: three-phase as a delta."""
    if len(load.legs) == 1:
        return [((load.legs[0], "N"), 1.0)]
    if len(load.legs) == 2:
        return [(load.legs, 1.0)]
    legs = load.legs
    return [((one, other), 1 / 3) for one, other in zip(legs, (*legs[1:], legs[0]), strict=True)]


def nominal(system, ends):
    """The nominal volts between two conductors, with their angle."""
    phasors = system.phasors() | {"N": 0j}
    across = phasors[ends[0]] - phasors[ends[1]]
    size = (system.line_to_neutral_v if ends[1] == "N" else system.line_to_line_v) or system.line_to_line_v
    return across / abs(across) * size


def simulated(system, spans, loads, every=1):
    """The volts of each span's conductors by ngspice, of every so manieth span."""
    net = Netlist()
    for leg, phasor in system.phasors().items():
        net.source(leg, f"{leg}s", phasor)
    net.impedance("grounded", "Ns", "0", 1e-9 + 0j)
    wires = [leg for leg, _angle in system.legs] + ["N"]
    for at, span in enumerate(spans):
        above = "s" if span.after is None else span.after
        for wire in wires:
            net.impedance(f"{wire}{at}", f"{wire}{above}", f"{wire}{at}", span.ohms[CONDUCTORS.index(wire)])
            if at % every == every - 1:
                net.voltage(f"{wire}{at}")
    for number, load in enumerate(loads):
        for part, (ends, share) in enumerate(ends_of(load)):
            volts = nominal(system, ends)
            lag = cmath.rect(1.0, math.acos(load.power_factor))
            names = [f"{end}{load.at}" for end in ends]
            if load.draws is Draws.PAPER:
                net.draw(f"d{number}x{part}", *names, load.va * share / abs(volts) * volts / abs(volts) / lag)
            else:
                net.impedance(f"d{number}x{part}", *names, abs(volts) ** 2 / (load.va * share) * lag)
    found = net.solve()
    asked = range(every - 1, len(spans), every)
    return {at: {wire: found[f"v({wire}{at})".lower()] for wire in wires} for at in asked}


_MODELS = {Draws.CURRENT: 5, Draws.IMPEDANCE: 2, Draws.POWER: 1}


def built_in_dss(system, spans, loads):
    """Build the same network there."""
    wires = {leg: at + 1 for at, leg in enumerate([*THREE, "N"])}
    _do("clear")
    line = system.to_middle_v("L1") * math.sqrt(3) / 1000
    _do(f"new circuit.t basekv={line:.12g} phases=3 bus1=src r1=1e-9 x1=1e-9 r0=1e-9 x0=1e-9 basefreq=60")
    _do("set tolerance=1e-12")
    _do("set maxiterations=300")
    _do("new reactor.g phases=1 bus1=src.4 bus2=src.0 r=1e-9 x=0")
    for at, span in enumerate(spans):
        rows = [" ".join("0" for _ in range(row)) + f" {ohms.real:.12g}" for row, ohms in enumerate(span.ohms)]
        across = [" ".join("0" for _ in range(row)) + f" {ohms.imag:.12g}" for row, ohms in enumerate(span.ohms)]
        none = "0|0 0|0 0 0|0 0 0 0"
        _do(f"new linecode.c{at} nphases=4 rmatrix=[{'|'.join(rows)}] xmatrix=[{'|'.join(across)}] cmatrix=[{none}]")
        above = "src" if span.after is None else f"b{span.after}"
        _do(f"new line.l{at} bus1={above}.1.2.3.4 bus2=b{at}.1.2.3.4 linecode=c{at} length=1")
    for number, load in enumerate(loads):
        for part, (ends, share) in enumerate(ends_of(load)):
            where = ".".join(str(wires[end]) for end in ends)
            size = abs(nominal(system, ends)) / 1000
            _do(
                f"new load.d{number}x{part} phases=1 bus1=b{load.at}.{where} kv={size:.12g} "
                f"kw={load.va * share * load.power_factor / 1000:.12g} pf={load.power_factor:.12g} "
                f"model={_MODELS[load.draws]} vminpu=0.3 vmaxpu=2"
            )


def solved_by_dss(count):
    """The volts of each span's conductors, by the library."""
    _do("solve")
    assert dss.ActiveCircuit.Solution.Converged
    found = []
    for at in range(count):
        dss.ActiveCircuit.SetActiveBus(f"b{at}")
        bus = dss.ActiveCircuit.ActiveBus
        flat = bus.Voltages
        volts = [complex(flat[2 * each], flat[2 * each + 1]) for each in range(len(flat) // 2)]
        found.append({[*THREE, "N"][node - 1]: each for node, each in zip(bus.Nodes, volts, strict=True)})
    return dict(enumerate(found))


def _do(line):
    dss.Text.Command = line
