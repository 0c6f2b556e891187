"""The chain of the chosen node: seven links, each with its value, why, its rule and its state."""

from dataclasses import dataclass, field
from urllib.parse import urlencode

from django.urls import reverse
from django.utils.translation import gettext as _

from voltaje.books.answers import Terms, sets_of
from voltaje.books.questions import Book
from voltaje.books.registry import find_book
from voltaje.design.circuits import links_of
from voltaje.design.circuits.common import Worked
from voltaje.design.circuits.link import Link
from voltaje.design.ladder import Option
from voltaje.design.solution import NodeSolution, Solution
from voltaje.design.transformers.proposed import proposed
from voltaje.findings import Finding
from voltaje.message import Figure, Message
from voltaje.quantity import mass_by
from voltaje.sheet import Step
from web.words.figures import say, write, write_formula
from web.words.trade import kind_words, trade

_BAR_W = 62.0


@dataclass(frozen=True)
class OptionRow:
    """A lawful answer as the ladder shows it: metal and drop as bars."""

    option: Option
    device: str
    conductor: str
    chosen: bool
    metal: str
    metal_w: float
    drop: str
    drop_w: float
    over: bool


@dataclass
class LinkView:
    """A link as the page shows it: the library's, its words written.

    boost: the address of the sheet that mends its volts with a small transformer, "" where nothing asks for one
    proposal: the transformer that would stand before it, in words, "" where none does
    """

    link: Link
    title: str
    value: str
    unit: str
    why: str
    chip: str
    chip_title: str
    options: list[OptionRow] = field(default_factory=list)
    boost: str = ""
    proposal: str = ""

    @property
    def key(self) -> str:
        """Which joint it is."""
        return self.link.key

    @property
    def state(self) -> str:
        """How it stands: stop, warn, holds, none."""
        return self.link.state

    @property
    def steps(self) -> list[Step]:
        """How it was worked."""
        return self.link.steps

    @property
    def findings(self) -> list[Finding]:
        """What there is to say of it."""
        return self.link.findings


def alike(one: LinkView, other: LinkView | None) -> bool:
    """Return whether two books come to the same; one that has no such link does not."""
    return other is not None and (one.value, one.unit) == (other.value, other.unit)


@dataclass(frozen=True)
class ChainView:
    """The chain, what it is of, and what the options' bars are drawn to."""

    key: str
    title: str
    subtitle: str
    links: list[LinkView]


def chain_view(solution: Solution, key: str, parent_name: str) -> ChainView:
    """Return the chain of a node that was solved with its steps."""
    solved, book = solution.nodes[key], find_book(solution.book)
    rows = option_rows(solved, book.terms)
    family = book.terms.family
    links = [_view(link, rows if link.options else [], family) for link in links_of(solved, book)]
    for link in links:
        if any(found.code == "load.other_voltage" for found in link.findings):
            link.boost, link.proposal = boost_link(solved, book.name), _proposal(solved, book)
    return ChainView(key, solved.node.name or key, _subtitle(solved, parent_name, family), links)


def _proposal(solved: NodeSolution, book: Book) -> str:
    unit = proposed(solved, book)
    if unit is None:
        return ""
    count = f"{unit['units']} × " if "units" in unit else ""
    return f"{count}{unit['kva']} kVA, {unit['unit_primary_v']}–{unit['unit_secondary_v']} V"


def boost_link(solved: NodeSolution, book: str) -> str:
    """Return the address of the sheet that lifts a load's volts to what it is made for; "" where they are not low."""
    load = solved.node.load
    if load is None or load.volts is None or load.volts <= solved.nominal_v:
        return ""
    phases = 3 if len(solved.legs) > 2 else 1  # noqa: PLR2004
    asked = {"book": book, "line_v": f"{solved.nominal_v:g}", "load_v": f"{load.volts:g}", "load": load.rating.typed}
    query = urlencode({**asked, "phases": phases})
    return f"{reverse('quick-sheet', args=['buck-boost'])}?{query}"


def _view(link: Link, rows: list[OptionRow], family: str) -> LinkView:
    value = link.value or "–"
    if isinstance(value, Figure):
        value = write(value.value, value.decimals)
    chip = say(link.note) if link.note else link.rule.short if link.rule and link.value is not None else ""
    why = " · ".join(_written(each) for each in link.why)
    title = "" if link.own_title else trade(family).get(link.key, "")
    title = title or _(link.title.template)
    return LinkView(link, title, value, link.unit, why, chip, str(link.rule or ""), rows)


def _written(words: Message) -> str:
    formula = words.values.get("formula")
    return write_formula(formula) if isinstance(formula, Worked) else say(words)


def _subtitle(solved: NodeSolution, parent_name: str, family: str) -> str:
    phases = _("3-phase") if len(solved.legs) > 2 else _("1-phase")  # noqa: PLR2004
    kind = solved.node.load.kind.value if solved.node.load else solved.node.kind.value
    legs = "-".join(solved.legs)
    words = f"{kind_words(kind, family)} · {phases} {write(solved.nominal_v)} V · {legs}"
    return f"{words} · {_('on')} {parent_name}" if parent_name else words


def said_mass(mass_kg: float, terms: Terms) -> str:
    """Return a mass in the job's units."""
    mass, unit = mass_by(mass_kg, terms.length_unit)
    return f"{write(mass, 1)} {unit}"


def option_rows(solved: NodeSolution, terms: Terms) -> list[OptionRow]:
    """Return the ladder with bars for metal and drop."""
    design = solved.design
    if design is None:
        return []
    heaviest = max((option.metal_kg or 0.0 for option in solved.options), default=0.0) or 1.0
    furthest = max((option.drop_percent or 0.0 for option in solved.options), default=0.0) or 1.0
    rows = []
    for option in solved.options:
        mine = option.choice == design.choice and option.material == design.run.material
        size = f"{sets_of(option.choice.size, option.choice.sets)} {terms.gauge(option.choice.size)}"
        rows.append(
            OptionRow(
                option=option,
                device=f"{write(option.choice.device_a)} A",
                conductor=f"{size} {option.material}",
                chosen=mine,
                metal="" if option.metal_kg is None else said_mass(option.metal_kg, terms),
                metal_w=round(_BAR_W * (option.metal_kg or 0.0) / heaviest, 1),
                drop="" if option.drop_percent is None else f"{write(option.drop_percent, 1)} %",
                drop_w=round(_BAR_W * (option.drop_percent or 0.0) / furthest, 1),
                over=bool(option.drop and option.drop.percent > option.drop.room_percent),
            )
        )
    return rows
