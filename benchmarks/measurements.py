"""What is measured, against what. Times are medians in milliseconds."""

import io
import os
import statistics
import subprocess
import sys
import time
from collections.abc import Callable, Mapping
from datetime import datetime, timedelta
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np

from benchmarks.trends import Rows, coverage, own_starts
from sornix.core.figure import AxisBand
from sornix.gui.session.look import Look

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
from sornix.gui import open_desk
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


def _million_rows() -> bytes:
    """Delimited text of 1e6 × 4: an ISO timestamp, two floats and an integer."""
    import pyarrow as pa
    from pyarrow import csv

    random = np.random.default_rng(1)
    seconds = np.arange(1_000_000).astype("timedelta64[s]")
    table = pa.table(
        {
            "Time": pa.array(np.datetime64("2026-03-01T00:00:00") + seconds),
            "Level (m)": random.normal(2, 0.1, len(seconds)),
            "Water temperature (°C)": random.normal(12, 3, len(seconds)),
            "Counts": random.integers(0, 5000, len(seconds)),
        }
    )
    stream = io.BytesIO()
    csv.write_csv(table, stream)
    return stream.getvalue()


_MEMORY = """
import sys
from pathlib import Path
from pyarrow import csv
from sornix.core.readings.formats.sources import read_file
import numpy
read_file(Path(sys.argv[2]))
def memory(name):
    lines = Path("/proc/self/status").read_text().splitlines()
    return int(next(line for line in lines if line.startswith(name)).split()[1])
before = memory("VmRSS")
table = read_file(Path(sys.argv[1]))[0]
peak = memory("VmHWM")
print((peak - before) * 1024, sum(column.values.nbytes for column in table.columns))
"""


def reading() -> Figures:
    """Delimited text of 1e6 × 4 against the parser's own bare read, and the memory it takes."""
    import pyarrow as pa
    from pyarrow import csv

    from sornix.core.readings import read_text

    raw = _million_rows()
    commas = raw.replace(b",", b";").replace(b".", b",")
    parse = csv.ParseOptions(delimiter=";")
    convert = csv.ConvertOptions(decimal_point=",")
    times: dict[str, list[float]] = {"bare": [], "ours": [], "bare_comma": [], "ours_comma": []}
    for _ in range(7):  # in turn, so that a slow moment hits all
        for name, act in (
            ("bare", lambda: csv.read_csv(pa.BufferReader(raw))),
            ("ours", lambda: read_text(raw, "t")),
            (
                "bare_comma",
                lambda: csv.read_csv(
                    pa.BufferReader(commas), parse_options=parse, convert_options=convert
                ),
            ),
            ("ours_comma", lambda: read_text(commas, "t")),
        ):
            times[name].append(_median(act, 1))
    middle = {name: statistics.median(values) for name, values in times.items()}
    with TemporaryDirectory() as folder:
        path, small = Path(folder) / "rows.csv", Path(folder) / "few.csv"
        path.write_bytes(raw)
        small.write_bytes(raw[: 1 << 20])
        peak, arrays = _process(_MEMORY, str(path), str(small))
    return {
        **{f"{name}_ms": value for name, value in middle.items()},
        "ratio": middle["ours"] / middle["bare"],
        "comma_ratio": middle["ours_comma"] / middle["bare_comma"],
        "peak_memory_to_arrays": peak / arrays,
    }


def workbook() -> Figures:
    """A workbook of 100 000 rows × 4 against the library's own bare read."""
    import python_calamine

    from sornix.core.readings.formats.sources import read_file
    from sornix.demo.workbooks import xlsx

    random = np.random.default_rng(4)
    begin = datetime(2026, 3, 1)  # noqa: DTZ001
    numbers = random.normal(10, 2, (100_000, 3)).round(6).tolist()
    rows: list[list[object]] = [["Day", "Level (m)", "T (°C)", "Turbidity (NTU)"]]
    rows += [[begin + timedelta(days=i % 3000), *values] for i, values in enumerate(numbers)]
    with TemporaryDirectory() as folder:
        path = Path(folder) / "book.xlsx"
        path.write_bytes(xlsx({"Readings": rows}))

        def bare() -> object:
            book = python_calamine.CalamineWorkbook.from_path(str(path))
            return book.get_sheet_by_index(0).to_python(skip_empty_area=False)

        bare_ms, ours_ms = [], []
        for _ in range(5):
            bare_ms.append(_median(bare, 1))
            ours_ms.append(_median(lambda: read_file(path), 1))
    middle, ours = statistics.median(bare_ms), statistics.median(ours_ms)
    return {"bare_ms": middle, "ours_ms": ours, "ratio": ours / middle}


