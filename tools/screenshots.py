"""Makes the pictures in docs/screenshots from the demo data: python tools/screenshots.py [NAME…]"""

import itertools
import os
import sys
import tempfile
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import NamedTuple

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from PyQt6 import sip
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt, QTimer
from PyQt6.QtGui import QImage, QMouseEvent, QPainter
from PyQt6.QtWidgets import QApplication, QMenu, QPushButton, QWidget

from sornix.core import figure as edits
from sornix.core.document import add_copy, add_residuals, name_figure
from sornix.core.figure import NoteBox
from sornix.demo import DEMO_READINGS, demo_document
from sornix.gui.base.settings import Settings
from sornix.gui.base.theme import LIGHT
from sornix.gui.dialogs.correlationview import CorrelationView
from sornix.gui.dialogs.exportdialog import ExportDialog
from sornix.gui.dialogs.reportdialog import ReportDialog
from sornix.gui.session.look import Look
from sornix.gui.shell.application import make_application
from sornix.gui.shell.frame import Frame
from sornix.gui.shell.menus import window_acts
from sornix.gui.shell.thumbnails import Thumbnails
from sornix.gui.shell.window import Window
from sornix.paint.exportfiles import told_of
from sornix.paint.offscreen import drawing_of
from sornix.paint.page.page import page

# The mean difference of two small pictures, of 255 levels, by which they show different things.
_LEAST_DIFFERENCE = 0.3
# Timers that ring within so long are waited for.
_SOON_MS = 400
FOLDER = Path(__file__).resolve().parent.parent / "docs" / "screenshots"


def _calibration(window: Window) -> None:
    window.open_demo("nitrate-standards")


def _held_and_refused(window: Window) -> None:
    """The scale strip on x: one end held, and a step that is refused."""
    _calibration(window)
    settle(window)
    assert window.panes is not None
    window.edit("held", lambda f: edits.hold(f, window.bench.tables, "x", end=12.5))
    window.panes.open_inspector("x")
    step = window.panes.inspector.fields["step"]
    step.field.setText("40")
    step.entered.emit("40")


def _cautions(window: Window) -> None:
    """Readings left out, readings outside a held range, a trend beyond its readings."""
    _calibration(window)
    settle(window)
    assert window.panes is not None
    tables = window.bench.tables
    window.at_reading.leave_out((16,), "bubble in the cuvette")
    window.edit("held", lambda f: edits.hold(f, tables, "x", start=0.0, end=11.0))
    window.edit("reach", lambda f: edits.change_trend(f, "t1", extended=True))
    window.edit("range", lambda f: edits.hold(f, tables, "y", start=0.1))


def _closer_look(window: Window) -> None:
    _calibration(window)
    settle(window)
    assert window.panes is not None
    paper = window.panes.paper
    paper.look_closer(Look({"x": (7.4, 8.6), "y": (0.52, 0.62)}))
    at = paper.pixel(8.0, 0.562)
    _move(paper, at)


def _as_text(window: Window) -> None:
    """The statement as text, with a word that is misspelt, in the dark theme."""
    window.choose_theme("dark")
    window.open_demo("depth-profile")
    settle(window)
    assert window.panes is not None
    window.panes.type_statement()
    editor = window.panes.text.editor
    editor.setPlainText(editor.toPlainText().replace("every 4", "evry 4"))


def _notes(window: Window) -> None:
    """A figure for slides with a note, pins and a source line; the note is in hand."""
    window.open_demo("depth-profile")
    settle(window)
    assert window.panes is not None
    tables = window.bench.tables
    window.edit("pin", lambda f: edits.add_note(f, tables, series="s1", row=2))
    window.edit("pin", lambda f: edits.add_note(f, tables, series="s1", row=34))
    window.edit("note", lambda f: edits.add_note(f, tables, "thermocline", series="s1", row=17))
    window.edit("source", lambda f: edits.set_source(f, "Buoy B2, made-up sample data"))
    window.panes.selection.take(NoteBox("n3"))


