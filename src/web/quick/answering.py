"""A tool's answer as a sheet shows it, and what of a sheet stands in the address."""

import shlex
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any
from urllib.parse import urlencode

from voltaje.books.questions import Book
from voltaje.errors import Refused
from voltaje.findings import Finding, Severity
from voltaje.inputs.shapes import Json
from voltaje.message import Figure
from voltaje.sheet import Step
from voltaje.tools.asking import book_or_default
from voltaje.tools.registry import tools
from voltaje.tools.tool import Answered, Tool
from web.quick.inputs import Form, Input, Raw, as_address, form_of, given_in
from web.words.figures import say, write
from web.words.trade import trade


@dataclass
class HeadView:
    """A part of the answer as it stands large."""

    label: str
    value: str
    unit: str
    note: str
    main: bool


@dataclass(frozen=True)
class Tab:
    """A tool of the same studio: where it stands in the row, and its address, with what it is to look at."""

    name: str
    title: str
    address: str
    here: bool
    same: bool


@dataclass
class SheetView:
    """A quick sheet: what is asked, the answer where there is one, what is wrong where there is none.

    raw: inputs as the tool reads them; address: as they stand in a link
    """

    tool: Tool[Any]
    book: Book
    raw: Raw
    form: Form
    address: str
    answered: Answered | None = None
    heads: list[HeadView] = field(default_factory=list)
    steps: list[Step] = field(default_factory=list)
    findings: list[Finding] = field(default_factory=list)
    blank: bool = False

    @property
    def w(self) -> dict[str, str]:
        """The trade's words."""
        return trade(self.book.terms.family)

    @property
    def wrong(self) -> bool:
        """Whether something stands in the way of an answer."""
        return self.answered is None and not self.blank

    @property
    def worst(self) -> Finding | None:
        """The gravest finding that is more than a note, None where nothing is in the way."""
        return next((found for found in self.findings if found.severity is not Severity.NOTE), None)

    @property
    def stopped(self) -> bool:
        """Whether it may not be built so: what stands large is then no answer to go by."""
        return self.worst is not None and self.worst.severity is Severity.STOP

    @property
    def more_findings(self) -> int:
        """How many other stops and warnings there are [count]."""
        return max(sum(found.severity is not Severity.NOTE for found in self.findings) - 1, 0)

    @property
    def line_field(self) -> str:
        """The field that all of it may be said in, "" where the sheet takes no line."""
        return self.tool.asks.plate.at[0] if self.tool.asks.plate else ""

    @property
    def line_says(self) -> str:
        """An example of all of it said in one line, "" where the sheet takes none."""
        plate = self.tool.asks.plate
        return plate.says.get(self.book.terms.family, "") if plate else ""

    @property
    def first_wrong(self) -> str:
        """What stands in the way of an answer: the first that is wrong, with the field that it is wrong at."""
        if self.form.general:
            return self.form.general
        field = next((each for each in self.form.all() if each.error), None)
        return f"{field.label}: {field.error}" if field else ""

    @property
    def asked_in_short(self) -> str:
        """What was asked in one line, for a phone that shows the answer first."""
        typed = [each for each in self.form.all() if each.value and each.place != "book"]
        return " \u00b7 ".join(f"{each.value} {each.unit}".strip() for each in typed[:_MOST_IN_SHORT])

    @property
    def example(self) -> "SheetView | None":
        """The worked example, shown faint until something was asked."""
        inputs = self.tool.example.get(self.book.terms.family)
        return sheet_of(self.tool, as_address({"book": self.book.name, **inputs})) if self.blank and inputs else None

    @property
    def decided(self) -> Step | None:
        """The last step that the answer hangs on, None where none is marked."""
        return next((step for step in reversed(self.steps) if step.decides), None)

    @property
    def command(self) -> str:
        """The same question on the command line."""
        places = [f"{place}={value}" for place, value in as_address(self.raw).items()]
        return " ".join(["./voltaje calc", self.tool.name, *(shlex.quote(each) for each in places)])


_MOST_IN_SHORT = 6


