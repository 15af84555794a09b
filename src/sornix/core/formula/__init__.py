"""Formulas: ordinary mathematics on columns, parsed and evaluated on whole arrays."""

from sornix.core.formula.evaluate import FUNCTIONS, evaluate
from sornix.core.formula.expression import (
    Call,
    Expression,
    Name,
    Number,
    names_in,
    quoted,
    renamed,
)
from sornix.core.formula.parse import parse_formula
from sornix.core.formula.program import Program

__all__ = [
    "FUNCTIONS",
    "Call",
    "Expression",
    "Name",
    "Number",
    "Program",
    "evaluate",
    "names_in",
    "parse_formula",
    "quoted",
    "renamed",
]