def _export(window: Window) -> None:
    _calibration(window)
    settle(window)
    window.hand_over.ask_export()
    dialog = window.hand_over.dialog
    assert isinstance(dialog, ExportDialog)
    for box in dialog.formats.values():
        box.setChecked(True)
    dialog.folder.setText(tempfile.gettempdir())


def _awkward_readings(window: Window) -> None:
    """A logger's export as it comes, what was decided about it above the table, and what else a
    doubtful word could be."""
    lines = [
        "Lake station;probe 7",
        "Serial number;0042",
        "Date;Water temperature (°C);Oxygen (mg/L)",
    ]
    random = np.random.default_rng(4)
    for day in range(1, 13):
        warm, oxygen = 9 + 0.35 * day + random.normal(0, 0.15), 11.2 - 0.1 * day
        lines.append(f"{day:02}/04/2026 08:00;{warm:.2f};{oxygen:.1f}".replace(".", ","))
    lines[8] = "06/04/2026 08:00;-999;10,6"
    window.open_path(_demo_file("probe-7.txt", "\n".join(lines).encode("cp1252")))
    settle(window)
    assert window.panes is not None
    window.panes.table_pane.read_as.words["order"].click()


def _time(window: Window) -> None:
    window.open_demo("buoy-week")


def _bars(window: Window) -> None:
    window.open_demo("snail-counts")


def _report(window: Window) -> None:
    """A report of the standards and their residuals, with its pages."""
    _several_figures(window)
    window.hand_over.ask_report()
    settle(window)
    dialog = window.hand_over.dialog
    assert isinstance(dialog, ReportDialog)
    dialog.title.setText("Nitrate in Brenn Mere, March")
    dialog.date.setText("12 March 2026")
    dialog.folder.setText(tempfile.gettempdir())
    for _ in range(2000):
        settle(window)
        time.sleep(0.005)
        # its pages are painted after they are there
        if dialog.is_drawn and _is_painted(dialog.view):
            break


