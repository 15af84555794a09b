"""A held step that the range no longer allows."""

from collections.abc import Iterator
from functools import partial

from sornix.core.cautions.caution import Finding, Remedy, View
from sornix.core.figure import hold


def find(view: View) -> Iterator[Finding]:
    for axis, scale in (("x", view.place.x), ("y", view.place.y)):
        if scale.note:
            edit = partial(hold, tables=view.tables, axis=axis, step=None)
            yield Finding(
                f"{axis}: {scale.note}",
                Remedy(f"Free the step of {axis}", f"freed the step of {axis}", edit),
            )
