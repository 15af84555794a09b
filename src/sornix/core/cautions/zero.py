"""An axis that does not start at zero makes changes look larger than they are in proportion."""

from collections.abc import Iterator
from functools import partial

from sornix.core.cautions.caution import Finding, Remedy, View
from sornix.core.figure import AXES, hold
from sornix.core.text import shortest

# Below this a cut axis deceives nobody.
_WORTH_SAYING = 1.25


def find(view: View) -> Iterator[Finding]:
    for axis, scale in view.place.scales.items():
        if axis[0] != "y" or scale.kind != "linear" or scale.start <= 0:
            continue
        larger = scale.end / (scale.end - scale.start)
        if larger < _WORTH_SAYING:
            continue
        said = AXES[axis]
        start = shortest(scale.start, (scale.end - scale.start) * 2e-3)
        times = shortest(larger, 0.05 * larger)
        yield Finding(
            f"{said} starts at {start}, not 0: heights are not in proportion, and a change looks "
            f"about {times} times as large as from 0.",
            Remedy(
                f"Start {said} at 0",
                f"held {said} from 0",
                partial(hold, tables=view.tables, axis=axis, start=0.0),
            ),
        )