def sheet_of(tool: Tool[Any], data: Mapping[str, str], asked_for: str = "") -> SheetView:
    """Return the sheet of a tool for what an address or a form gives."""
    errors: list[Refused] = []
    raw: Raw = {}
    answered = None
    try:
        raw = given_in(tool, data)
        answered = tool.answered(raw) if _begun(tool, raw) else None
        laid = tool.asks.laid_out(raw)  # a plate typed into one field stands in all of those that it fills
        raw = laid.raw if laid else raw
    except Refused as error:
        errors = [error, *error.also]
    book = book_or_default(raw.get("book") or tool.asks.usual_book())
    typed = {place: value.strip() for place, value in data.items()} if errors else as_address(raw)
    form = form_of(tool, raw, book, typed, errors if _begun(tool, raw) else [], asked_for)
    _mark(form, book)
    view = SheetView(tool, book, raw, form, urlencode(as_address(raw)), answered, blank=not _begun(tool, raw))
    if answered:
        view.heads = [
            HeadView(say(each.label), *_written(each.value, each.unit), say(each.note), each.main)
            for each in answered.heads
        ]
        view.steps, order = list(answered.steps), list(Severity)
        view.findings = sorted(answered.findings, key=lambda found: order.index(found.severity))
        _beside(tool, raw, form, book)
    return view


def _begun(tool: Tool[Any], raw: Raw) -> bool:
    """Return whether anything was asked yet, besides the book."""
    return any(key != "book" for key in raw)


def _written(value: Figure | str, unit: str) -> tuple[str, str]:
    if isinstance(value, Figure):
        return write(value.value, value.decimals), value.unit or unit
    return value, unit


def _mark(form: Form, book: Book) -> None:
    """Say of choices that are figures what they are, in the unit of the input."""
    for each in form.all():
        for choice in each.choices:
            if choice.words == choice.value and choice.value.replace(".", "").isdigit() and each.unit:
                choice.words = f"{choice.value} {each.unit}"


def _beside(tool: Tool[Any], raw: Raw, form: Form, book: Book) -> None:
    """Show beneath each choice of a reading that is in sight what comes of it."""
    asks = tool.asks.asks()
    for each in (each for group in form.groups for each in group.inputs):
        ask = asks.get(each.place)
        if ask and ask.both and each.choices:
            _work_out(tool, raw, each, ask.both, book)


def _work_out(tool: Tool[Any], raw: Raw, each: Input, key: str, book: Book) -> None:
    for choice in each.choices:
        if not choice.value:
            continue
        try:
            found = tool.answered({**raw, each.place: choice.value}).result.get(key)
        except Refused:
            continue
        choice.answer = _said(found, book)


def _said(found: Any, book: Book) -> str:
    if isinstance(found, dict) and "size" in found:
        sets = f"{found['sets']} × " if found.get("sets", 1) > 1 else ""
        return f"{sets}{found['size']} {book.terms.gauge(found['size'])}"
    return write(found, 1) if isinstance(found, float) else str(found or "")


_DECIDES = "> "  # before a step that the answer hangs on


def as_text(view: SheetView) -> str:
    """Return a sheet as plain text: what was asked, the answer, every step, findings, caution, book."""
    lines = [f"{say(view.tool.title)} · {view.book.name}", ""]
    lines += [
        f"{each.label}: {each.value or each.taken} {each.unit}".rstrip() for each in view.form.all() if each.value
    ]
    lines += ["", *(f"{head.label}: {head.value} {head.unit} ({head.note})".replace(" ()", "") for head in view.heads)]
    lines += [""]
    for step in view.steps:
        rule = f"  [{step.rule}]" if step.rule else ""
        mark = _DECIDES if step.decides else ""
        lines.append(f"{mark}{say(step.label)}: {step.formula} = {write(step.value, 2)} {step.unit}{rule}")
        lines += [f"    {say(step.because)}"] if step.because else []
    lines += ["", *(f"{found.severity.value}: {say(found.message)}" for found in view.findings)]
    lines += ["", say(view.tool.caution), view.command]
    return "\n".join(lines) + "\n"


def as_json(view: SheetView) -> Json:
    """Return a sheet's answer as the command line gives it."""
    return view.tool.run(view.raw)


def tabs_of(view: SheetView) -> list[Tab]:
    """Return the tools of a sheet's studio in their order; what another can look at goes with its link."""
    if not view.tool.studio:
        return []
    onward = view.answered.onward if view.answered else {}
    mine = [tool for tool in tools().values() if tool.studio == view.tool.studio]
    found = []
    for tool in sorted(mine, key=lambda each: each.place):
        inputs = onward.get(tool.name) or tool.example.get(view.book.terms.family, {})
        address = view.address if tool is view.tool else urlencode(as_address({"book": view.book.name, **inputs}))
        found.append(Tab(tool.name, say(tool.title), address, tool is view.tool, tool.name in onward))
    return found
