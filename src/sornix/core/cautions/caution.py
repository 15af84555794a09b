"""What a caution is made of, and the table of cautions."""

from collections.abc import Callable, Iterable, Sequence
from typing import NamedTuple

from attrs import evolve

from sornix.core.drawing import Drawing, PanelPlace
from sornix.core.figure import Figure, Panel, Series, Trend, change_series, series_name
from sornix.core.figure.model.values import Noted
from sornix.core.frozen import frozen
from sornix.core.patterns import pattern
from sornix.core.readings import Tables
from sornix.core.scales import KINDS
from sornix.core.text import capital, plain_text, plural, rich, spoken_list
from sornix.core.trends import Fit


class Remedy(NamedTuple):
    """What can be done about a finding: words for a button, a name for the history, the edit."""

    words: str
    step: str
    edit: Callable[[Figure], Figure]


class Finding(NamedTuple):
    """A caution about this figure: a sentence, and a remedy where there is one. A `mild` one
    misleads few: it is told once, small, and counts for nothing; so does one that is `noted`.
    `size` is how large its cause is: how many readings, which share, how many times."""

    text: str
    remedy: Remedy | None = None
    mild: bool = False
    size: float = 0.0
    noted: bool = False

    @property
    def about(self) -> str:
        """Its words without what changes with the readings."""
        return _CHANGING.sub("#", self.text)

    @property
    def loud(self) -> bool:
        """Whether it is told above the numbers, and counted."""
        return not (self.mild or self.noted)


_MOST_NAMED = 3


def up_to(counts: Sequence[int], of: str) -> str:
    """`4 times`, or `up to 4 times` where the counts of some lines differ."""
    most = max(counts)
    return ("" if min(counts) == most else "up to ") + plural(most, of)


@frozen
class View:
    """What cautions look at."""

    figure: Figure
    tables: Tables
    place: PanelPlace

    @property
    def panel(self) -> Panel:
        return self.figure.panel

    def shown_on(self, axis: str) -> list[Series]:
        """The series of the panel that are drawn on an axis: what is hidden misleads nobody, and
        what another panel draws on an axis that they share is said of that one."""
        return [series for series in self.panel.shown if series.axis(axis[0]) == axis]

    def words_along(self, trend: Trend) -> Callable[[float, float], str]:
        """How an x of a trend is said, to within so much: as a date along a time."""
        return KINDS[self.place.on(self.panel.one_series(trend.series)).x.kind].words

    def range_along(self, trend: Trend, fit: Fit) -> str:
        """The range of x of a trend's readings: `4 to 12`, `2026-04-06 to 2026-05-15`."""
        least, greatest = fit.ends
        words, within = self.words_along(trend), (greatest - least) * 1e-3
        return f"{words(least, within)} to {words(greatest, within)}"

    def name(self, series: Series) -> str:
        """The series' name for a sentence."""
        return f"“{plain_text(rich(series_name(self.panel, series, self.tables)))}”"

    def names(self, several: Sequence[Series]) -> str:
        """The names of some series: the first few, and how many others."""
        # another name is no longer than “1 other”
        count = len(several) if len(several) <= _MOST_NAMED + 1 else _MOST_NAMED
        names = [self.name(series) for series in several[:count]]
        others = len(several) - len(names)
        return spoken_list([*names, plural(others, "other")] if others else names)

    def points_only(self, several: Sequence[Series]) -> "Remedy":
        """Points in place of the lines of some series."""

        def edit(figure: Figure) -> Figure:
            for series in several:
                figure = change_series(figure, self.tables, series.id, mark="points")
            return figure

        return Remedy("Draw points only", "drew points", edit)


Caution = Callable[[View], Iterable[Finding]]

CAUTIONS: dict[str, Caution] = {}
# Those that are about a drawing as a whole.
OF_DRAWINGS: dict[str, Callable[[Drawing], Iterable[Finding]]] = {}


# The cautions that are about panels without axes too.
OF_ANY_FORM = frozenset(("text_cells", "wholes", "cramped"))


def find_cautions(figure: Figure, tables: Tables, drawing: Drawing) -> list[Finding]:
    """Every finding of every caution about every panel, and about the whole."""
    found = []
    for index, place in enumerate(drawing.panels):
        view = View(figure.with_hand(index), tables, place)
        on_axes = view.panel.has_axes
        said = [finding for name, find in CAUTIONS.items() if on_axes or name in OF_ANY_FORM
                for finding in find(view)]  # fmt: skip
        if len(drawing.panels) > 1:
            name = figure.name_of(index)
            said = [_of_panel(finding, capital(name), index) for finding in said]
        found += said
    found += [finding for find in OF_DRAWINGS.values() for finding in find(drawing)]
    # what is the same of several trends or series is said once
    found = list({finding.text: finding for finding in reversed(found)}.values())[::-1]
    return [finding._replace(noted=_is_noted(finding, figure)) for finding in found]


# A noted caution comes back when its cause is so many times as large as it was.
_GROWN = 1.2
_CHANGING = pattern(r"[\d.,\u2009−]*\d")


def _is_noted(finding: Finding, figure: Figure) -> bool:
    return any(
        one.about == finding.about and finding.size <= _GROWN * one.size for one in figure.noted
    )


def note_caution(figure: Figure, finding: Finding) -> Figure:
    """The figure with a caution noted: it is told at the foot, until its cause has grown."""
    told = tell_again(figure, finding)
    return evolve(told, noted=(*told.noted, Noted(finding.about, finding.size)))


def tell_again(figure: Figure, finding: Finding) -> Figure:
    """The figure with a caution that is told again."""
    others = tuple(one for one in figure.noted if one.about != finding.about)
    return evolve(figure, noted=others)


def _of_panel(finding: Finding, name: str, index: int) -> Finding:
    """A finding that says its panel, and mends that one whichever is in hand."""
    remedy = finding.remedy
    if remedy is not None:
        edit = remedy.edit

        def edit_there(figure: Figure) -> Figure:
            return edit(figure.with_hand(index)).with_hand(figure.hand)

        remedy = remedy._replace(edit=edit_there)
    return finding._replace(text=f"{name}: {finding.text}", remedy=remedy)
