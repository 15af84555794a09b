"""What nobody should wait for, each beside its floor: edits, files, looks, exports, commands."""

import json
import math
import os
import subprocess
import sys
import zlib
from collections.abc import Callable, Iterator, Mapping
from datetime import datetime, timedelta
from functools import partial
from pathlib import Path
from tempfile import TemporaryDirectory
from types import MappingProxyType
from typing import Any

import numpy as np

from benchmarks.measuring import Row, child_ms, command_row, measured

_DECADES = (1_000, 10_000, 100_000, 1_000_000, 10_000_000)
_HUNDRED_MILLION = 100_000_000
_PYTHON = sys.executable
_SORNIX = str(Path(sys.executable).with_name("sornix"))
_FRAME_MS, _LARGE_FRAME_MS = 16.0, 33.0

# A bare window with NumPy imported, and ours with a demo painted: each ends by itself.
_BARE_WINDOW = """
import sys
from PyQt6.QtWidgets import QApplication, QMainWindow
import numpy
application = QApplication(sys.argv)
window = QMainWindow()
window.resize(1280, 800)
window.show()
application.processEvents()
"""
# through the command line, as everyone comes in
_OUR_WINDOW = """
from pathlib import Path
import sys
import sornix.cli
from sornix.gui import open_desk
def ready(window):
    def painted():
        window.panes.paper.repaint()
        window.close_without_asking()
    window.bench.changed.connect(painted)
open_desk([Path(sys.argv[1])], ready=ready)
"""


