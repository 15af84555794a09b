"""Formulas from text. The grammar: + - * / ^, parentheses, numbers, names, functions.

`-x^2` is `-(x^2)` and `2^3^2` is `2^(3^2)`. Names with spaces or signs stand in double quotes.
"""

from functools import cache
from typing import TYPE_CHECKING, Any, NamedTuple

from sornix.core.errors import FormulaError
from sornix.core.formula.evaluate import ARGUMENTS, CONSTANTS
from sornix.core.formula.expression import Call, Expression, Name, Number

if TYPE_CHECKING:
    from lark import Lark, Token

_GRAMMAR = r"""
?start: sum
?sum: product
    | sum PLUS product -> operation
    | sum MINUS product -> operation
?product: signed
    | product TIMES signed -> operation
    | product OVER signed -> operation
?signed: power
    | MINUS signed -> negated
    | PLUS signed -> kept
?power: atom
    | atom POWER exponent -> operation
?exponent: power
    | MINUS exponent -> negated
    | PLUS exponent -> kept
?atom: NUMBER -> number
    | NAME -> name
    | QUOTED -> name
    | NAME "(" [sum ("," sum)*] ")" -> call
    | "(" sum ")"
PLUS: "+"
MINUS: "-" | "−"
TIMES: "*" | "×" | "·"
OVER: "/" | "÷"
POWER: "^"
NUMBER: /(\d+\.?\d*|\.\d+)([eE][+\-−]?\d+)?/
NAME: /[^\W\d]\w*/
QUOTED: /"[^"]+"/
%ignore /[\s\u2009\u202f\u00a0]+/
"""
_DEEPEST = 120
_PLAIN = {"−": "-", "×": "*", "·": "*", "÷": "/"}


@cache
def _parser() -> "Lark":
    from lark import Lark

    return Lark(_GRAMMAR, parser="lalr", maybe_placeholders=False)


def parse_formula(text: str) -> Expression:
    """The tree of a formula. Raises FormulaError, which points at the character."""
    from lark import UnexpectedCharacters, UnexpectedEOF, UnexpectedToken

    if not text.strip():
        raise FormulaError("There is no formula here.", text, 0)
    if text.count("(") > _DEEPEST or len(text) > 4000:
        raise FormulaError("This formula is too long to be read.", text, 0)
    try:
        tree = _parser().parse(text)
    except UnexpectedCharacters as error:
        at = error.pos_in_stream or 0
        said = f"“{text[at]}” has no meaning in a formula."
        if text[at] == '"':
            said = "A quotation mark lacks its other half."
        raise FormulaError(said, text, at) from error
    except UnexpectedEOF as error:
        raise FormulaError("The formula ends too early.", text, len(text)) from error
    except UnexpectedToken as error:
        place = len(text) if error.token.type == "$END" else error.pos_in_stream or 0
        raise FormulaError(_surprise(str(error.token), place, text), text, place) from error
    return _expression(tree, text, 0)


def _surprise(token: str, at: int, text: str) -> str:
    if at >= len(text):
        missing = text.count("(") - text.count(")")
        return "A closing bracket is missing." if missing > 0 else "The formula ends too early."
    if token == ")":
        return "There is nothing that this bracket closes, or nothing in it."
    return f"“{token}” cannot stand here."


def _expression(node: "Any", text: str, depth: int) -> Expression:
    parts, deeper = node.children, depth + 1
    if depth > _DEEPEST:
        raise FormulaError("This formula is nested too deeply.", text, 0)
    if node.data == "number":
        return Number(float(parts[0].replace("−", "-")))
    if node.data == "name":
        return _name(parts[0])
    if node.data == "kept":
        return _expression(parts[1], text, deeper)
    if node.data == "negated":
        return Call("neg", (_expression(parts[1], text, deeper),), parts[0].start_pos)
    if node.data == "operation":
        return _chain(node, text, deeper)
    function, *operands = parts
    name, at = str(function), function.start_pos
    if name not in ARGUMENTS:
        known = ", ".join(sorted(n for n in ARGUMENTS if n[0].isalpha() and n != "neg"))
        raise FormulaError(f"There is no function “{name}”. Known are {known}.", text, at)
    least, most = ARGUMENTS[name]
    if not least <= len(operands) <= most:
        wanted = "one value" if most == 1 else "two or more values"
        raise FormulaError(f"{name} takes {wanted} in its brackets.", text, at)
    return Call(name, tuple(_expression(operand, text, deeper) for operand in operands), at)


# The signs of chains that are worked out from the left, with what turns the rest of one round.
_TURNED = {"+": "+", "-": "+", "*": "*", "/": "*"}
_LONG_CHAIN = 24


class _Link(NamedTuple):
    """A term of a chain, with the sign before it and where that stands."""

    sign: str
    at: int
    term: Expression


def _chain(node: "Any", text: str, depth: int) -> Expression:
    """Operations of one rank in a row. A long row becomes a bushy tree, not a deep one: all that
    works on formulas goes down to the leaves."""
    links: list[_Link] = []
    ranks = None
    while node.data == "operation":
        left, token, right = node.children
        sign = _PLAIN.get(str(token), str(token))
        rank = _TURNED.get(sign, sign)
        if sign == "^" or ranks not in (None, rank):
            break
        ranks = rank
        links.append(_Link(sign, token.start_pos, _expression(right, text, depth)))
        node = left
    if not links:
        left, token, right = node.children
        operands = _expression(left, text, depth), _expression(right, text, depth)
        return Call("^", operands, token.start_pos)
    links.append(_Link("", 0, _expression(node, text, depth)))
    return _joined(links[::-1])


def _joined(links: list[_Link]) -> Expression:
    """A chain as an expression: a − b − c + d is (a − b) − (c − d)."""
    if len(links) <= _LONG_CHAIN:
        whole = links[0].term
        for link in links[1:]:
            whole = Call(link.sign, (whole, link.term), link.at)
        return whole
    half = len(links) // 2
    first = links[half]
    turn = first.sign in "-/"
    rest = [link._replace(sign=_OTHER[link.sign]) if turn else link for link in links[half + 1 :]]
    return Call(first.sign, (_joined(links[:half]), _joined([first, *rest])), first.at)


_OTHER = {"+": "-", "-": "+", "*": "/", "/": "*"}


def _name(token: "Token") -> Expression:
    text = str(token)
    if text in CONSTANTS:
        return Number(CONSTANTS[text])
    return Name(text.strip('"'), token.start_pos or 0)
