"""The arithmetic of units that are joined: what each carries, what goes through them together, the volts they make."""

from __future__ import annotations

from voltaje.design.transformers.made import PRIMARY, SECONDARY, Made
from voltaje.formula import Formula
from voltaje.message import Figure, Message
from voltaje.path.transformer import MadeAs, TransformerSpec
from voltaje.sheet import Sheet

AS_WHOLE = Message("as if the whole were loaded so")
_LIFTED, _LOWERED = Formula("line * (primary + secondary) / primary"), Formula("line * primary / (primary + secondary)")
_SERIES_A = Formula("kva * 1000 / volts")


def steps(made: Made, spec: TransformerSpec, sheet: Sheet) -> None:
    """Write what the units make of the nominal supply, and what may go through them."""
    plate = made.plate
    if made.stacked:
        high, low = made.rated[f"{PRIMARY} 1"], made.rated[f"{SECONDARY} 1"]
        lift = made.share * plate.secondary_v > plate.primary_v
        because = (
            Message("the secondary stands on top of the primary")
            if lift
            else Message("the input stands across both, the load across the primary")
        )
        formula = _LIFTED if lift else _LOWERED
        sheet.apply(formula, Message("Output"), "V", None, because, line=plate.primary_v, primary=high, secondary=low)
        what = Message(
            "only what it adds or takes is transformed; {n} × {kva}", n=made.units, kva=Figure(made.unit_kva, "kVA", 2)
        )
        sheet.apply(_SERIES_A, Message("Its secondary carries"), "A", None, what, kva=made.unit_kva, volts=low)
    else:
        because = Message("by its windings, joined as {name}", name=spec.connection or "usual")
        sheet.read(plate.secondary_v * made.share, Message("Output"), "V", None, because)
    label = Message("Goes through {n} × {kva}", n=made.units, kva=Figure(made.unit_kva, "kVA", 2))
    why = Message("until the hardest coil has its rated current") if spec.made_as is not MadeAs.AUTO else None
    sheet.read(plate.kva, label, "kVA", None, why)
