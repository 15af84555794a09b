"""Exact derivatives of formulas, by the rules of calculus."""

from collections.abc import Callable

from sornix.core.errors import EditRefused
from sornix.core.formula.evaluate import POWER_TIMES_LOG
from sornix.core.formula.expression import Call, Expression, Name, Number, names_in

_ZERO, _ONE = Number(0.0), Number(1.0)


def derivative(expression: Expression, name: str) -> Expression:
    """The derivative of a formula with respect to a name. Raises EditRefused for `min`, `max` of
    what depends on it, which have none everywhere."""
    if isinstance(expression, Name):
        return _ONE if expression.name == name else _ZERO
    if isinstance(expression, Number) or not depends(expression, name):
        return _ZERO
    at, operands = expression.at, expression.operands
    inner = [derivative(operand, name) for operand in operands]
    if expression.function in _RULES:
        return _RULES[expression.function](at, operands, inner)
    if expression.function not in _OUTER:
        raise EditRefused(
            f"“{expression.function}” has no derivative everywhere, so a formula with it cannot be "
            "fitted.",
            remedy="Write the formula without it.",
        )
    return _times(at, _OUTER[expression.function](at, operands[0]), inner[0])


def depends(expression: Expression, name: str) -> bool:
    """Whether a name stands in a formula."""
    return any(found.name == name for found in names_in(expression))


def _plus(at: int, a: Expression, b: Expression) -> Expression:
    if a == _ZERO:
        return b
    return a if b == _ZERO else Call("+", (a, b), at)


def _minus(at: int, a: Expression, b: Expression) -> Expression:
    if b == _ZERO:
        return a
    return Call("neg", (b,), at) if a == _ZERO else Call("-", (a, b), at)


def _times(at: int, a: Expression, b: Expression) -> Expression:
    if _ZERO in (a, b):
        return _ZERO
    if a == _ONE:
        return b
    return a if b == _ONE else Call("*", (a, b), at)


def _over(at: int, a: Expression, b: Expression) -> Expression:
    return _ZERO if a == _ZERO else Call("/", (a, b), at)


def _call(function: str, at: int, *operands: Expression) -> Call:
    return Call(function, operands, at)


def _product(at: int, u: tuple[Expression, ...], d: list[Expression]) -> Expression:
    return _plus(at, _times(at, d[0], u[1]), _times(at, u[0], d[1]))


def _quotient(at: int, u: tuple[Expression, ...], d: list[Expression]) -> Expression:
    first = _over(at, d[0], u[1])
    second = _over(at, _times(at, u[0], d[1]), _call("^", at, u[1], Number(2.0)))
    return _minus(at, first, second)


def _power(at: int, u: tuple[Expression, ...], d: list[Expression]) -> Expression:
    base, exponent = u
    lower = _call("^", at, base, _minus(at, exponent, _ONE))
    by_base = _times(at, _times(at, exponent, lower), d[0])
    if d[1] == _ZERO:
        return by_base
    whole = _call(POWER_TIMES_LOG, at, base, exponent)
    return _plus(at, by_base, _times(at, whole, d[1]))


_Rule = Callable[[int, tuple[Expression, ...], list[Expression]], Expression]
_RULES: dict[str, _Rule] = {
    "+": lambda at, _, d: _plus(at, d[0], d[1]),
    "-": lambda at, _, d: _minus(at, d[0], d[1]),
    "neg": lambda at, _, d: _minus(at, _ZERO, d[0]),
    "*": _product,
    "/": _quotient,
    "^": _power,
}
_LN_10, _LN_2 = Number(2.302585092994045684), Number(0.693147180559945309)


def _square(at: int, u: Expression) -> Expression:
    return _call("^", at, u, Number(2.0))


# what stands before the derivative of the operand
_OUTER: dict[str, Callable[[int, Expression], Expression]] = {
    "exp": lambda at, u: _call("exp", at, u),
    "ln": lambda at, u: _over(at, _ONE, u),
    "log10": lambda at, u: _over(at, _ONE, _times(at, u, _LN_10)),
    "log2": lambda at, u: _over(at, _ONE, _times(at, u, _LN_2)),
    "sqrt": lambda at, u: _over(at, Number(0.5), _call("sqrt", at, u)),
    "sin": lambda at, u: _call("cos", at, u),
    "cos": lambda at, u: _call("neg", at, _call("sin", at, u)),
    "tan": lambda at, u: _over(at, _ONE, _square(at, _call("cos", at, u))),
    "tanh": lambda at, u: _minus(at, _ONE, _square(at, _call("tanh", at, u))),
    "asin": lambda at, u: _over(at, _ONE, _call("sqrt", at, _minus(at, _ONE, _square(at, u)))),
    "acos": lambda at, u: _over(
        at, Number(-1.0), _call("sqrt", at, _minus(at, _ONE, _square(at, u)))
    ),
    "atan": lambda at, u: _over(at, _ONE, _plus(at, _ONE, _square(at, u))),
    "abs": lambda at, u: _over(at, u, _call("abs", at, u)),
}