def _is_painted(widget: QWidget) -> bool:
    """Whether there is something to be seen in the middle of a widget."""
    picture = widget.grab().toImage()
    down = range(picture.height() // 4, picture.height() * 3 // 4)
    return len({picture.pixel(picture.width() // 3, row) for row in down}) > 2


def _read_off(window: Window) -> None:
    """A standard addition to a diluted sample, and chosen x as a table on the figure."""
    _open_readings(window, "copper-addition")
    window.edit("trend", lambda f: edits.add_trend(f, "s1", "line", shows=("equation", "told")))
    window.edit("read off", lambda f: edits.read_off_trend(f, "t1", 0.0))
    window.edit("shown", lambda f: edits.change_trend(f, "t1", shows=("equation", "told")))
    for x in (1.0, 3.0, 5.0):
        window.edit("told", partial(edits.tell_at, trend_id="t1", x=x))
    window.edit("treated", lambda f: edits.treat_samples(
        f, "t1", dilution=5.0, recovery=95.0, recovery_sd=2.0))  # fmt: skip
    settle(window)
    _show_in_ledger(window, "a whole column ▾")


def _several_figures(window: Window) -> None:
    """The standards, their residuals and the replicates apart, with the row between them."""
    window.open_demo("nitrate-standards")
    settle(window)
    bench = window.bench
    bench.edit_document("residuals", lambda d: add_residuals(d, d.figure.panel.trends[0].id))
    bench.edit_document("name", lambda d: name_figure(d, 1, "Residuals"))
    bench.edit_document("copy", lambda d: add_copy(d.looking_at(0)))
    bench.edit("apart", lambda f: edits.split_series(
        edits.remove_trend(f, f.panel.trends[0].id), bench.tables, "s1", "Replicate"))  # fmt: skip
    bench.edit_document("name", lambda d: name_figure(d, 1, "Replicates"))
    bench.look_at(2)
    assert window.panes is not None
    row = window.panes.figures
    for _ in range(100):
        settle(window)
        if row.is_up_to_date:
            break


def _open_readings(window: Window, name: str) -> None:
    """The readings of a demo as a file of their own, drawn as points."""
    window.open_path(_demo_file(f"{name}.csv", DEMO_READINGS[name].make().encode()))
    settle(window)
    tables = window.bench.tables
    window.edit("points", lambda f: edits.set_mark(f, tables, "s1", "points"))


def _show_in_ledger(window: Window, words: str) -> None:
    assert window.panes is not None
    results = window.panes.results
    results.bring_into_sight(
        next(b for b in results.findChildren(QPushButton) if b.text() == words)
    )


def _start(window: Window) -> None:
    """The empty window, once its pictures are there."""
    pictures = Thumbnails(window.frame.start, (), lambda: True)
    while pictures.is_busy:
        QApplication.processEvents()


def _alike(window: Window) -> None:
    """Four bays in one line, each with its trend, and what is single to one of them."""
    random = np.random.default_rng(4)
    bays = {"North bay": 9.1, "East bay": 10.4, "South bay": 11.9, "West bay": 12.6}
    rows = ["Week," + ",".join(f"{bay} (°C)" for bay in bays)]
    for week in range(1, 21):
        warm = (begin + 0.31 * week + random.normal(0, 0.25) for begin in bays.values())
        rows.append(",".join([str(week), *(f"{value:.1f}" for value in warm)]))
    window.open_path(_demo_file("four-bays.csv", "\n".join(rows).encode()))
    settle(window)
    window.edit("trend", lambda f: edits.add_trend(f, "s1", "line"))
    settle(window)
    assert window.panes is not None
    statement = window.panes.statement
    statement.trends[0].through.chosen.emit("each")
    settle(window)
    statement.trends[0].shows.chosen.emit("count")
    settle(window)
    next(reversed(statement.plots[0].swatches.values())).click()


def _crowd(window: Window) -> None:
    """Sixty thousand readings of a buoy, as a shade."""
    random = np.random.default_rng(7)
    day = np.sort(random.uniform(0, 120, 60_000))
    warm = 14 + 6 * np.sin(day / 38) + random.normal(0, 1.2, len(day))
    oxygen = 14.2 - 0.28 * warm + random.normal(0, 0.5, len(day))
    oxygen -= np.where(random.random(len(day)) < 0.25, 1.8 + random.normal(0, 0.4, len(day)), 0)
    rows = [f"{t:.3f},{o:.3f}" for t, o in zip(warm, oxygen, strict=True)]
    text = "\n".join(["Water temperature (°C),Dissolved oxygen (mg/L)", *rows])
    window.open_path(_demo_file("buoy-summer.csv", text.encode()))
    settle(window)
    window.edit("trend", lambda f: edits.add_trend(f, "s1", "line"))


def _comparing(window: Window) -> None:
    """Shapes through the same readings, side by side."""
    path = _demo_file("stage-discharge.csv", DEMO_READINGS["stage-discharge"].make().encode())
    window.open_path(path)
    settle(window)
    assert window.panes is not None
    tables = window.bench.tables
    window.edit("x", lambda f: edits.change_series(f, tables, "s1", x="Water height", y="Flow"))
    window.edit("points", lambda f: edits.set_mark(f, tables, "s1", "points"))
    window.edit("trend", lambda f: edits.add_trend(f, "s1", "polynomial-2"))
    settle(window)
    window.panes.compare("t1")
    settle(window)


def _correlations(window: Window) -> None:
    window.open_demo("lake-survey")
    settle(window)
    window.readings.correlate()


def _demo_file(name: str, content: bytes) -> Path:
    path = Path(tempfile.mkdtemp()) / name
    path.write_bytes(content)
    return path


class View(NamedTuple):
    """A picture: what brings it about, how the window or dialog is titled that it shows, and of
    which kind that is, if it is a dialog."""

    show: Callable[[Window], None]
    title: str
    kind: type[QWidget] = Frame


VIEWS: dict[str, View] = {
    "calibration": View(_calibration, "Nitrate standards – Sornix"),
    "scale-strip": View(_held_and_refused, "Nitrate standards – Sornix"),
    "closer-look": View(_closer_look, "Nitrate standards – Sornix"),
    "cautions": View(_cautions, "Nitrate standards – Sornix"),
    "as-text": View(_as_text, "Depth profile – Sornix"),
    "notes": View(_notes, "Depth profile – Sornix"),
    "export": View(_export, "Export the figure", ExportDialog),
    "alike": View(_alike, "four-bays – Sornix"),
    "several-figures": View(_several_figures, "Nitrate standards – Sornix"),
    "readings": View(_awkward_readings, "probe-7 – Sornix"),
    "time": View(_time, "Buoy week – Sornix"),
    "bars": View(_bars, "Snail counts – Sornix"),
    "crowd": View(_crowd, "buoy-summer – Sornix"),
    "report": View(_report, "A report of this document", ReportDialog),
    "read-off": View(_read_off, "copper-addition – Sornix"),
    "comparing": View(_comparing, "stage-discharge – Sornix"),
    "start": View(_start, "Sornix"),
    "correlations": View(_correlations, "Correlations in Chemistry", CorrelationView),
}
# A page in a browser is no window of ours; its picture is made where there is Chromium.
PAGE, PAGE_TITLE = "page", "Rating of the Ashel, 40 gaugings"
SIZE = (1280, 800)


def _move(widget: QWidget, at: QPointF) -> None:
    """The pointer over a place of a widget."""
    event = QMouseEvent(
        QEvent.Type.MouseMove,
        at,
        widget.mapToGlobal(at),
        Qt.MouseButton.NoButton,
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
    )
    QApplication.sendEvent(widget, event)


def settle(window: Window) -> None:
    QApplication.processEvents()
    while window.worker.is_busy or window.bench.fitter.is_busy:
        # what is waited for works in a thread, which gets on while this one sleeps
        time.sleep(0.0005)
        QApplication.processEvents()
    for _ in range(20):
        QApplication.processEvents()
    # what is told when the hand rests rings at once, in the order in which it would; to look for
    # timers in a whole window takes longer than most of them
    timers = window.frame.findChildren(QTimer)
    while soon := [timer for timer in timers if not sip.isdeleted(timer) and _will_ring(timer)]:
        first = min(soon, key=QTimer.remainingTime)
        pause = first.interval()
        first.start(0)
        QApplication.processEvents()
        if not sip.isdeleted(first):
            first.setInterval(pause)


def _will_ring(timer: QTimer) -> bool:
    return timer.isActive() and timer.isSingleShot() and timer.interval() < _SOON_MS


def take(
    name: str,
    folder: Path,
    look: Callable[[list[QWidget]], None] = lambda _: None,
    view: View | None = None,
) -> str:
    """Takes a picture, and lets somebody `look` at the windows that are open; gives what is wrong
    with it, or ""."""
    view = view or VIEWS[name]
    # one that blinks is there at times
    QApplication.setCursorFlashTime(0)
    frame = Frame(LIGHT)
    frame.resize(*SIZE)
    frame.show()
    window = Window(frame, Settings(Path(tempfile.mkdtemp()) / "settings.json"), window_acts)
    settle(window)
    view.show(window)
    settle(window)
    shown = [w for w in QApplication.topLevelWidgets() if w.isVisible() and w.isWindow()]
    # what was said last may still wait for its room
    QApplication.sendPostedEvents(None, QEvent.Type.LayoutRequest.value)
    look(shown)
    found = [w for w in shown if isinstance(w, view.kind)]
    problem = ""
    if len(found) != 1:
        problem = f"{len(found)} windows of its kind are open"
    elif found[0].windowTitle() != view.title:
        problem = f"it is titled “{found[0].windowTitle()}”, not “{view.title}”"
    elif view.kind is Frame and (found[0].width(), found[0].height()) != SIZE:
        problem = f"it is {found[0].width()} × {found[0].height()}"
    else:
        picture = found[0].grab().toImage()
        for menu in (w for w in shown if isinstance(w, QMenu)):
            # a menu is a window of its own, which lies above
            painter = QPainter(picture)
            corner = menu.mapToGlobal(QPoint()) - found[0].mapToGlobal(QPoint())
            painter.drawPixmap(corner, menu.grab())
            painter.end()
        # the picture says itself what it is of, and a test compares that
        picture.setText("Title", view.title)
        picture.save(str(folder / f"{name}.png"))
    window.close_without_asking()
    for widget in shown:
        widget.close()
        widget.deleteLater()
    # nothing of this view may be there when the next one is taken
    del window, frame, shown, found
    QApplication.processEvents()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    return problem


def take_page(folder: Path) -> str:
    """Takes the picture of a page with a closer look and a reading that is pointed at; gives what
    is wrong with it, or ""."""
    # this is run as a file, beside which the tests are not looked for
    sys.path.insert(0, str(Path(__file__).resolve().parent.parent))
    from tests.chromium import CHROMIUM, Page

    if CHROMIUM is None:
        print("the page is left as it is: there is no Chromium")
        return ""
    document = demo_document("stage-discharge")
    drawing = drawing_of(document)
    path = _demo_file("page.html", page(document, drawing, told_of(document, drawing)))
    seen = Page(path, *SIZE)
    x, y, wide, _ = seen.box("svg")
    scale, inner = wide / drawing.width_mm, drawing.place.inner
    across, down = inner.left + 0.62 * inner.width, inner.top + inner.height / 2
    middle = x + scale * across, y + scale * down
    for _ in range(4):
        seen.point_at(*middle, "mouseWheel", deltaX=0, deltaY=-120)
    seen.ask("document.querySelector('figure').focus()")
    seen.key("ArrowRight", "ArrowRight", "ArrowRight", "ArrowRight")
    picture = QImage.fromData(seen.picture())
    title = seen.ask("document.title")
    seen.close()
    picture.setText("Title", title)
    picture.save(str(folder / f"{PAGE}.png"))
    return "" if title == PAGE_TITLE else f"it is titled “{title}”"


def alike(folder: Path) -> list[str]:
    """The pictures that show the same, or nearly."""
    small = {}
    for path in sorted(folder.glob("*.png")):
        picture = QImage(str(path)).convertToFormat(QImage.Format.Format_RGB32)
        little = picture.scaled(160, 100)
        bits = little.constBits()
        assert bits is not None
        bits.setsize(little.sizeInBytes())
        small[path.name] = np.frombuffer(bits.asstring(), np.uint8).astype(np.int16)
    return [
        f"{one} and {other}"
        for one, other in itertools.combinations(small, 2)
        if np.abs(small[one] - small[other]).mean() < _LEAST_DIFFERENCE
    ]


def main() -> int:
    """Takes all pictures, or those that are named; 1 where one of them is not what it should be."""
    application = make_application()  # noqa: F841 - kept while pictures are taken
    FOLDER.mkdir(parents=True, exist_ok=True)
    problems = []
    for name in sys.argv[1:] or (*VIEWS, PAGE):
        problem = take_page(FOLDER) if name == PAGE else take(name, FOLDER)
        if problem:
            problems.append(f"{name}: {problem}")
    problems += [f"{pair} are alike" for pair in alike(FOLDER)]
    print("\n".join(problems) or "each picture shows what it should")
    sys.stdout.flush()
    os._exit(1 if problems else 0)


if __name__ == "__main__":
    main()
