"""What is measured, against what. Times are medians in milliseconds."""

import io
import os
import statistics
import subprocess
import sys
import time
from collections.abc import Callable, Mapping
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np

from sornix.desk.look import Look

Figures = dict[str, float]

_RUNS = 11

# A bare window with NumPy imported: what the start of Sornix is compared with.
_BARE = """
import sys, time
begin = time.perf_counter()
from PyQt6.QtWidgets import QApplication, QMainWindow
import numpy
application = QApplication(sys.argv)
window = QMainWindow()
window.resize(1280, 800)
window.show()
application.processEvents()
print((time.perf_counter() - begin) * 1000)
"""
_SORNIX = """
import sys, time
begin = time.perf_counter()
from pathlib import Path
from sornix.desk import open_desk
times = []
def shown():
    times.append(time.perf_counter())
def ready(window):
    def painted():
        window.panes.paper.repaint()
        print((times[0] - begin) * 1000, (time.perf_counter() - times[0]) * 1000)
        window.close_without_asking()
    window.bench.changed.connect(painted)
open_desk([Path(sys.argv[1])], shown=shown, ready=ready)
"""


def _median(act: Callable[[], object], runs: int = _RUNS) -> float:
    times = []
    for _ in range(runs):
        begin = time.perf_counter()
        act()
        times.append((time.perf_counter() - begin) * 1000)
    return statistics.median(times)


def _process(script: str, *words: str) -> list[float]:
    environment = {"QT_QPA_PLATFORM": "offscreen", **os.environ}
    # users have compiled modules: ./start makes them
    environment.pop("PYTHONDONTWRITEBYTECODE", None)
    done = subprocess.run(
        [sys.executable, "-c", script, *words],
        capture_output=True,
        text=True,
        env=environment,
        check=True,
    )
    return [float(word) for word in done.stdout.split()]


def start() -> Figures:
    """Window shown against a bare one; the 24-row file painted after that."""
    from sornix.demo import demo_text

    with TemporaryDirectory() as folder:
        path = Path(folder) / "standards.csv"
        path.write_text(demo_text("nitrate-standards"))
        _process(_BARE)
        _process(_SORNIX, str(path))
        bare, ours = [], []
        for _ in range(_RUNS):  # in turn, so that a slow moment hits both
            bare.append(_process(_BARE)[0])
            ours.append(_process(_SORNIX, str(path)))
    shown = statistics.median(times[0] for times in ours)
    return {
        "bare_window_ms": statistics.median(bare),
        "window_shown_ms": shown,
        "window_shown_ratio": shown / statistics.median(bare),
        "24_rows_painted_after_ms": statistics.median(times[1] for times in ours),
    }


def reading() -> Figures:
    """Delimited text of 1e6 × 4 against the parser's own bare read."""
    import pyarrow as pa
    from pyarrow import csv

    from sornix.core.readings import read_text

    random = np.random.default_rng(1)
    table = pa.table({f"c{i}": random.normal(size=1_000_000) for i in range(4)})
    stream = io.BytesIO()
    csv.write_csv(table, stream)
    raw = stream.getvalue()
    bare = _median(lambda: csv.read_csv(pa.BufferReader(raw)), 5)
    ours = _median(lambda: read_text(raw, "t"), 5)
    return {"bare_ms": bare, "ours_ms": ours, "ratio": ours / bare}


def line_fit() -> Figures:
    """A straight line on 1e6 readings against one pass of sums."""
    from sornix.core.trends import MODELS

    random = np.random.default_rng(2)
    x = random.uniform(0, 10, 1_000_000)
    y = 1 + 2 * x + random.normal(size=len(x))
    rows = np.arange(len(x))
    sums = _median(lambda: (x.sum(), y.sum(), (x * x).sum(), (x * y).sum(), (y * y).sum()))
    ours = _median(lambda: MODELS["line"].fit(x, y, rows, "", ""))
    return {"sums_ms": sums, "ours_ms": ours, "ratio": ours / sums}


