"""What a window shows of a document: tray, statement, paper, caption and ledger.

They are made with the first document, not with the window: an empty window has no use for them,
and a window that opens a file stands a good deal sooner.
"""

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QEvent, QObject, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QFrame, QScrollArea, QSplitter, QVBoxLayout, QWidget

from sornix.gui.base.theme import Theme
from sornix.gui.canvas.caption import CaptionBar
from sornix.gui.canvas.editor import FigureEditor
from sornix.gui.canvas.figurerow import FigureRow
from sornix.gui.canvas.reason import ReasonBar
from sornix.gui.canvas.selection import Selection
from sornix.gui.canvas.view import FigureView
from sornix.gui.results.results import Results
from sornix.gui.session.nearest import Reading
from sornix.gui.session.scene import Scene
from sornix.gui.session.workbench import DocumentEdit, Workbench
from sornix.gui.statement.axisinspector import AxisInspector
from sornix.gui.statement.statement import Statement
from sornix.gui.table.tablepane import TablePane
from sornix.gui.widgets.bars import MessageBar

if TYPE_CHECKING:
    from sornix.gui.results.comparison import Comparison
    from sornix.gui.statement.astext import StatementText

_ZOOM_STEP = 1.2
_REST_MS = 60


class _PaperArea(QScrollArea):
    """The place of the paper: it scrolls where the paper is zoomed beyond it."""

    def __init__(self, paper: FigureView) -> None:
        super().__init__()
        self.setObjectName("paperArea")
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setWidgetResizable(True)
        self.setWidget(paper)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        paper.room_changed.connect(self._fit)

    def _fit(self, height: int) -> None:
        # the caption stays right under a paper that needs less than the room there is
        self.setMaximumHeight(height)


# The statement takes the height that it needs, up to this part of the middle of the window.
_MOST_OF_MIDDLE = 0.5


class _StatementArea(QScrollArea):
    """The place of the statement: a long one scrolls, so that the figure keeps its place."""

    def __init__(self, statement: Statement) -> None:
        super().__init__()
        self._statement = statement
        self.setObjectName("statementArea")
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setWidgetResizable(True)
        self.setWidget(statement)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        statement.installEventFilter(self)
        # lines that have come are brought into sight once they have their places
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(0)
        self._later.timeout.connect(self._see)
        statement.opened.connect(self._later.start)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.LayoutRequest:
            self.fit()
        return super().eventFilter(watched, event)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.fit()

    def _see(self) -> None:
        self.fit()
        if self._statement.trend_lines is not None:
            self.ensureWidgetVisible(self._statement.trend_lines, 0, 4)

    def fit(self) -> None:
        """Takes the height that the statement needs at this width, or as much as it may."""
        middle = self.parentWidget()
        needed = self._statement.heightForWidth(self.width())
        if middle is None or needed <= 0:
            return
        most = max(int(middle.height() * _MOST_OF_MIDDLE), 120)
        bar = self.verticalScrollBar()
        if needed > most and bar is not None:
            needed = self._statement.heightForWidth(self.width() - bar.sizeHint().width())
        # the area would give it the height of its lines at their narrowest
        if needed != self._statement.minimumHeight():
            self._statement.setFixedHeight(needed)
        if min(needed, most) != self.minimumHeight():
            self.setFixedHeight(min(needed, most))


class _Middle(QWidget):
    """The middle of the window; tells when its parts have moved."""

    arranged = pyqtSignal()

    def event(self, event: QEvent | None) -> bool:
        done = super().event(event)
        if event is not None and event.type() in (QEvent.Type.Resize, QEvent.Type.LayoutRequest):
            self.arranged.emit()
        return done


