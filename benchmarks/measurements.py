"""What is measured, against what. Times are medians in milliseconds."""

import io
import os
import statistics
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np

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


BENCHMARKS: dict[str, Callable[[], Figures]] = {
    "start": start,
    "reading": reading,
    "line-fit": line_fit,
}