def _arrays(count: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Time, a noisy wave and noise, of so many readings."""
    random = np.random.default_rng(3)
    t = np.arange(count) * 0.01
    return t, np.sin(t * 70 / t[-1]) + random.normal(0, 0.1, count), random.normal(12, 1, count)


def _table(count: int) -> Any:
    from sornix.core.readings import Table, number_column

    names = ("Time", "Level", "Temperature")
    return Table("t", tuple(number_column(n, v) for n, v in zip(names, _arrays(count),
                                                                strict=True)))  # fmt: skip


_kept: list[object] = []


def _need_application() -> None:
    """The application of the window, which drawing alone would do without: there is only one."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    from PyQt6.QtWidgets import QApplication

    from sornix.gui.shell.application import make_application

    if QApplication.instance() is None:
        _kept.append(make_application())


def _window(count: int, mark: str) -> Any:
    """A window of 1280 × 800 with a figure of so many readings, without a display."""
    from sornix.core.document import new_document
    from sornix.core.figure import change_series
    from sornix.gui.base.settings import Settings
    from sornix.gui.base.theme import LIGHT
    from sornix.gui.shell.frame import Frame
    from sornix.gui.shell.menus import window_acts
    from sornix.gui.shell.window import Window

    _need_application()
    frame = Frame(LIGHT)
    frame.resize(1280, 800)
    frame.show()
    window = Window(frame, Settings(Path(os.devnull)), window_acts)
    table = _table(count)
    window.bench.begin(new_document(table), path=None, name="benchmark")
    window.edit("mark", lambda f: change_series(f, (table,), "s1", x="Time", y="Level", mark=mark))
    _settle()
    return window


def _settle() -> None:
    from PyQt6.QtWidgets import QApplication

    for _ in range(20):
        QApplication.processEvents()


# -- rows ----------------------------------------------------------------------------------------


def edits() -> Iterator[Row]:
    """From a typed step to the painted figure, undo and redo, and to the numbers beside it."""
    from sornix.core.figure import add_trend, hold

    for count in (_DECADES[0], *_DECADES[2:]):
        window = _window(count, "points" if count < _DECADES[2] else "line")
        bench, paper = window.bench, window.panes.paper
        steps = iter(range(1000))

        def act(do: Callable[[], object], paper: Any = paper) -> None:
            do()
            paper.repaint()

        def typed(bench: Any = bench, steps: Any = steps) -> None:
            value = -3.0 - next(steps) / 10
            bench.edit("held", lambda f: hold(f, bench.tables, "y", start=value))

        goal = _FRAME_MS if count == _DECADES[0] else _LARGE_FRAME_MS
        yield measured("edit: a held end, typed", count, partial(act, typed), goal)
        yield measured("edit: undo", count, partial(act, bench.undo), _FRAME_MS)
        yield measured("edit: redo", count, partial(act, bench.redo), _FRAME_MS, before=bench.undo)
        if count == _DECADES[0]:
            window.edit("trend", lambda f: add_trend(f, "s1", "line"))
            _settle()

            def all_told(typed: Callable[[], object] = typed) -> None:
                typed()
                _settle()

            name = "edit: with all that is told beside it"
            yield measured(name, count, all_told, _LARGE_FRAME_MS)
        window.close_without_asking()


def opening() -> Iterator[Row]:
    """Parquet and text to the first picture, beside bare reads."""
    import pyarrow as pa
    from pyarrow import csv, parquet

    from sornix.core.readings.tables import laid

    with TemporaryDirectory() as folder:
        for count in _DECADES[2:]:
            names = ("Time (s)", "Level (m)", "Temperature (°C)")
            arrow = pa.table(dict(zip(names, _arrays(count), strict=True)))
            path = Path(folder) / f"{count}.parquet"
            parquet.write_table(arrow, path)
            bare = partial(parquet.read_table, path, columns=list(names[:2]))
            for words, before in (("", laid.forget), (", again", lambda: None)):
                yield measured(
                    f"open: Parquet, three columns{words}", count, partial(_first_picture, path),
                    1.5, bare=bare, before=before, floor="two columns read bare", runs=5,
                )  # fmt: skip
        for count in _DECADES[2:-1]:
            path = Path(folder) / f"{count}.csv"
            csv.write_csv(pa.table(dict(zip(names, _arrays(count), strict=True))), path)
            yield measured(
                "open: text, three columns", count, partial(_first_picture, path), 1.5,
                bare=partial(csv.read_csv, path), floor="the parser, bare", runs=5,
            )  # fmt: skip


_HUGE = """
import sys
from pathlib import Path
from benchmarks.speed import huge_in
huge_in(Path(sys.argv[1]))
"""


def huge() -> Iterator[Row]:
    """A hundred million readings, in a process of its own: opened, opened again, looked at, edited,
    fitted, exported; and the memory that this took, resident and its own, as rows of MB."""
    import pyarrow as pa
    from pyarrow import parquet

    names = ("Time (s)", "Level (m)", "Temperature (°C)")
    random, piece = np.random.default_rng(3), 1 << 20
    with TemporaryDirectory() as folder:
        path = Path(folder) / "huge.parquet"
        with parquet.ParquetWriter(path, pa.schema([(n, pa.float64()) for n in names])) as out:
            for begin in range(0, _HUNDRED_MILLION, piece):
                t = np.arange(begin, min(begin + piece, _HUNDRED_MILLION)) * 0.01
                level = 2 + np.sin(t * 70 / (_HUNDRED_MILLION * 0.01))
                level = np.round(level + random.normal(0, 0.1, len(t)), 3)
                heat = np.round(random.normal(12, 1, len(t)), 2)
                out.write_table(pa.table([t, level, heat], names=list(names)))
        environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "XDG_CACHE_HOME": folder}
        said = subprocess.run([_PYTHON, "-c", _HUGE, str(path)], env=environment,
                              capture_output=True, check=True, text=True).stdout  # fmt: skip
    for line in said.splitlines():
        name, goal, value = line.split("|")
        number = float(value)
        yield Row(name, _HUNDRED_MILLION, number, number, 0, 0.0, "", float(goal), absolute=True)


