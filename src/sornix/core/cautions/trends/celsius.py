"""A reciprocal scale of degrees that do not begin at absolute zero."""

from collections.abc import Iterator

from sornix.core.cautions.caution import Finding, View
from sornix.core.figure import AXES, axis_unit

_RELATIVE = {"°C": "degrees Celsius", "°F": "degrees Fahrenheit"}


def find(view: View) -> Iterator[Finding]:
    for axis, scale in view.place.scales.items():
        unit = axis_unit(view.panel, view.tables, axis)
        if scale.kind == "reciprocal" and unit in _RELATIVE:
            yield Finding(
                f"{AXES[axis]} is placed by 1/x of {_RELATIVE[unit]}, whose zero is arbitrary. "
                "Convert the column to K first (menu of the column)."
            )
