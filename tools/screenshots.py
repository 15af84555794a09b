"""Makes the pictures in docs/screenshots from the demo data: python tools/screenshots.py [NAME…]"""

import os
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QApplication, QPushButton, QWidget

from sornix.core import figure as edits
from sornix.core.document import add_summary
from sornix.core.readings.grouping import Grouping
from sornix.demo import DEMO_READINGS
from sornix.desk.application import make_application
from sornix.desk.correlationview import CorrelationView
from sornix.desk.exportdialog import ExportDialog
from sornix.desk.frame import Frame
from sornix.desk.helpwindow import HelpWindow
from sornix.desk.look import Look
from sornix.desk.settings import Settings
from sornix.desk.theme import LIGHT
from sornix.desk.window import Window

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "screenshots"


def _calibration(window: Window) -> None:
    window.open_demo("nitrate-standards")


def _held_and_refused(window: Window) -> None:
    """The scale strip on x: one end held, and a step that is refused."""
    _calibration(window)
    _settle(window)
    assert window.panes is not None
    window.edit("held", lambda f: edits.hold(f, window.bench.tables, "x", end=12.5))
    window.panes.open_strip("x")
    step = window.panes.strip.fields["step"]
    step.field.setText("40")
    step.entered.emit("40")


def _cautions(window: Window) -> None:
    """Readings left out, readings outside a held range, a trend beyond its readings."""
    _calibration(window)
    _settle(window)
    assert window.panes is not None
    tables = window.bench.tables
    window.at_reading.leave_out((16,), "bubble in the cuvette")
    window.edit("held", lambda f: edits.hold(f, tables, "x", start=0.0, end=11.0))
    window.edit("reach", lambda f: edits.change_trend(f, "t1", extended=True))
    window.edit("range", lambda f: edits.hold(f, tables, "y", start=0.1))


def _closer_look(window: Window) -> None:
    _calibration(window)
    _settle(window)
    assert window.panes is not None
    paper = window.panes.paper
    paper.look_closer(Look({"x": (7.4, 8.6), "y": (0.52, 0.62)}))
    at = paper.pixel(8.0, 0.562)
    _move(paper, at)


def _dark(window: Window) -> None:
    window.choose_theme("dark")
    window.open_demo("depth-profile")


def _notes(window: Window) -> None:
    """A figure for slides with a note, pins and a source line; the note is in hand."""
    window.open_demo("depth-profile")
    _settle(window)
    assert window.panes is not None
    tables = window.bench.tables
    window.edit("pin", lambda f: edits.add_note(f, tables, series="s1", row=2))
    window.edit("pin", lambda f: edits.add_note(f, tables, series="s1", row=34))
    window.edit("note", lambda f: edits.add_note(f, tables, "thermocline", series="s1", row=17))
    window.edit("source", lambda f: edits.set_source(f, "Buoy B2, made-up sample data"))
    window.panes.paper.take("note/n3")


def _export(window: Window) -> None:
    _calibration(window)
    _settle(window)
    window.hand_over.ask_export()
    dialog = window.hand_over.dialog
    assert isinstance(dialog, ExportDialog)
    for box in dialog.formats.values():
        box.setChecked(True)
    dialog.folder.setText(tempfile.gettempdir())


def _small_panels(window: Window) -> None:
    """Nine made-up runs of the calibration on one page."""
    _calibration(window)
    _settle(window)
    random = np.random.default_rng(11)
    text = DEMO_READINGS["nitrate-standards"].make().splitlines()
    paths = []
    for run in range(9):
        slope, rows = 1 + random.normal(0, 0.04), [text[0]]
        for line in text[1:]:
            x, y, replicate = line.split(",")
            rows.append(f"{x},{float(y) * slope + random.normal(0, 0.006):.3f},{replicate}")
        paths.append(_demo_file(f"run-{run + 1}.csv", "\n".join(rows).encode()))
    window.hand_over.draw_small_panels(paths)


def _guide(window: Window) -> None:
    _calibration(window)
    _settle(window)
    window.show_help()
    assert window.help is not None
    window.help.field.setText("snaps")


def _awkward_readings(window: Window) -> None:
    """A logger's export as it comes, with what was decided about it above the table."""
    probe = DEMO_READINGS["probe-semicolon"]
    window.open_path(_demo_file("probe-semicolon.txt", probe.make().encode(probe.encoding)))


def _time(window: Window) -> None:
    window.open_demo("buoy-week")