def huge_in(path: Path) -> None:
    """What `huge` measures of a file, printed as lines of name, goal and milliseconds or MB."""
    import time

    from sornix.cli.painting import write_out
    from sornix.core.document import new_document
    from sornix.core.figure import add_trend, hold
    from sornix.core.readings.formats.sources import read_file
    from sornix.gui.session.look import look_at
    from sornix.gui.session.workbench import made_ready

    window = _window(1000, "line")
    bench = window.bench

    def told(name: str, goal: float, act: Callable[[], object]) -> None:
        begin = time.perf_counter()
        act()
        print(f"huge: {name}|{goal}|{(time.perf_counter() - begin) * 1e3:.1f}", flush=True)

    def opened() -> None:
        document, _ = made_ready(lambda: (new_document(*read_file(path)), None))
        bench.begin(document, path=None, name="huge")
        window.panes.paper.repaint()

    def looked(part: float) -> None:
        paper = window.panes.paper
        look = look_at(paper.drawing.place, {"x": (0.5 - part / 2, 0.5 + part / 2), "y": (0, 1)})
        paper.look_closer(look)
        paper.repaint()

    def held() -> None:
        bench.edit("held", lambda f: hold(f, bench.tables, "y", start=-3.0))
        window.panes.paper.repaint()

    def fitted() -> None:
        bench.edit("trend", lambda f: add_trend(f, "s1", "line"))
        while bench.scene.pending:
            _settle()
            time.sleep(0.001)

    told("opened for the first time", 15_000, opened)
    told("opened again", 3000, opened)
    told("a third of it", _LARGE_FRAME_MS, partial(looked, 0.3))
    told("single readings", _LARGE_FRAME_MS, partial(looked, 1e-6))
    window.panes.paper.leave_look()
    told("a held end, typed", _LARGE_FRAME_MS, held)
    told("a straight line", 10_000, fitted)
    told("exported as PNG", 1000, lambda: write_out(bench.document, path.with_suffix(".png")))
    with Path("/proc/self/status").open() as file:
        status = dict(line.split(":", 1) for line in file)
    for words, field, goal in (("at most, resident", "VmHWM", 2000), ("its own", "RssAnon", 500)):
        print(f"huge: MB {words}|{goal}|{int(status[field].split()[0]) / 1e3:.0f}")
    window.close_without_asking()


def workbook() -> Iterator[Row]:
    """A workbook of 100 000 rows × 4 beside its library's own bare read."""
    import python_calamine

    from sornix.core.readings.formats.sources import read_file
    from sornix.demo.workbooks import xlsx

    count = _DECADES[2]
    numbers = np.random.default_rng(4).normal(10, 2, (count, 3)).round(6).tolist()
    begin = datetime(2026, 3, 1)  # noqa: DTZ001
    rows: list[list[object]] = [["Day", "Level (m)", "T (°C)", "Turbidity (NTU)"]]
    rows += [[begin + timedelta(days=i % 3000), *values] for i, values in enumerate(numbers)]
    with TemporaryDirectory() as folder:
        path = Path(folder) / "book.xlsx"
        path.write_bytes(xlsx({"Readings": rows}))

        def bare() -> object:
            book = python_calamine.CalamineWorkbook.from_path(str(path))
            return book.get_sheet_by_index(0).to_python(skip_empty_area=False)

        yield measured("open: workbook, four columns", count, partial(read_file, path), 2.0,
                       bare=bare, floor="its library, bare", runs=3)  # fmt: skip


def _first_picture(path: Path) -> None:
    from sornix.core.document import new_document
    from sornix.core.drawing import draw_figure
    from sornix.core.readings.formats.sources import read_file
    from sornix.paint.measure import QtMeasure

    _need_application()
    document = new_document(*read_file(path))
    draw_figure(document.figure, document.tables, QtMeasure())


def looking() -> Iterator[Row]:
    """Frames while a closer look is panned and zoomed, and while the pointer goes over readings."""
    from PyQt6.QtCore import QPointF

    from sornix.gui.canvas.gestures import LookDrag
    from sornix.gui.session.look import look_at

    for mark in ("line", "points"):
        for count in _DECADES[2:]:
            window = _window(count, mark)
            panes, paper = window.panes, window.panes.paper
            inner = paper.drawing.place.inner
            middle = (inner.left + inner.width / 2, inner.top + inner.height / 2)
            look = look_at(paper.drawing.place, {"x": (0.2, 0.6), "y": (0.2, 0.8)})
            assert look is not None
            paper.look_closer(look)
            pan, frames = (
                LookDrag(paper.drawing.place, middle, paper.follow_look),
                iter(range(9999)),
            )

            def panned(pan: Any = pan, frames: Any = frames, paper: Any = paper,
                       middle: Any = middle) -> None:  # fmt: skip
                number = next(frames)
                pan.move((middle[0] + number * 0.2, middle[1] + number * 0.1))
                paper.repaint()

            def hovered(frames: Any = frames, panes: Any = panes, paper: Any = paper) -> None:
                number = next(frames)
                panes.editor.hover(paper.reading_at(QPointF(300 + number * 4, 250 + number)))
                paper.repaint()

            yield measured(f"look: pan, {mark}", count, panned, _FRAME_MS, runs=25)
            paper.leave_look()
            hovered()
            yield measured(f"look: hover, {mark}", count, hovered, _FRAME_MS, runs=25)
            window.close_without_asking()


