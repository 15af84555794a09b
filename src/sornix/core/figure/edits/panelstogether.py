"""Panels that differ by one word only, one for each value of a column or for each run: what is
changed in one of them is changed in all."""

from collections.abc import Hashable

from attrs import evolve, fields

from sornix.core.figure.edits.together import SINGLE_OF_TREND, bare, changes
from sornix.core.figure.model.series import Series
from sornix.core.figure.model.trend import Trend
from sornix.core.figure.model.values import Figure, Panel

# What each panel, series and trend has for itself.
_SINGLE = ("series", "trends", "title", "row", "column", "notes", "legend_spot", "title_spot")
_SINGLE_OF_SERIES = ("id", "table", "name", "only", "left_out")


def _likeness(panel: Panel) -> Hashable:
    """What panels that are alike have in common."""
    own = tuple(getattr(panel, p.name) for p in fields(Panel) if p.name not in _SINGLE)
    series = tuple(
        (
            *(getattr(s, p.name) for p in fields(Series) if p.name not in _SINGLE_OF_SERIES),
            s.only.column if s.only is not None else None,
        )
        for s in panel.series
    )
    at = {one.id: i for i, one in enumerate(panel.series)}
    return own, series, tuple((at[t.series], bare(t)) for t in panel.trends)


def alike_panels(figure: Figure) -> tuple[int, ...]:
    """The indices of the panels that differ by one word only from the one in hand, itself among
    them: by the value that they are of, or by their table."""
    hand = figure.panels[min(figure.hand, len(figure.panels) - 1)]
    wanted = _likeness(hand)
    return tuple(i for i, one in enumerate(figure.panels) if _likeness(one) == wanted)


def word_of_panels(figure: Figure) -> str:
    """The word by which the alike panels differ: a column, or "" where they are of other tables."""
    only = figure.panel.series[0].only
    return only.column if only is not None else ""


def spread_panels(before: Figure, after: Figure) -> Figure:
    """The figure in which all panels alike follow what an edit has made of the one in hand."""
    others = [i for i in alike_panels(before) if i != before.hand]
    if not others or len(before.panels) != len(after.panels) or before.hand != after.hand:
        return after
    old, new = before.panels[before.hand], after.panels[before.hand]
    if len(old.series) != len(new.series) or old == new:
        return after
    for index in others:
        after = _followed(after, index, old, new)
    return after


def _followed(figure: Figure, index: int, old: Panel, new: Panel) -> Figure:
    """The figure with one panel after the change from `old` to `new` of another one."""
    panel = figure.panels[index]
    series = []
    for one, before, now in zip(panel.series, old.series, new.series, strict=True):
        changed = changes(before, now, _SINGLE_OF_SERIES)
        if "style" in changed:
            changed["style"] = evolve(one.style, **changes(before.style, now.style))
        series.append(evolve(one, **changed))
    places = {one.id: i for i, one in enumerate(new.series)}
    known = dict(zip((t.id for t in old.trends), panel.trends, strict=True))
    earlier = {t.id: t for t in old.trends}
    trends: list[Trend] = []
    for trend in new.trends:
        mine = known.get(trend.id)
        if mine is not None:
            trends.append(evolve(mine, **changes(earlier[trend.id], trend, SINGLE_OF_TREND)))
            continue
        held = evolve(panel, trends=(*panel.trends, *trends))
        with_new = evolve(
            figure, panels=(*figure.panels[:index], held, *figure.panels[index + 1 :])
        )
        trends.append(
            evolve(trend, id=with_new.next_id("t"), series=series[places[trend.series]].id,
                   spot=None)
        )  # fmt: skip
    followed = evolve(
        panel, series=tuple(series), trends=tuple(trends), **changes(old, new, _SINGLE)
    )
    panels = (*figure.panels[:index], followed, *figure.panels[index + 1 :])
    return evolve(figure, panels=panels)