def _bars(window: Window) -> None:
    window.open_demo("snail-counts")


def _theory(window: Window) -> None:
    window.open_demo("light-response")


def _decay(window: Window) -> None:
    """A trend over a range that is dragged, with its further lines open."""
    window.open_demo("tracer-decay")
    _settle(window)
    assert window.panes is not None
    window.edit("held", lambda f: edits.change_setting(f, "t1", "c", low=0.0))
    window.panes.statement.open_trend("t1")


def _read_off(window: Window) -> None:
    """An unknown read off a calibration, and every number of the line."""
    _calibration(window)
    _settle(window)
    assert window.panes is not None
    window.edit("read off", lambda f: edits.read_off_trend(f, "t1", 0.677, 2))
    _settle(window)
    ledger = window.panes.ledger
    button = next(b for b in ledger.findChildren(QPushButton) if b.text() == "a whole column ▾")
    ledger.bring_into_sight(button)


def _comparing(window: Window) -> None:
    """Shapes through the same readings, side by side."""
    path = _demo_file("stage-discharge.csv", DEMO_READINGS["stage-discharge"].make().encode())
    window.open_path(path)
    _settle(window)
    assert window.panes is not None
    tables = window.bench.tables
    window.edit("x", lambda f: edits.change_series(f, tables, "s1", x="Water height", y="Flow"))
    window.edit("points", lambda f: edits.set_mark(f, tables, "s1", "points"))
    window.edit("trend", lambda f: edits.add_trend(f, "s1", "polynomial-2"))
    _settle(window)
    window.panes.ledger.compare("t1")
    _settle(window)
    window.panes.ledger.compare("t1")


def _log_scales(window: Window) -> None:
    """A rate against the reciprocal of the temperature, and the strip of that scale."""
    window.open_demo("respiration-temperature")
    _settle(window)
    assert window.panes is not None
    window.panes.open_strip("x")


def _summary(window: Window) -> None:
    """The tray widened to a table: a summary that follows its readings."""
    window.open_path(_demo_file("snail-counts.csv", DEMO_READINGS["snail-counts"].make().encode()))
    _settle(window)
    assert window.panes is not None
    window.panes.tray.edit("repaired", "repair", column="Snails", form="unit", way="strip")
    grouping = Grouping("snail-counts", ("Site", "Planting"), ("Snails",), ("mean", "SD", "n"))
    window.bench.edit_document("summarised", lambda d: add_summary(d, grouping))
    window.readings.show_table("snail-counts by Site, Planting")
    window.panes.setSizes([470, 560, 250])


def _correlations(window: Window) -> None:
    window.open_demo("lake-survey")
    _settle(window)
    window.readings.correlate()


def _demo_file(name: str, content: bytes) -> Path:
    path = Path(tempfile.mkdtemp()) / name
    path.write_bytes(content)
    return path


VIEWS: dict[str, Callable[[Window], None]] = {
    "calibration": _calibration,
    "scale-strip": _held_and_refused,
    "closer-look": _closer_look,
    "cautions": _cautions,
    "dark": _dark,
    "notes": _notes,
    "export": _export,
    "small-panels": _small_panels,
    "guide": _guide,
    "readings": _awkward_readings,
    "time": _time,
    "bars": _bars,
    "theory": _theory,
    "decay": _decay,
    "read-off": _read_off,
    "comparing": _comparing,
    "log-scales": _log_scales,
    "summary": _summary,
    "correlations": _correlations,
}


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


def _settle(window: Window) -> None:
    QApplication.processEvents()
    while window.worker.is_busy or window.bench.fitter.is_busy:
        QApplication.processEvents()
    for _ in range(20):
        QApplication.processEvents()


def main() -> None:
    application = make_application()
    FOLDER.mkdir(parents=True, exist_ok=True)
    for name in sys.argv[1:] or VIEWS:
        frame = Frame(LIGHT)
        frame.show()
        window = Window(frame, Settings(Path(tempfile.mkdtemp()) / "settings.json"))
        _settle(window)
        VIEWS[name](window)
        _settle(window)
        kinds = (CorrelationView, ExportDialog, HelpWindow)
        dialogs = [w for w in QApplication.topLevelWidgets() if isinstance(w, kinds)]
        shown: QWidget = dialogs[0] if dialogs else frame
        shown.grab().save(str(FOLDER / f"{name}.png"))
        for dialog in dialogs:
            dialog.close()
        window.close_without_asking()
    application.quit()


if __name__ == "__main__":
    main()
