"""What public functions say of themselves: the unit of every number they return, the source of every rule."""

import ast
import re
from pathlib import Path

import voltaje

ROOT = Path(voltaje.__file__).parent
NUMBER = re.compile(r"\b(?:float|int|complex|Currents)\b")
UNIT = re.compile(
    r"\[[^\]]*(?:\b(?:A|V|VA|kVA|kW|W|hp|m|ft|ft²|mm²|kg|cmil|share|shares|factor|count|units?)\b|%|°|Ω|mV)[^\]]*\]"
)
NO_QUANTITY = {"main"}  # an exit code


def public_functions(tree):
    for node in tree.body:
        inner = node.body if isinstance(node, ast.ClassDef) and not node.name.startswith("_") else [node]
        yield from (each for each in inner if isinstance(each, ast.FunctionDef) and not each.name.startswith("_"))


def functions():
    for path in sorted(ROOT.rglob("*.py")):
        for function in public_functions(ast.parse(path.read_text("utf-8"))):
            yield path.relative_to(ROOT), function, ast.get_docstring(function) or ""


def test_every_number_that_is_returned_has_its_unit():
    naked = [
        f"{path}: {function.name}"
        for path, function, said in functions()
        if function.returns and NUMBER.search(ast.unparse(function.returns)) and "Callable" not in said
        if function.name not in NO_QUANTITY and not UNIT.search(said)
    ]
    assert naked == []


def test_every_rule_names_its_source():
    """A rule is what a book works out by one of its editions or profiles."""
    unsourced = [
        f"{path}: {function.name}"
        for path, function, said in functions()
        if path.parts[0] == "books" and path.parts[1] in ("nec", "iec") and function.name != "of"
        if any(ast.unparse(arg.annotation) in ("Edition", "Profile") for arg in function.args.args if arg.annotation)
        if "Source:" not in said
    ]
    assert unsourced == []
