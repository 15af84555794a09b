"""What a person would be told who said it in the window: ranges without readings, steps that are
too long, kinds of scale that can show nothing."""

from collections.abc import Iterable

from sornix.core.errors import EditRefused, FormulaError
from sornix.core.figure import Figure, hold, set_kind
from sornix.core.figure.model.trend import FORMULA
from sornix.core.formula import parse_formula
from sornix.core.readings import Tables
from sornix.core.statement.applying import wrong
from sornix.core.statement.parts import Said
from sornix.core.trends import MODELS

# How many words stand before a formula, at most.
_BEHIND = {("formula",): 1, ("other",): 2}
_HELD = ("start", "end", "step")


def check_formulas(sentences: Iterable[Said]) -> None:
    """Raises StatementError where a formula is none, or is one of a shape that has none."""
    for said in sentences:
        for one in said.options:
            model = said.head.get("model", FORMULA)
            if one.option.path == ("formula",) and one.value and model != FORMULA:
                what = f"the shape “{MODELS[model].words}” has no formula, only “formula” has."
                raise wrong(said.token(one), what, last=said.tokens[one.end - 1])
        found = [
            (one.value if one.option.path == ("formula",) else one.value.formula,
             said.tokens[min(one.begin + _BEHIND[one.option.path], one.end - 1)])
            for one in said.options if one.option.path in _BEHIND and one.value
        ]  # fmt: skip
        if "formula" in said.head:
            found.append((said.head["formula"], said.tokens[1]))
        for text, token in found:
            try:
                parse_formula(text)
            except FormulaError as error:
                raise wrong(token, error.what) from error


def check_axes(figure: Figure, tables: Tables, panels: list[list[Said]]) -> None:
    """Raises StatementError where a sentence asks of an axis what the window would refuse; the
    sentences about axes are given for each panel."""
    for index, scales in enumerate(panels):
        at_hand = figure.with_hand(index)
        for said in scales:
            axis = said.kind.axis
            scale = at_hand.panel.scale(axis)
            for one in said.options:
                name = one.option.path[0]
                try:
                    if name == "kind" and scale.kind is not None:
                        plain = at_hand.with_scale(axis, type(scale)())
                        set_kind(plain, tables, axis, scale.kind, scale.base)
                    elif name in _HELD:
                        hold(at_hand, tables, axis, **{name: getattr(scale, name)})
                except EditRefused as error:
                    last = said.tokens[one.end - 1]
                    raise wrong(said.token(one), str(error), last=last) from error