class Panes(QSplitter):
    """The parts side by side. `hovered` gives the Reading under the pointer, or None; `judged` the
    number of cautions, `counted` how many readings are in view, in words."""

    hovered = pyqtSignal(object)
    crossed = pyqtSignal(object)
    menu_wanted = pyqtSignal(object, object)
    judged = pyqtSignal(int)
    counted = pyqtSignal(str)

    def __init__(self, bench: Workbench, theme: Theme, copy: Callable[[str], None]) -> None:
        super().__init__()
        self._bench = bench
        # the figure is painted first, and the numbers beside it right after
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(0)
        self._later.timeout.connect(self._show_numbers)
        # how many readings are in view is told when the hand rests
        self._rested = QTimer(self)
        self._rested.setSingleShot(True)
        self._rested.setInterval(_REST_MS)
        self._rested.timeout.connect(self._count)
        self.message = MessageBar()
        self.statement = Statement(bench)
        self.selection = Selection()
        self.paper = FigureView(bench, self.selection)
        self.editor = FigureEditor(self.paper, self.selection, bench)
        self.area = _PaperArea(self.paper)
        self.inspector = AxisInspector(bench)
        self._copy = copy
        self.comparison: Comparison | None = None
        self.caption = CaptionBar(bench, copy)
        self.reason = ReasonBar(bench)
        self.figures = FigureRow(bench)
        self.table_pane = TablePane(bench, theme)
        self.results = Results(theme, copy, bench.edit, self._edit_document, self._show_results)
        middle = _Middle()
        middle.setObjectName("ground")
        column = self._column = QVBoxLayout(middle)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self._statement_area = _StatementArea(self.statement)
        column.addWidget(self._statement_area)
        self._text: StatementText | None = None
        column.addWidget(self.message)
        column.addWidget(self.area, 100)
        column.addWidget(self.caption)
        column.addWidget(self.reason)
        column.addStretch(1)
        column.addWidget(self.figures)
        # over the other parts, not among them: opening it must not move the figure from under
        # the hand, least of all between the two clicks of a double one
        self.inspector.setParent(middle)
        middle.arranged.connect(self._place_inspector)
        middle.arranged.connect(self._statement_area.fit)
        self.setHandleWidth(1)
        self.setChildrenCollapsible(False)
        for part, width in ((self.table_pane, 150), (middle, 480), (self.results, 220)):
            part.setMinimumWidth(width)
            self.addWidget(part)
        self.setSizes([270, 726, 284])
        for index, stretch in enumerate((0, 1, 0)):
            self.setStretchFactor(index, stretch)
        self._connect()

    def _connect(self) -> None:
        editor = self.editor
        editor.hovered.connect(self.hovered)
        editor.crossed.connect(self.crossed)
        editor.picked.connect(self._picked)
        editor.axis_clicked.connect(self.open_inspector)
        editor.zoom_wanted.connect(self.zoom)
        editor.menu_wanted.connect(self.menu_wanted)
        self.inspector.closed.connect(self.close_inspector)
        self.inspector.resized.connect(self._place_inspector)
        self.inspector.title_wanted.connect(editor.writing.edit_text)
        self.table_pane.rows_selected.connect(self.selection.light_rows)
        self._bench.previewed.connect(self._preview)
        self.paper.looked.connect(self._rested.start)
        self.results.comparing.connect(self.compare)

    def set_theme(self, theme: Theme) -> None:
        """Other colours for what is painted by hand; the style sheet does the rest."""
        self.table_pane.set_theme(theme)
        self.results.theme = theme
        if self._bench.scene is not None:
            self.statement.show_scene(self._bench.scene)
        self._show_results()

    def show_scene(self, scene: Scene) -> None:
        """Shows a scene in every part; a message about the last act goes."""
        self.message.hide()
        with scene.looking():
            self.paper.show_scene(scene)
            self.statement.show_scene(scene)
            if self._text is not None:
                self._text.show_scene(scene)
            self.caption.show_scene(scene)
            self.figures.show_scene(scene)
            if self.comparison is None or self.comparison.isHidden():
                self.reason.show_scene(scene)
        # the figure moves now, not from under the hand a moment later: how high the statement is
        # follows from its width, which the first turn gives it
        for _ in range(2):
            self._statement_area.fit()
            self._column.activate()
        self.inspector.show_scene(scene)
        self._later.start()

    @property
    def text(self) -> "StatementText":
        """The statement as text, made when it is first wanted."""
        if self._text is None:
            from sornix.gui.statement.astext import StatementText

            self._text = StatementText(self._bench, self._copy)
            self._column.insertWidget(1, self._text)
            self._text.closed.connect(self._show_words)
        return self._text

    def type_statement(self, text: str | None = None) -> None:
        """Shows the statement as text in the place of its words, or another one to be tried."""
        if self._bench.scene is not None:
            self._statement_area.hide()
            self.text.open_text(text)

    def _show_words(self) -> None:
        self._statement_area.show()
        if self._bench.scene is not None:
            self.statement.show_scene(self._bench.scene)
        self.paper.setFocus()

    def compare(self, trend_id: str) -> None:
        """Compares the shape of a trend with others, in a table under the figure."""
        from sornix.gui.results.comparison import Comparison

        if self.comparison is None:
            self.comparison = Comparison(self._bench, self._copy)
            self.comparison.closed.connect(self._show_caption)
            self._column.insertWidget(self._column.indexOf(self.caption), self.comparison)
        self.caption.hide()
        self.reason.hide()
        self.comparison.show()
        self.comparison.compare(trend_id)

    def _show_caption(self) -> None:
        self.caption.show()
        if self._bench.scene is not None:
            self.reason.show_scene(self._bench.scene)

    def _edit_document(self, name: str, change: DocumentEdit) -> None:
        """An edit that looks at every reading is worked out beside the window."""
        if self.table_pane.start is None:
            self._bench.edit_document(name, change)
        else:
            self.table_pane.edit_elsewhere(name, change)

    def _count(self) -> None:
        from sornix.gui.session.readout import count_words

        shown, drawing = self.paper.shown, self.paper.drawing
        if shown is not None and drawing is not None:
            self.counted.emit(count_words(shown, drawing))

    def _show_numbers(self) -> None:
        scene = self._bench.scene
        # what a gesture tries is not told in numbers; at its end they are
        if scene is not None and not self._bench.in_gesture:
            with scene.looking():
                self.table_pane.show_scene(scene)
                self.judged.emit(sum(finding.loud for finding in scene.cautions))
            self._show_results()

    def _show_results(self) -> None:
        scene = self._bench.scene
        if scene is not None:
            with scene.looking():
                self.results.show_scene(scene)
                if self.comparison is not None and self.comparison.isVisible():
                    self.comparison.show_scene(scene)

    def _preview(self) -> None:
        """While a gesture goes on, only what has to follow the hand does."""
        scene = self._bench.scene
        if scene is not None:
            with scene.looking():
                self.paper.show_scene(scene)
                if self._text is None or self._text.isHidden():
                    self.statement.preview(scene)
                self.inspector.show_scene(scene)

    def _picked(self, reading: Reading | None) -> None:
        if reading is None:
            self.table_pane.grid.light_row(None)
            return
        if self._bench.scene is not None:
            figure = self._bench.scene.figure
            table = figure.panels[figure.home(reading.series)].one_series(reading.series).table
            if table != self.table_pane.table_name:
                self.table_pane.show_table(table)
        self.table_pane.grid.light_row(reading.row)

    # -- the strip and the zoom ----------------------------------------------------------------

    def open_inspector(self, axis: str) -> None:
        """Opens the scale strip of an axis: under the paper for x, above it for y."""
        scene = self._bench.scene
        if scene is not None and not scene.figure.panel.has_axes:
            self._bench.refused.emit("This panel has no axes, and so no scales.")
        elif scene is not None:
            self.inspector.open_for(axis, scene)
            self._place_inspector()
            self.inspector.raise_()

    def _place_inspector(self) -> None:
        """Over the caption for x, over the end of the statement for y: never over the figure, nor
        over a message."""
        width = self.area.width()
        height = self.inspector.heightForWidth(width)
        # −1 is Qt's word for one line, which is as high at any width
        height = height if height > 0 else self.inspector.sizeHint().height()
        below = self.area if self.message.isHidden() else self.message
        at = below.y() - height
        # with all its lines it stands over the statement, so that the axis stays in sight
        if self.inspector.axis == "x" and not self.inspector.more.isChecked():
            at = self.area.y() + self.area.height()
        # many lines stay inside the window, over the statement or the end of the figure
        most = self.inspector.parentWidget()
        if most is not None:
            at = max(min(at, most.height() - height), 0)
        self.inspector.setGeometry(0, at, width, height)

    def close_inspector(self) -> None:
        self.inspector.hide()
        self.paper.setFocus()

    def zoom(self, step: int) -> None:
        """A step closer (1) or farther (−1); 0 fits the paper into the window."""
        if step == 0:
            self.paper.set_zoom(None)
        else:
            self.paper.set_zoom(self.paper.pixels_per_mm * _ZOOM_STEP**step)
