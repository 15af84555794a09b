"""An axis that does not start at zero makes changes look larger than they are in proportion: of
bars a caution, of lines and points a mild one, since there places are read and not lengths."""

import re
from collections.abc import Iterator
from functools import partial

from sornix.core.cautions.caution import Finding, Remedy, View
from sornix.core.figure import AXES, MARKS, Figure, axis_unit, hold, lies
from sornix.core.patterns import pattern
from sornix.core.readings import Tables
from sornix.core.scales import Resolved
from sornix.core.text import shortest

# Below this a cut axis deceives nobody.
_WORTH_SAYING = 1.25
# Scales whose zero was put somewhere.
_FROM_ANYWHERE = frozenset(("°C", "°F", "degC", "degF", "mV vs Ag/AgCl"))
_NO_ZERO = pattern(
    r"\bp[HK]\b|\b(?:year|date|altitude|elevation|latitude|longitude)\b|δ", re.IGNORECASE
)


def _held_at_0(figure: Figure, tables: Tables, axis: str, part: str) -> Figure:
    if part == "start":
        return hold(figure, tables, axis, start=0.0)
    return hold(figure, tables, axis, end=0.0)


def _of_bars(view: View, axis: str, scale: Resolved) -> Finding:
    part = "start" if scale.start > 0 else "end"
    value = shortest(getattr(scale, part), (scale.end - scale.start) * 2e-3)
    return Finding(
        f"The bars’ axis {AXES[axis]} {part}s at {value} and does not reach 0: their lengths are "
        "not in proportion, and deceive.",
        Remedy(
            f"Let {AXES[axis]} reach 0",
            f"held {AXES[axis]} {'from' if part == 'start' else 'to'} 0",
            partial(_held_at_0, tables=view.tables, axis=axis, part=part),
        ),
    )


def find(view: View) -> Iterator[Finding]:
    for axis, scale in view.place.scales.items():
        bars = any(MARKS[series.mark].bars for series in view.panel.series_on(axis))
        # of bars, their lengths are what is seen, whichever way they go
        along = ("x" if lies(view.panel, view.tables) else "y") if bars else "y"
        if axis[0] != along or scale.kind != "linear" or not (scale.start > 0 or scale.end < 0):
            continue
        if bars:
            yield _of_bars(view, axis, scale)
            continue
        if scale.start <= 0:
            continue
        larger = scale.end / (scale.end - scale.start)
        if larger < _WORTH_SAYING:
            continue
        if not _has_zero(view, axis):
            continue
        said = AXES[axis]
        start = shortest(scale.start, (scale.end - scale.start) * 2e-3)
        times = shortest(larger, 0.05 * larger)
        yield Finding(
            f"{said} starts at {start}, not 0: a change looks about {times} times as large as "
            "from 0.",
            Remedy(
                f"Start {said} at 0",
                f"held {said} from 0",
                partial(hold, tables=view.tables, axis=axis, start=0.0),
            ),
            mild=True,
            size=larger,
        )


def _has_zero(view: View, axis: str) -> bool:
    """Whether 0 means nothing of what stands along an axis: not of degrees, and not of pH."""
    if axis_unit(view.panel, view.tables, axis) in _FROM_ANYWHERE:
        return False
    names = [series.column(axis) or "" for series in view.panel.series_on(axis)]
    return not any(_NO_ZERO.search(name) for name in names)