def _window_with(table: object) -> object:
    """A window of 1280 × 800 on a table, without a display."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PyQt6.QtWidgets import QApplication

    from sornix.core.document import new_document
    from sornix.core.readings import Table
    from sornix.desk.application import make_application
    from sornix.desk.frame import Frame
    from sornix.desk.settings import Settings
    from sornix.desk.theme import LIGHT
    from sornix.desk.window import Window

    assert isinstance(table, Table)
    if QApplication.instance() is None:
        _kept.append(make_application())
    frame = Frame(LIGHT)
    frame.show()
    window = Window(frame, Settings(Path(os.devnull)))
    window.bench.begin(new_document(table), path=None, name="benchmark")
    for _ in range(20):
        QApplication.processEvents()
    return window


_kept: list[object] = []


def _frames(make_frame: Callable[[int], object], count: int = 60) -> Figures:
    times = []
    for number in range(count):
        begin = time.perf_counter()
        make_frame(number)
        times.append((time.perf_counter() - begin) * 1000)
    times.sort()
    return {"median_ms": statistics.median(times), "p95_ms": times[int(0.95 * len(times))]}


def _hand(mark: str, count: int) -> dict[str, Figures | float]:
    """Frames while an axis is dragged, the look is panned, and the pointer hovers."""
    from PyQt6.QtCore import QPointF

    from sornix.core import figure as edits
    from sornix.core.readings import Table, number_column
    from sornix.desk.gestures import AxisDrag, LookDrag
    from sornix.desk.window import Window

    random = np.random.default_rng(3)
    x = np.linspace(0, 100, count)
    y = np.sin(x / 7) + random.normal(0, 0.3, count)
    table = Table("t", (number_column("x", x), number_column("y", y)))
    window = _window_with(table)
    assert isinstance(window, Window) and window.panes is not None
    window.edit("mark", lambda f: edits.change_series(f, (table,), "s1", mark=mark))
    paper = window.panes.paper
    assert paper.drawing is not None and window.bench.scene is not None
    floor = _median(lambda: (x.max(), y.max()))
    box = paper.drawing.box_of("x-axis")
    assert box is not None
    middle = (box.left + box.width / 2, box.top + box.height / 2)
    drag = AxisDrag(window.bench, paper.drawing, "x", middle, window.bench.scene.tables)

    def drag_frame(number: int) -> None:
        drag.move((middle[0] + number * 0.3, middle[1]))
        paper.repaint()

    dragging = _frames(drag_frame)
    drag.cancel()
    place = paper.drawing.panels[0]
    paper.look_closer(_look(place))
    pan = LookDrag(paper.drawing.panels[0], middle, paper._follow_look)  # noqa: SLF001

    def pan_frame(number: int) -> None:
        pan.move((middle[0] + number * 0.2, middle[1] + number * 0.1))
        paper.repaint()

    panning = _frames(pan_frame)
    paper.leave_look()

    def hover_frame(number: int) -> None:
        at = QPointF(300 + number * 4, 250 + number)
        paper._hover(paper.reading_at(at))  # noqa: SLF001
        paper.repaint()

    hovering = _frames(hover_frame)
    window.close_without_asking()
    return {
        "floor_ms": floor,
        "dragging": dragging,
        "panning": panning,
        "hovering": hovering,
        "dragging_to_floor": dragging["median_ms"] / floor,
    }


def _look(place: object) -> "Look":
    from sornix.core.drawing import PanelPlace
    from sornix.desk.look import look_at

    assert isinstance(place, PanelPlace)
    look = look_at(place, (0.2, 0.6), (0.2, 0.8))
    assert look is not None
    return look


def frames_points() -> dict[str, Figures | float]:
    """Frames over 10 000 points."""
    return _hand("points", 10_000)


def frames_line() -> dict[str, Figures | float]:
    """Frames over a noisy line of 1 000 000 readings."""
    return _hand("line", 1_000_000)


BENCHMARKS: dict[str, Callable[[], Mapping[str, object]]] = {
    "start": start,
    "reading": reading,
    "line-fit": line_fit,
    "frames-points": frames_points,
    "frames-line": frames_line,
}
