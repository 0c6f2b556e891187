"""A link: one joint of the chain that sizes a circuit, as screens, paper and the command line show it."""

from __future__ import annotations

from dataclasses import dataclass, field

from voltaje.books.machines import SecondaryRule
from voltaje.design.ladder import Option
from voltaje.findings import Finding, Severity
from voltaje.message import Figure, Message
from voltaje.sheet import Citation, Step

# What findings are about, by the subject of their code; a field that they name says it more closely.
_OF_SUBJECT = {
    "drop": "drop",
    "conductor": "conductor",
    "terminals": "conductor",
    "neutral": "conductor",
    "device": "device",
    "run": "device",
    "receptacles": "device",
    "demand": "demand",
    "board": "demand",
    "transformer": "kva",
}
_OF_FIELD = {
    "device_a": "device",
    "size": "conductor",
    "sets": "conductor",
    "length": "drop",
    "amps": "device",
    "method": "conductor",
    "insulation": "conductor",
    "ambient_c": "conductor",
    "bundled": "conductor",
    "material": "conductor",
    "cable": "conductor",
    "arrangement": "conductor",
    "raceway": "conductor",
    "terminal_c": "conductor",
    "soil_kmw": "conductor",
    "fault_ka": "fault",
    "protection": "device",
    "growth": "kva",
    "secondary_device": "secondary_device",
}


@dataclass
class Link:
    """One joint.

    value: what it comes to, a text for a size, None where there is nothing; why: in a few words each
    rule: the clause it rests on most; note: words in the place of a rule
    state: stop, warn, holds, or none where nothing was judged; pins: places of the file by which a person fixes it
    own_title: its title stands as it is, whatever the trade calls such a joint
    tried: rules of which one must hold, each with why or why not
    """

    key: str
    title: Message
    value: Figure | str | None = None
    unit: str = ""
    why: list[Message] = field(default_factory=list)
    rule: Citation | None = None
    note: Message | None = None
    state: str = "holds"
    steps: list[Step] = field(default_factory=list)
    options: list[Option] = field(default_factory=list)
    pins: tuple[str, ...] = ()
    findings: list[Finding] = field(default_factory=list)
    own_title: bool = False
    tried: list[SecondaryRule] = field(default_factory=list[SecondaryRule])


def judged(links: list[Link], findings: list[Finding]) -> list[Link]:
    """Return links with the findings that are about them, and the state that these leave; the first takes the rest."""
    by_key = {link.key: link for link in links}
    for found in findings:
        last = found.field.rpartition(".")[2]
        key = _OF_FIELD.get(last) or _OF_SUBJECT.get(found.code.partition(".")[0], "")
        link = by_key.get(key, links[0])
        link.findings.append(found)
        if found.severity is not Severity.NOTE and link.state != Severity.STOP:
            link.state = found.severity.value
    return links
