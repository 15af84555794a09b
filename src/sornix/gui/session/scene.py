"""A document together with what follows from it, as the widgets of a window show it."""

from contextlib import AbstractContextManager
from functools import cached_property
from typing import TYPE_CHECKING

from sornix.core.document import Document
from sornix.core.figure import Figure, Spec, View, caption, steady_fits
from sornix.core.frozen import frozen
from sornix.core.readings import Table, Tables, table_named

if TYPE_CHECKING:
    from sornix.core.cautions import Finding
    from sornix.core.drawing import Detail, Drawing, Measure, PanelPlace, Style


@frozen(slots=False)
class Scene:
    """A document together with what follows from it; made once for each document."""

    document: Document
    measure: "Measure"

    @cached_property
    def drawing(self) -> "Drawing":
        from sornix.core.drawing import draw_figure

        with self.looking():
            return draw_figure(self.document.figure, self.document.tables, self.measure)

    def looking(self) -> AbstractContextManager[None]:
        """Within it, what is asked of fits is answered as for the drawing."""
        return steady_fits(self._view)

    @property
    def pending(self) -> tuple[Spec, ...]:
        """The fits that the drawing is without, since they take long."""
        self.drawing  # noqa: B018 - it asks for them
        return tuple(self._view.pending)

    @cached_property
    def _view(self) -> View:
        """What is known of the fits in all that follows from the document."""
        return View()

    def drawing_at(self, detail: "Detail") -> "Drawing":
        """The drawing with as much detail as a screen can show, or less while it moves."""
        from sornix.core.drawing import draw_figure

        rows = sum(table.row_count for table in self.tables)
        if "drawing" in self.__dict__ or rows <= _FEW_ROWS:
            return self.drawing
        known, coarse = self.__dict__.get("_coarse", (None, None))
        if coarse is None or known != detail:
            figure, tables = self.document.figure, self.document.tables
            with self.looking():
                coarse = draw_figure(figure, tables, self.measure, detail)
            self.__dict__["_coarse"] = detail, coarse
        found: Drawing = coarse
        return found

    def of(self, document: Document) -> "Scene":
        """The scene of another document with the same figure and readings: nothing that follows
        from these is made again."""
        other = Scene(document, self.measure)
        other.__dict__.update({**self.__dict__, "document": document})
        return other

    @property
    def place(self) -> "PanelPlace":
        """Where the panel in hand stands and its scales, from a drawing that is there already."""
        _, coarse = self.__dict__.get("_coarse", (None, None))
        drawing: Drawing = coarse or self.drawing
        return drawing.panels[min(self.figure.hand, len(drawing.panels) - 1)]

    @property
    def figure(self) -> Figure:
        return self.document.figure

    @property
    def style(self) -> "Style":
        """The style of the figure."""
        from sornix.core.drawing import style_of

        return style_of(self.figure)

    @property
    def tables(self) -> Tables:
        return self.document.tables

    @cached_property
    def table(self) -> Table:
        """The table of the first series of the panel in hand."""
        return table_named(self.tables, self.figure.panel.series[0].table)

    @cached_property
    def cautions(self) -> "list[Finding]":
        """What is to be said about the figure."""
        from sornix.core.cautions import find_cautions

        with self.looking():
            return find_cautions(self.figure, self.tables, self.drawing)

    @cached_property
    def methods(self) -> str:
        """The text for a methods section."""
        from sornix.core.figure.prose.methods import methods_text

        with self.looking():
            return methods_text(self.figure, self.tables)

    @cached_property
    def caption(self) -> str:
        drawing = self.drawing
        with self.looking():
            return caption(self.figure, self.tables, drawing.equations, drawing.shades)


# so few rows are drawn one by one at any size
_FEW_ROWS = 4000
