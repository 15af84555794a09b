"""What a caution is made of, and the table of cautions."""

from collections.abc import Callable, Iterable
from typing import NamedTuple

from attrs import frozen

from sornix.core.drawing import PanelPlace
from sornix.core.figure import Figure, Panel, Series, series_name
from sornix.core.readings import Tables
from sornix.core.text import plain_text, rich


class Remedy(NamedTuple):
    """What can be done about a finding: words for a button, a name for the history, the edit."""

    words: str
    step: str
    edit: Callable[[Figure], Figure]


class Finding(NamedTuple):
    """A caution about this figure: a sentence, and a remedy where there is one."""

    text: str
    remedy: Remedy | None = None


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


def find_cautions(view: View) -> list[Finding]:
    """Every finding of every caution."""
    return [finding for find in CAUTIONS.values() for finding in find(view)]
