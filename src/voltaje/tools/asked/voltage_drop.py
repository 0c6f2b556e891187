"""What a voltage drop along segments is asked by."""

from __future__ import annotations

from voltaje.books.answers import Run
from voltaje.inputs.declare import declared, many
from voltaje.inputs.shapes import AMPS, NAMEPLATE, PART, SIZE, VOLTS, number, one_number, one_word
from voltaje.message import Message
from voltaje.quantity import Rating
from voltaje.tools.asking import Asked
from voltaje.tools.conductors import MATERIAL, MATERIALS, TYPED_LENGTH, MadeOf

_SUPPLY, _SEGMENTS = Message("Supply"), Message("Segments")
_MOST = 40
DC, EFFECTIVE, MILLIVOLTS = "dc resistance", "effective impedance", "mV/A/m"
_METHODS = (DC, EFFECTIVE, MILLIVOLTS)


class SegmentItem(Asked):
    """A segment, with what leaves at its end."""

    length: tuple[str, float] = declared(TYPED_LENGTH, "one way", "Length", hint="length", required=True)
    load: Rating | None = declared(NAMEPLATE, "what leaves at its end: A, VA, W", "Load at its end")
    size: str | None = declared(SIZE, "of its conductors; the smallest that holds the limit where not given", "Size")
    power_factor: float = declared(PART, "lagging", "Power factor", shown=1, more=True, default=1.0)
    amps: float | None = declared(
        AMPS,
        "its own current, a demand or a device, in place of all that leaves beyond",
        "Its own current",
        hint="A",
        more=True,
    )
    material: str | None = declared(
        MATERIAL, "where it differs", "Metal", choices="material", titles=MATERIALS, more=True
    )
    cable: str = declared(
        one_word("singles", "multicore", "armoured"),
        "where it differs",
        "Cable",
        more=True,
        choices="cable",
        family="iec",
        default="",
    )
    method: str = declared(
        one_word(*_METHODS), "how it is reckoned; by the book where not given", "Reckoned by", more=True, default=""
    )
    mv_per_a_m: float | None = declared(
        number(0, 1000, "mV/A/m"), "entered, of the whole circuit", "mV/A/m entered", more=True
    )
    ohm_per_km: float | None = declared(number(0, 1000, "Ω/km"), "entered, of one conductor", "Ω/km entered", more=True)

    @property
    def entered(self) -> bool:
        """Whether its resistance was entered: then its size plays no part."""
        return self.mv_per_a_m is not None or self.ohm_per_km is not None


class DropAsked(MadeOf):
    """What a voltage drop is asked by."""

    volts: float = declared(VOLTS, "nominal: line to line on three phase", "Volts", _SUPPLY, "V", required=True)
    phases: int = declared(one_number(1, 3), "1 or 3", "Phases", _SUPPLY, shown=1)
    limit_percent: float | None = declared(number(0, 50, "%"), "the book's where not given", "Limit", _SUPPLY, "%")
    reach: str = declared(
        one_word("branch", "feeder and branch"),
        "what the segments are, for the book's limit",
        "They are a",
        _SUPPLY,
        shown="branch",
        more=True,
        family="nec",
    )
    use: str = declared(one_word("lighting", "other"), "for the limit", "Use", _SUPPLY, shown="other", family="iec")
    supply: str = declared(
        one_word("public", "private"), "for the limit", "Supply", _SUPPLY, shown="public", more=True, family="iec"
    )
    segments: list[SegmentItem] = many(SegmentItem, _SEGMENTS, Message("segment"), most=_MOST, required=True)

    def run(self, item: SegmentItem, amps: float) -> Run:
        """Return the run of a segment that carries so much [A]."""
        terms = self.book.terms
        return Run(
            amps=amps,
            volts=self.volts,
            phases=self.phases,
            length_m=item.length[1],
            material=item.material or self.material,
            insulation=self.insulation or terms.insulation,
            method=terms.method,
            cable=item.cable or self.cable or terms.cable,
            raceway=self.raceway,
            arrangement=self.arrangement,
            power_factor=item.power_factor,
            use=self.use,
            supply=self.supply,
        )
