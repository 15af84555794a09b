"""What acts ask of a window beyond what any part of it may: its parts, its menus, its files."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol

from sornix.gui.session.host import Host

if TYPE_CHECKING:
    from sornix.gui.canvas.caption import CaptionBar
    from sornix.gui.canvas.editor import FigureEditor
    from sornix.gui.canvas.selection import Selection
    from sornix.gui.canvas.view import FigureView
    from sornix.gui.dialogs.files import Files
    from sornix.gui.results.results import Results
    from sornix.gui.statement.statement import Statement
    from sornix.gui.table.tablepane import TablePane
    from sornix.gui.widgets.acts import Menus


class Parts(Protocol):
    """The parts of a window that shows a document."""

    @property
    def paper(self) -> FigureView: ...

    @property
    def selection(self) -> Selection: ...

    @property
    def editor(self) -> FigureEditor: ...

    @property
    def caption(self) -> CaptionBar: ...

    @property
    def statement(self) -> Statement: ...

    @property
    def table_pane(self) -> TablePane: ...

    @property
    def results(self) -> Results: ...

    def open_inspector(self, axis: str) -> None:
        """Shows the strip of an axis."""
        ...

    def compare(self, trend_id: str) -> None:
        """Compares the shape of a trend with others."""
        ...


class AtWork(Host, Protocol):
    """A window at work; without a document it has no `panes`."""

    @property
    def panes(self) -> Parts | None: ...

    @property
    def files(self) -> Files: ...

    @property
    def menus(self) -> Menus: ...
