"""What a caution is made of, and the table of cautions."""

from collections.abc import Callable, Iterable
from typing import NamedTuple

from attrs import frozen

from sornix.core.drawing import Drawing, PanelPlace
from sornix.core.figure import Figure, Panel, Series, series_name
from sornix.core.readings import Tables
from sornix.core.text import capital, plain_text, rich


class Remedy(NamedTuple):
    """What can be done about a finding: words for a button, a name for the history, the edit."""

    words: str
    step: str
    edit: Callable[[Figure], Figure]


class Finding(NamedTuple):
    """A caution about this figure: a sentence, and a remedy where there is one. A `mild` one
    misleads few: it is told once, small, and counts for nothing."""

    text: str
    remedy: Remedy | None = None
    mild: bool = False


@frozen
class View:
    """What cautions look at."""

    figure: Figure
    tables: Tables
    place: PanelPlace

    @property
    def panel(self) -> Panel:
        return self.figure.panel

    def name(self, series: Series) -> str:
        """The series' name for a sentence."""
        return f"“{plain_text(rich(series_name(self.panel, series, self.tables)))}”"


Caution = Callable[[View], Iterable[Finding]]

CAUTIONS: dict[str, Caution] = {}


def find_cautions(figure: Figure, tables: Tables, drawing: Drawing) -> list[Finding]:
    """Every finding of every caution about every panel."""
    found = []
    for index, place in enumerate(drawing.panels):
        view = View(figure.with_hand(index), tables, place)
        said = [finding for find in CAUTIONS.values() for finding in find(view)]
        if len(drawing.panels) > 1:
            name = figure.name_of(index)
            said = [_of_panel(finding, capital(name), index) for finding in said]
        found += said
    return found


def _of_panel(finding: Finding, name: str, index: int) -> Finding:
    """A finding that says its panel, and mends that one whichever is in hand."""
    remedy = finding.remedy
    if remedy is not None:
        edit = remedy.edit

        def edit_there(figure: Figure) -> Figure:
            return edit(figure.with_hand(index)).with_hand(figure.hand)

        remedy = remedy._replace(edit=edit_there)
    return finding._replace(text=f"{name}: {finding.text}", remedy=remedy)