def exports() -> Iterator[Row]:
    """Pictures of crowds and of a long line, beside a frame on screen."""
    from attrs import evolve

    from sornix.cli.painting import write_out
    from sornix.core.document import new_document
    from sornix.core.figure import change_series

    with TemporaryDirectory() as folder:
        for mark, count in (("points", 100_000), ("points", 1_000_000), ("line", 10_000_000)):
            window = _window(count, mark)
            paper = window.panes.paper
            table = window.bench.tables[0]
            document = new_document(table)
            figure = change_series(document.figure, (table,), "s1", x="Time", y="Level", mark=mark)
            document = evolve(document, figure=figure)
            few = new_document(_table(9))
            for ending in (".png", ".svg", ".pdf"):
                path = Path(folder) / f"o{ending}"
                write_out(document, path)
                yield measured(
                    f"export: {ending[1:].upper()}, {mark}", count,
                    partial(write_out, document, path), 3.0, bare=partial(_new_frame, window),
                    floor="a frame on screen; less the encoder's own time", runs=5,
                    aside=partial(_encoded, _pictures_in(document, path), few, ending),
                )  # fmt: skip
                print(f"  {path.stat().st_size / 1e6:.2f} MB", file=sys.stderr)
            assert paper is not None
            window.close_without_asking()


def _pictures_in(document: Any, path: Path) -> list[Any]:
    """The pictures that the encoder of a file has to pack: that of a PNG, the shades of others."""
    from PyQt6.QtGui import QImage

    from sornix.cli.painting import drawing_of
    from sornix.core.drawing import Crowd
    from sornix.paint.shade import crowd_picture

    if path.suffix == ".png":
        return [QImage(str(path))]
    drawing = drawing_of(document)
    dots = document.export.dots_per_mm(drawing.width_mm)
    return [crowd_picture(item, dots)[1] for item in drawing.items if isinstance(item, Crowd)]


def _encoded(pictures: list[Any], few: Any, ending: str) -> None:
    """What the encoder does in any case: the pictures packed; of a drawing, one of few readings."""
    from PyQt6.QtCore import QBuffer

    from sornix.cli.painting import write_out

    for picture in pictures:
        if ending == ".pdf":
            # packed as it is, where a PNG looks for the best filter of each line first
            zlib.compress(picture.constBits().asstring(picture.sizeInBytes()))
            continue
        buffer = QBuffer()
        buffer.open(QBuffer.OpenModeFlag.WriteOnly)
        picture.save(buffer, "PNG")
    if ending != ".png":
        with TemporaryDirectory() as folder:
            write_out(few, Path(folder) / f"o{ending}")


def _new_frame(window: Any) -> None:
    from PyQt6.QtGui import QPainter, QPixmap

    from sornix.core.drawing import Detail, draw_figure
    from sornix.paint.measure import QtMeasure
    from sornix.paint.painter import paint

    scene, scale = window.bench.scene, window.panes.paper.pixels_per_mm
    drawing = draw_figure(scene.figure, scene.tables, QtMeasure(), Detail(0.5 / scale))
    picture = QPixmap(round(drawing.width_mm * scale), round(drawing.height_mm * scale))
    painter = QPainter(picture)
    paint(drawing, painter, scale, raster=True)
    painter.end()


