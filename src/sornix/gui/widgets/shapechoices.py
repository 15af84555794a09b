"""The shapes of trends as entries of a menu, each with its formula beside it."""

from collections.abc import Collection, Iterable

from sornix.core.text import formula_text
from sornix.core.trends import MODELS, Model
from sornix.gui.widgets.inlinecontrols import Choice

_POLYNOMIAL = "polynomial-"
_LONGEST = 60


def shape_choices(ticked: Collection[str], models: Iterable[Model] = ()) -> list[Choice]:
    """An entry for each shape, polynomials under one of their own; a tick for those `ticked`."""
    found: list[Choice] = []
    for model in models or MODELS.values():
        if model.name.startswith(_POLYNOMIAL):
            degree = model.name.removeprefix(_POLYNOMIAL)
            found.append(Choice(model.name, f"of degree {degree}", model.name in ticked,
                                under="polynomial"))  # fmt: skip
            continue
        said = with_formula(model.words, model.formula)
        if model.group:
            found.append(Choice(model.name, said, model.name in ticked, under=model.group))
            continue
        # bent shapes after straight ones, and those without a formula after them
        last = found[-1] if found else None
        polynomials = last is not None and last.under == "polynomial"
        divided = last is not None and (polynomials or (bool(last.under) and not model.formula))
        found.append(Choice(model.name, said, model.name in ticked, divided=divided))
    return found


def with_formula(words: str, formula: str) -> str:
    """The words of a shape, and beside them its formula, if it has one that is not too long."""
    if not formula or len(formula) > _LONGEST:
        return words
    return f"{words}\ty = {formula_text(formula).replace(' · ', '·')}"
