"""Messages and figures in another language and locale."""

import ast
from pathlib import Path

import pytest
from django.utils import translation

import voltaje
from voltaje.message import Figure, Message
from web.words import figures


def test_figures_follow_the_locale():
    with translation.override("de"):
        assert figures.write_figure(Figure(14_200.5, "VA", 1)) == "14.200,5\u00a0VA"
        assert figures.write_formula("1300 + 0.35 * 2500") == "1.300 + 0,35 × 2.500"
    assert figures.write_figure(Figure(14_200.0, "VA", 1)) == "14,200\u00a0VA"


def test_messages_are_looked_up_by_their_template(monkeypatch):
    catalogue = {"both may run": "los dos pueden andar", "{amps} at most": "{amps} a lo sumo"}
    monkeypatch.setattr(figures, "gettext", lambda text: catalogue.get(text, text))
    assert figures.say(Message("both may run")) == "los dos pueden andar"
    assert figures.say(Message("{amps} at most", amps=Figure(76, "A"))) == "76\u00a0A a lo sumo"


@pytest.mark.parametrize(
    ("formula", "written"),
    [
        ("9376 * 75 / 100", "9,376 × 75 %"),
        ("66.617346 * 1.25", "66.617 × 1.25"),
        ("135813.4 / 1000", "135,813 ÷ 1,000"),
        ("min(250, 300, 350)", "least of 250 | 300 | 350"),
        ("(53354 + 11520 * 25 / 100) / 240", "(53,354 + 11,520 × 25 %) ÷ 240"),
        ("max(234.308333333, 100)", "greatest of 234.31 | 100"),
    ],
)
def test_formulas_as_written_by_hand(formula, written):
    assert figures.write_formula(formula) == written


def test_every_message_of_the_library_is_a_plain_template_for_the_catalogue():
    """A catalogue can only hold texts that stand whole in the source."""
    sources = Path(voltaje.__file__).parent.rglob("*.py")
    calls = [
        node
        for source in sources
        for node in ast.walk(ast.parse(source.read_text("utf-8")))
        if isinstance(node, ast.Call) and getattr(node.func, "id", "") == "Message"
    ]
    assert len(calls) > 100
    variable = [ast.unparse(call) for call in calls if not isinstance(call.args[0], ast.Constant)]
    assert len(variable) <= 3, variable