def labels() -> Iterator[Row]:
    """A figure of so many series with a trend for each and sixty notes, every one of which looks
    for a free place."""
    from attrs import evolve

    from sornix.core.document import new_document
    from sornix.core.drawing import draw_figure
    from sornix.core.figure import Series, add_note, add_trend, hold
    from sornix.core.readings import Table, number_column
    from sornix.paint.measure import QtMeasure

    _need_application()
    random, steps = np.random.default_rng(1), iter(range(1000))
    for count, goal in ((10, 150.0), (40, 500.0)):
        x = np.arange(2000.0)
        columns = [number_column(f"quantity {i}", random.normal(i, 1, 2000)) for i in range(count)]
        table = Table("t", (number_column("x", x), *columns))
        figure = new_document(table).figure
        series = tuple(
            Series(f"s{i + 1}", "t", "x", column.name, "points-and-line", i)
            for i, column in enumerate(columns)
        )
        figure = figure.with_panel(evolve(figure.panel, series=series))
        for one in series:
            figure = add_trend(figure, one.id, "line")
        for i in range(60):
            note = series[i % count].id
            figure = add_note(figure, (table,), f"note {i}", series=note, row=30 * i)

        def drawn(figure: Any = figure, table: Any = table) -> None:
            held = hold(figure, (table,), "y", start=-9.0 - next(steps) / 10)
            draw_figure(held, (table,), QtMeasure())

        yield measured("draw: series with trends, 60 notes", count, drawn, goal)


def commands() -> Iterator[Row]:
    """Commands beside a bare interpreter, in processor time."""
    from sornix.demo import demo_text

    bare, floor = [_PYTHON, "-c", "pass"], "python -c pass"
    with TemporaryDirectory() as name:
        folder = Path(name)
        small, out = folder / "standards.csv", str(folder / "o.png")
        small.write_text(demo_text("nitrate-standards"))
        yield command_row("command: --help", [_SORNIX, "--help"], bare, floor, 6)
        yield command_row("command: readings", [_SORNIX, "readings", str(small)], bare, floor, 12)
        plot = [_SORNIX, "plot", str(small), "--out", out]
        yield command_row("command: plot", plot, bare, floor, 25)
        numpy = [_PYTHON, "-c", "import numpy, click, attrs"]
        yield command_row("command: NumPy, click, attrs", numpy, bare, floor, math.inf)


def runs() -> Iterator[Row]:
    """51 runs through a pattern, and one: what each takes after the start, in wall time."""
    from sornix.demo import demo_text

    with TemporaryDirectory() as name:
        folder = Path(name)
        pattern, out = folder / "pattern.sornix", folder / "o"
        files = [folder / f"run-{number}.csv" for number in range(51)]
        for file in files:
            file.write_text(demo_text("nitrate-standards"))
        child_ms([_SORNIX, "plot", str(files[0]), "Trend straight line", "--out", str(pattern)])

        def render(count: int) -> None:
            some = map(str, files[:count])
            child_ms([_SORNIX, "render", str(pattern), "--readings", *some, "--out", str(out)])

        one, whole = (measured("", n, partial(render, n), 0.0, runs=3) for n in (1, 51))
        each = (whole.ms - one.ms) / 50
        yield Row("command: each further run", 0, each, each, 0, 0.0, "", 60.0, absolute=True)


def start() -> Iterator[Row]:
    """The window with a small file painted, beside a bare one, in processor time."""
    from sornix.demo import demo_text

    with TemporaryDirectory() as folder:
        path = Path(folder) / "standards.csv"
        path.write_text(demo_text("nitrate-standards"))
        ours, bare = [_PYTHON, "-c", _OUR_WINDOW, str(path)], [_PYTHON, "-c", _BARE_WINDOW]
        yield command_row("start: the window, painted", ours, bare, "a bare one with NumPy", 1.3)


