"""An axis that does not start at zero makes changes look larger than they are in proportion."""

from collections.abc import Iterator
from functools import partial

from sornix.core.cautions.caution import Finding, Remedy, View
from sornix.core.figure import hold
from sornix.core.text import shortest

# Below this a cut axis deceives nobody.
_WORTH_SAYING = 1.25


def find(view: View) -> Iterator[Finding]:
    scale = view.place.y
    if scale.kind != "linear" or scale.start <= 0:
        return
    larger = scale.end / (scale.end - scale.start)
    if larger < _WORTH_SAYING:
        return
    start = shortest(scale.start, (scale.end - scale.start) * 2e-3)
    times = shortest(larger, 0.05 * larger)
    yield Finding(
        f"y starts at {start}, not 0: heights are not in proportion, and a change looks about "
        f"{times} times as large as from 0.",
        Remedy(
            "Start y at 0",
            "held y from 0",
            partial(hold, tables=view.tables, axis="y", start=0.0),
        ),
    )
