"""All that can be said in a statement, for people who look it up."""

from collections.abc import Iterator

from sornix.core.statement.parts import head_forms
from sornix.core.statement.sentences import kinds
from sornix.core.statement.words.pattern import Form, Literal, Slot, tidy


def everything_that_can_be_said() -> Iterator[str]:
    """Each kind of sentence with its options, a line each."""
    told = set()
    for kind in kinds():
        if kind.name in told and kind.axis:
            # axes and guides are said alike
            continue
        told.add(kind.name)
        yield from ("", f"{kind.head}: {kind.means}")
        for _, forms, needed in head_forms(kind):
            for form in forms:
                yield f"  {shape(form)}" + ("" if needed else "  (or left away)")
            yield from _listed(forms)
        for option in kind.options:
            yield f"  {option.means}:"
            yield from (f"    {shape(form)}" for form in option.forms)
            yield from _listed(option.forms)


def shape(form: Form) -> str:
    """A form with what stands in its slots."""
    return tidy(" ".join(
        element.text if isinstance(element, Literal) else f"‹{element.label}›"
        for element in form.elements if isinstance(element, Literal) or element.label
    ))  # fmt: skip


class _Nowhere:
    """Surroundings without columns, in which only words are known."""

    columns: dict[str, list[str]] = {}
    names: dict[str, list[str]] = {}
    column_names: tuple[str, ...] = ()
    begins: frozenset[str] = frozenset()


def _listed(forms: tuple[Form, ...]) -> Iterator[str]:
    """The words that may stand in the slots of forms."""
    for form in forms:
        for element in form.elements:
            if isinstance(element, Slot):
                for word in element.known(_Nowhere()):  # type: ignore[arg-type]
                    yield f"      {word}"