def fits() -> Iterator[Row]:
    """A line beside one pass of sums, a polynomial beside a bare QR, a formula beside SciPy."""
    from scipy.optimize import least_squares

    from sornix.core.trends import MODELS, ByFormula, ParameterConstraints, Sample, Setting

    random = np.random.default_rng(2)
    for count in _DECADES[3:]:
        x = random.uniform(0, 10, count)
        y = 1 + 2 * x + random.normal(size=count)
        sample = Sample(x, y, np.arange(count))

        def sums(x: np.ndarray = x, y: np.ndarray = y) -> None:
            _ = (x.sum(), y.sum(), (x * x).sum(), (x * y).sum(), (y * y).sum())

        yield measured("fit: straight line", count, partial(MODELS["line"].fit, sample), 4.0,
                       bare=sums, floor="one pass of sums")  # fmt: skip
    count = _DECADES[3]
    x = random.uniform(0, 10, count)
    sample = Sample(x, 1 + 2 * x + random.normal(size=count), np.arange(count))
    basis = np.polynomial.chebyshev.chebvander(x / 5 - 1, 6)
    degree_6 = partial(MODELS["polynomial-6"].fit, sample)
    yield measured("fit: degree 6", count, degree_6, 2.0, bare=partial(np.linalg.qr, basis),
                   floor="QR of the same size", runs=5)  # fmt: skip
    for count in (24, 10_000):
        x = np.sort(random.uniform(0, 10, count))
        y = 1 + 5 * np.exp(-0.4 * x) + random.normal(0, 0.1, count)
        begun = {"c": 0.5, "a": 4.0, "k": 0.6}
        model = ByFormula("formula", "formula", "c + a * exp(-k * x)")
        way = ParameterConstraints(tuple(Setting(n, start=v) for n, v in begun.items()))

        def bare(x: np.ndarray = x, y: np.ndarray = y, begun: dict[str, float] = begun) -> None:
            def off(p: np.ndarray) -> np.ndarray:
                found: np.ndarray = p[0] + p[1] * np.exp(-p[2] * x) - y
                return found

            least_squares(off, list(begun.values()), method="lm")

        yield measured("fit: formula, three parameters", count,
                       partial(model.fit, Sample(x, y, np.arange(count)), way), 10.0,
                       bare=bare, floor="SciPy's damped least squares")  # fmt: skip


_NEAR_STARTS, _REACH = 5, 3.0


def reference_fits() -> Iterator[Row]:
    """Formulas of the reference sets, from both published starts and from some up to threefold off,
    each beside SciPy from the same start: the one whose ratio is in the middle."""
    from scipy.optimize import least_squares

    from sornix.core.trends import ByFormula, ParameterConstraints, Sample, Setting

    random = np.random.default_rng(7)
    rows = []
    for path in sorted(Path("tests/data").glob("*.json")):
        told = json.loads(path.read_text())
        if told["kind"] != "nonlinear":
            continue
        x, y, names = np.array(told["x"], float), np.array(told["y"], float), told["parameters"]
        model = ByFormula("formula", "formula", told["model"].replace("**", "^"))
        code = compile(told["model"], path.name, "eval")
        known = {"x": x, "exp": np.exp, "atan": np.arctan, "pi": math.pi}

        def off(p: np.ndarray, code: Any = code, known: Any = known, names: Any = names,
                y: np.ndarray = y) -> np.ndarray:  # fmt: skip
            found: np.ndarray = eval(code, known | dict(zip(names, p, strict=True))) - y
            return found

        near = _REACH ** random.uniform(-1, 1, (_NEAR_STARTS, len(names)))
        for start in (*told["starts"], *(np.array(told["certified"]["values"]) * near)):
            way = ParameterConstraints(
                tuple(Setting(n, start=float(v)) for n, v in zip(names, start, strict=True))
            )
            rows.append(
                measured("fit: reference sets, the middle one", len(x),
                         partial(model.fit, Sample(x, y, np.arange(len(x))), way), 10.0, runs=5,
                         bare=partial(least_squares, off, start, method="lm"),
                         floor="SciPy's damped least squares")
            )  # fmt: skip
    yield sorted(rows, key=lambda row: row.ratio)[len(rows) // 2]


ROWS: Mapping[str, Callable[[], Iterator[Row]]] = MappingProxyType(
    {
        "commands": commands,
        "start": start,
        "runs": runs,
        "edits": edits,
        "opening": opening,
        "huge": huge,
        "workbook": workbook,
        "labels": labels,
        "looking": looking,
        "exports": exports,
        "fits": fits,
        "reference-fits": reference_fits,
    }
)
