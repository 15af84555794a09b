"""A held step that the range no longer allows."""

from collections.abc import Iterator
from functools import partial

from sornix.core.cautions.caution import Finding, Remedy, View
from sornix.core.figure import AXES, hold


def find(view: View) -> Iterator[Finding]:
    for axis, scale in view.place.scales.items():
        if scale.note:
            edit = partial(hold, tables=view.tables, axis=axis, step=None)
            yield Finding(
                f"{AXES[axis]}: {scale.note}",
                Remedy(f"Free the step of {AXES[axis]}", f"freed the step of {AXES[axis]}", edit),
            )
