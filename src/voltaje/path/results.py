"""What was tested on a circuit as it stands, as entered: held against its design in the schedule."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.inputs.declare import declared
from voltaje.inputs.shapes import FLAG, number
from voltaje.quantity import read_ohms

_OHM = number(0, 10_000, "Ω", read_ohms)


@dataclass(frozen=True)
class TestResults:
    """Results of the tests of a circuit; None where a box is empty."""

    __test__ = False  # no test of ours, whatever its name

    r1_r2_ohm: float | None = declared(_OHM, "line and protective conductor, cold (IEC)", "R1 + R2")
    insulation_mohm: float | None = declared(number(0, 100_000), "insulation, in MΩ (IEC)", "Insulation")
    polarity: bool | None = declared(FLAG, "whether it is right (IEC)", "Polarity", default=None)
    zs_ohm: float | None = declared(_OHM, "the loop, measured (IEC)", "Zs")
    rcd_ms: float | None = declared(number(0, 10_000), "in which its RCD opened at its rating, ms (IEC)", "RCD time")
