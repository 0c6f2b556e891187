"""What a walk-through line assumed of a load, as its chain asks about it: in words, with what else it may be."""

from dataclasses import dataclass

from voltaje.design.solution import NodeSolution
from voltaje.speech.standing import Stand, stands_of
from web.words.figures import say

_POLES = "load.poles"


@dataclass(frozen=True)
class Asked:
    """The assumption in words; choices: other poles, each with its words."""

    words: str
    choices: tuple[tuple[int, str], ...] = ()


def asked(solved: NodeSolution) -> Asked | None:
    """Return what there is to ask about a node, None where everything was said."""
    finding = next((each for each in solved.findings if each.code == "load.assumed"), None)
    if finding is None:
        return None
    known: list[Stand] = stands_of(solved.system, ()) if _POLES in solved.node.assumed else []
    mine = solved.node.load.poles if solved.node.load else 0
    return Asked(say(finding.message), tuple((each.poles, say(each.words)) for each in known if each.poles != mine))