def fits() -> dict[str, Figures]:
    """A straight line on 1e6 readings against one pass of sums, degree 6 against a bare QR of the
    same size, and a formula of 3 parameters on 1e4 readings against one evaluation of it and its
    derivatives."""
    from sornix.core.trends import MODELS, ByFormula, ParameterConstraints, Sample, Setting

    random = np.random.default_rng(2)
    x = random.uniform(0, 10, 1_000_000)
    y = 1 + 2 * x + random.normal(size=len(x))
    many = Sample(x, y, np.arange(len(x)))
    sums = _median(lambda: (x.sum(), y.sum(), (x * x).sum(), (x * y).sum(), (y * y).sum()))
    line = _median(lambda: MODELS["line"].fit(many))
    basis = np.polynomial.chebyshev.chebvander(x / 5 - 1, 6)
    bare = _median(lambda: np.linalg.qr(basis), 5)
    degree_6 = _median(lambda: MODELS["polynomial-6"].fit(many), 5)
    x = np.sort(random.uniform(0, 10, 10_000))
    y = 1 + 5 * np.exp(-0.4 * x) + random.normal(0, 0.1, len(x))
    model = ByFormula("formula", "formula", "c + a * exp(-k * x)")
    way = ParameterConstraints(
        tuple(Setting(n, start=v) for n, v in {"c": 0.5, "a": 4.0, "k": 0.6}.items())
    )
    some = Sample(x, y, np.arange(len(x)))
    known: dict[str, np.ndarray | float] = {"c": 1.0, "a": 5.0, "k": 0.4, "x": x}
    once = _median(lambda: np.column_stack(model.parts.program.run(known, len(x))))
    formula = _median(lambda: model.fit(some, way))
    return {
        "line": {"sums_ms": sums, "ours_ms": line, "ratio": line / sums},
        "degree_6": {"qr_ms": bare, "ours_ms": degree_6, "ratio": degree_6 / bare},
        "formula": {"evaluation_ms": once, "ours_ms": formula, "evaluations": formula / once},
    }


