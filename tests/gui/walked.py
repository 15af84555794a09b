"""What the window says after each act of walks by chance, a file a demo in tests/data/walked. They
are made anew by `python -m tests.gui.walked`; what changed is to be read in the difference before
it is kept."""

import math
import os
import re
import tempfile
from collections import Counter, deque
from collections.abc import Callable, Iterable, Iterator
from pathlib import Path
from typing import Any
from unittest import mock

from PyQt6.QtCore import QEvent, QPoint
from PyQt6.QtWidgets import QApplication, QWidget

from sornix.core.figure import Figure
from sornix.core.figure.derived import fitviews
from sornix.core.readings import Table
from sornix.core.statement import write_statement
from sornix.demo import DEMOS
from sornix.gui.canvas.view import FigureView
from sornix.gui.shell.application import make_application
from sornix.gui.widgets.inlinecontrols import ChoiceWord
from tests.base import DATA
from tests.gui.views import lines_of
from tools.monkey import Monkey
from tools.screenshots import settle

FOLDER = DATA / "walked"
_ACTS = 20
# how often what is told of is done
_OFTEN = {"_click": 6, "_click_word": 12, "_drag": 5, "_wheel": 2, "_key": 6, "_type": 8}
# how long a search took, which processors tell
_LEFT_OUT = re.compile(r"(?:, )?\d+ steps?")
# a search through readings that do not fit may come to another end on another processor
_SURE = ("line", "poly", "moving", "local")


class Teller(Monkey):
    """A monkey that lets each of its acts come to its end, and tells what it brought about."""

    texts = ("0", "-1", "0.5", "3", "12", "40", "1,5", "1e3", "a*x + b", "", "Of {mu}x^2", "soon")

    def __init__(self, demo: str, folder: Path) -> None:
        super().__init__(sum(demo.encode()), folder)
        self.ways = [(_OFTEN.get(way.__name__, often), way) for often, way in self.ways]
        self.ways.append((12, self._choose))
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setText("x\ty\n1\t2\n2\t5\n3\t4")
        self.told: list[str] = []
        self._statements: deque[tuple[Figure, tuple[Table, ...], list[str]]] = deque(maxlen=4)
        self.begin(demo)
        settle(self.window)
        self._first = set(self._trends())
        self._before = Counter(self._said())

    def _at(self, widget: QWidget) -> QPoint:
        """Somewhere on a widget; on the figure mostly on something that can be taken in hand."""
        if isinstance(widget, FigureView) and widget.drawing is not None:
            boxes = widget.drawing.boxes
            if boxes and self.chance.random() < 0.7:
                return widget.pixels(self.chance.choice(boxes).rect).center().toPoint()
        return super()._at(widget)

    def _choose(self) -> str:
        """Takes what a word offers."""
        words = [w for w in self._visible(ChoiceWord) if isinstance(w, ChoiceWord) and w.choices]
        word = self.chance.choice(words or [None])
        if word is None:
            return "no word"
        choice, name = self.chance.choice(list(word.choices)), word.accessibleName()
        if choice.enabled:
            word.chosen.emit(choice.value)
        return f"choose {choice.text} as {name}"

    def do(self, way: Callable[[], str]) -> None:
        self._step = self._slowest = 0.0
        done = way()
        settle(self.window)
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        self.close_dialogs()
        settle(self.window)
        if self._is_search():
            self.window.bench.undo()
            settle(self.window)
            done += ", taken back"
        now = Counter(self._said())
        self.told += [done, *(f"  {line}" for line in now - self._before)]
        self._before = now

    def _is_search(self) -> bool:
        new = set(self._trends()) - self._first
        return any(formula or not model.startswith(_SURE) for model, formula in new)

    def _trends(self) -> Iterator[tuple[str, str]]:
        scene = self.window.bench.scene
        for panel in scene.figure.panels if scene is not None else ():
            yield from ((trend.model, trend.formula) for trend in panel.trends)

    def _said(self) -> Iterator[str]:
        """What is said on the window, what is in hand, and what is drawn."""
        for line in lines_of(self.window.frame, self.window.frame, 0, placed=False):
            if "“" in line or "|" in line:
                yield _LEFT_OUT.sub("", line).strip().replace(str(self.folder), "…")
        panes, bench = self.window.panes, self.window.bench
        if panes is not None and bench.scene is not None:
            held = panes.selection
            yield f"in hand {held.in_hand}, at {held.at}, lit {held.lit}, look {panes.paper.looks}"
            yield from self._statement(bench.scene.figure, bench.tables)

    def _statement(self, figure: Figure, tables: tuple[Table, ...]) -> list[str]:
        """All that a statement says; of what was told just before, as after undo, once more."""
        for known, of, said in self._statements:
            if known is figure and of is tables:
                return said
        said = write_statement(figure, tables, whole=True).split("\n")
        self._statements.append((figure, tables, said))
        return said


def told_by(made: type[Teller], demo: str, go: Callable[[Any], object]) -> str:
    """What a teller tells of a demo, when it has gone its way."""
    # on a slow processor a fit would be told of later
    never_late = mock.patch.object(fitviews, "PATIENCE_S", math.inf)
    with never_late, tempfile.TemporaryDirectory() as folder:
        teller = made(demo, Path(folder))
        go(teller)
        teller.window.close_without_asking()
    return "\n".join(teller.told) + "\n"


def renew(folder: Path, demos: Iterable[str], told: Callable[[str], str]) -> None:
    """Makes what is kept of demos anew, and ends the program."""
    _application = make_application()
    folder.mkdir(exist_ok=True)
    for name in demos:
        (folder / f"{name}.txt").write_text(told(name))
    os._exit(0)


def walked(demo: str) -> str:
    """What a walk on a demo tells: a line an act, and what came with it."""

    def walk(teller: Teller) -> None:
        for _ in range(_ACTS):
            teller.do(teller.some_way())

    return told_by(Teller, demo, walk)


if __name__ == "__main__":
    renew(FOLDER, DEMOS, walked)
