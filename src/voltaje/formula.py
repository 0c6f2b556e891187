"""Formulas: one text that is both computed and shown.

A formula's text is checked once, when it is made, against a small whitelist over the syntax tree,
and compiled once. Applying it substitutes numbers for names; the shown text therefore is the
computed one, and `evaluate` gets the same value back from it.
"""

from __future__ import annotations

import ast
import math
from collections.abc import Callable, Mapping, Sequence

from voltaje.errors import FormulaError

Value = float | Sequence[float]

_ALLOWED = (ast.Expression, ast.BinOp, ast.UnaryOp, ast.Name, ast.Load, ast.Add, ast.Sub, ast.Mult, ast.Div, ast.USub)
_SIGNS: dict[type[ast.operator], str] = {ast.Add: "+", ast.Sub: "-", ast.Mult: "*", ast.Div: "/"}
_BINDING: dict[type[ast.operator], int] = {ast.Add: 1, ast.Sub: 1, ast.Mult: 2, ast.Div: 2}
_ATOM = 3


def _total(*terms: Value) -> float:
    return math.fsum(_flat(terms))


def _most(*terms: Value) -> float:
    return max(_flat(terms))


def _least(*terms: Value) -> float:
    return min(_flat(terms))


def _flat(terms: Sequence[Value]) -> list[float]:
    flat: list[float] = []
    for term in terms:
        flat.extend(term if isinstance(term, Sequence) else [term])
    return flat


FUNCTIONS: dict[str, Callable[..., float]] = {
    "sum": _total,
    "max": _most,
    "min": _least,
    "ceil": math.ceil,
    "sqrt": math.sqrt,
}


class Formula:
    """An arithmetic text over named values: + - * / and sum, max, min, ceil, sqrt.

    A name may stand for a list inside sum, max and min. Raises FormulaError when made from a text
    outside the whitelist, and when applied with a name missing or a name too many.

    >>> demand = Formula("column_c * (1 + percent / 100 * n)")
    >>> demand.value(column_c=8, percent=5, n=2), demand.text(column_c=8, percent=5, n=2)
    (8.8, '8 * (1 + 5 / 100 * 2)')
    """

    def __init__(self, source: str) -> None:
        self.source = source
        self._tree = _checked(source)
        self.names = frozenset(
            node.id for node in ast.walk(self._tree) if isinstance(node, ast.Name) and node.id not in FUNCTIONS
        )
        # The tree holds nothing but whitelisted arithmetic, and the code sees no builtins.
        arguments = ", ".join(sorted(self.names))
        made = compile(f"lambda {f'*, {arguments}' if arguments else ''}: ({source})", "<formula>", "eval")
        self._call: Callable[..., float] = eval(made, {"__builtins__": {}, **FUNCTIONS})  # noqa: S307

    def value(self, **values: Value) -> float:
        """Return the computed value [unit that its values make]. Raises FormulaError for wrong names, division by 0."""
        try:
            return float(self._call(**values))
        except TypeError as error:
            self._check_names(values)
            raise FormulaError(f"{self.source} cannot take {values}") from error
        except ZeroDivisionError as error:
            raise FormulaError(f"{self.source} divides by zero with {values}") from error

    def text(self, **values: Value) -> str:
        """Return the formula with its numbers in it."""
        self._check_names(values)
        return _write(self._tree.body, values)[0]

    def _check_names(self, values: Mapping[str, Value]) -> None:
        if values.keys() != self.names:
            raise FormulaError(f"{self.source} takes {sorted(self.names)}, given {sorted(values)}")


def evaluate(text: str) -> float:
    """Return the value of a formula text that holds numbers only, as it stands on a step [the unit of the step]."""
    return Formula(text).value()


def _checked(source: str) -> ast.Expression:
    try:
        tree = ast.parse(source, mode="eval")
    except SyntaxError as error:
        raise FormulaError(f"not a formula: {source}") from error
    for node in ast.walk(tree):
        if isinstance(node, ast.Call):
            if not isinstance(node.func, ast.Name) or node.func.id not in FUNCTIONS or node.keywords:
                raise FormulaError(f"not an allowed function in: {source}")
        elif isinstance(node, ast.Constant):
            if isinstance(node.value, bool) or not isinstance(node.value, int | float):
                raise FormulaError(f"not a number in: {source}")
        elif not isinstance(node, _ALLOWED):
            raise FormulaError(f"{type(node).__name__} is not allowed in: {source}")
    return tree


def _write(node: ast.expr, values: Mapping[str, Value]) -> tuple[str, int]:
    """Return a node as text and how tightly it binds, with brackets only where they are needed."""
    match node:
        case ast.Constant(value=number):
            return write_number(float(number)), _ATOM  # type: ignore[arg-type]
        case ast.Name(id=name):
            value = values[name]
            if isinstance(value, Sequence):
                return ", ".join(write_number(item) for item in value) or "0", _ATOM
            return write_number(value), _ATOM if value >= 0 else 0
        case ast.UnaryOp(operand=operand):
            return f"-{_bracketed(operand, values, _ATOM)}", 0
        case ast.Call(func=ast.Name(id=name), args=args):
            inner = [_write(arg, values)[0] for arg in args]
            if name == "sum":
                terms = [term for text in inner for term in text.split(", ")]
                return " + ".join(terms), 1 if len(terms) > 1 else _ATOM
            return f"{name}({', '.join(inner)})", _ATOM
        case ast.BinOp(left=left, op=op, right=right):
            binding = _BINDING[type(op)]
            tighter = binding + 1 if isinstance(op, ast.Sub | ast.Div) else binding
            text = f"{_bracketed(left, values, binding)} {_SIGNS[type(op)]} {_bracketed(right, values, tighter)}"
            return text, binding
    raise FormulaError(f"cannot write {ast.dump(node)}")


def _bracketed(node: ast.expr, values: Mapping[str, Value], at_least: int) -> str:
    text, binding = _write(node, values)
    return text if binding >= at_least else f"({text})"


def write_number(number: float) -> str:
    """Return a number as shortly as keeps its value for a check to twelve figures.

    >>> write_number(3000.0), write_number(0.35), write_number(1 / 3)
    ('3000', '0.35', '0.333333333333')
    """
    text = f"{number:.12g}"
    return text if "e" not in text else f"{number:.6f}".rstrip("0").rstrip(".")