def _window_with(table: object) -> object:
    """A window of 1280 × 800 on a table, without a display."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PyQt6.QtWidgets import QApplication

    from sornix.core.document import new_document
    from sornix.core.readings import Table
    from sornix.gui.base.settings import Settings
    from sornix.gui.base.theme import LIGHT
    from sornix.gui.shell.application import make_application
    from sornix.gui.shell.frame import Frame
    from sornix.gui.shell.menus import window_acts
    from sornix.gui.shell.window import Window

    assert isinstance(table, Table)
    if QApplication.instance() is None:
        _kept.append(make_application())
    frame = Frame(LIGHT)
    frame.show()
    window = Window(frame, Settings(Path(os.devnull)), window_acts)
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
    from sornix.core import figure as edits
    from sornix.core.readings import Table, number_column
    from sornix.gui.shell.window import Window

    random = np.random.default_rng(3)
    x = np.linspace(0, 100, count)
    y = np.sin(x / 7) + random.normal(0, 0.3, count)
    table = Table("t", (number_column("x", x), number_column("y", y)))
    window = _window_with(table)
    assert isinstance(window, Window)
    window.edit("mark", lambda f: edits.change_series(f, (table,), "s1", mark=mark))
    floor = _median(lambda: (x.max(), y.max()))
    found: dict[str, Figures | float] = {"floor_ms": floor, **_gestures(window)}
    dragging = found["dragging"]
    assert isinstance(dragging, dict)
    found["dragging_to_floor"] = dragging["median_ms"] / floor
    return found


def _gestures(window: object) -> dict[str, Figures]:
    """Frames of a window whose axis is dragged, whose look is panned, over which the pointer
    hovers."""
    from PyQt6.QtCore import QPointF

    from sornix.gui.canvas.gestures import AxisDrag, LookDrag
    from sornix.gui.shell.window import Window

    assert isinstance(window, Window) and window.panes is not None
    panes = window.panes
    paper = window.panes.paper
    assert paper.drawing is not None and window.bench.scene is not None
    box = paper.drawing.box_of(AxisBand("x"))
    assert box is not None
    middle = (box.left + box.width / 2, box.top + box.height / 2)
    drag = AxisDrag(window.bench, paper.drawing, "x", middle, window.bench.scene.tables)

    def drag_frame(number: int) -> None:
        drag.move((middle[0] + number * 0.3, middle[1]))
        paper.repaint()

    dragging = _frames(drag_frame)
    drag.cancel()
    place = paper.drawing.place
    paper.look_closer(_look(place))
    pan = LookDrag(paper.drawing.place, middle, paper.follow_look)

    def pan_frame(number: int) -> None:
        pan.move((middle[0] + number * 0.2, middle[1] + number * 0.1))
        paper.repaint()

    panning = _frames(pan_frame)
    paper.leave_look()

    def hover_frame(number: int) -> None:
        at = QPointF(300 + number * 4, 250 + number)
        panes.editor.hover(paper.reading_at(at))
        paper.repaint()

    hovering = _frames(hover_frame)
    window.close_without_asking()
    return {"dragging": dragging, "panning": panning, "hovering": hovering}


def _look(place: object) -> "Look":
    from sornix.core.drawing import PanelPlace
    from sornix.gui.session.look import look_at

    assert isinstance(place, PanelPlace)
    look = look_at(place, {"x": (0.2, 0.6), "y": (0.2, 0.8)})
    assert look is not None
    return look


def frames_points() -> dict[str, Figures | float]:
    """Frames over 10 000 points."""
    return _hand("points", 10_000)


def frames_line() -> dict[str, Figures | float]:
    """Frames over a noisy line of 1 000 000 readings."""
    return _hand("line", 1_000_000)


def frames_buoy() -> Mapping[str, Figures]:
    """Frames over the three panels of the demo week: 1 008 rows, line, bars and line."""
    from sornix.core.readings import read_text
    from sornix.demo import demo_document, demo_text
    from sornix.gui.shell.window import Window

    window = _window_with(read_text(demo_text("buoy-week").encode(), "buoy-week"))
    assert isinstance(window, Window)
    window.bench.begin(demo_document("buoy-week"), path=None, name="buoy week")
    return _gestures(window)


def runs() -> Figures:
    """`sornix render` of 51 runs through a pattern, and of one: what each takes after the start, as
    PNG (asked: under 250 ms)."""
    from sornix.demo import demo_text

    with TemporaryDirectory() as name:
        folder = Path(name)
        pattern = folder / "pattern.sornix"
        sornix = Path(sys.executable).with_name("sornix")
        files = [folder / f"run-{number}.csv" for number in range(51)]
        for file in files:
            file.write_text(demo_text("nitrate-standards"))
        axes = ("--x", "Nitrate concentration", "--y", "Absorbance at 220 nm")
        made: list[str | Path] = [
            sornix,
            "plot",
            files[0],
            *axes,
            "--trend",
            "line",
            "--out",
            pattern,
        ]
        subprocess.run(made, check=True, capture_output=True)

        def render(count: int) -> float:
            words: list[str | Path] = [
                sornix,
                "render",
                pattern,
                "--readings",
                *files[:count],
                "--out",
                folder / "o",
            ]
            return _median(lambda: subprocess.run(words, check=True, capture_output=True), 3)

        one, all_of_them = render(1), render(51)
        return {"one_run_ms": one, "each_further_run_ms": (all_of_them - one) / 50}


BENCHMARKS: dict[str, Callable[[], Mapping[str, object] | Rows]] = {
    "start": start,
    "reading": reading,
    "workbook": workbook,
    "runs": runs,
    "fits": fits,
    "own-starts": own_starts,
    "coverage": coverage,
    "frames-points": frames_points,
    "frames-line": frames_line,
    "frames-buoy": frames_buoy,
}
