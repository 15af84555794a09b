"""What stays and what goes: widgets, threads, gestures whose thing is gone, files that change."""

import gc
import os
import subprocess
import sys
import threading
import weakref
from collections import Counter
from collections.abc import Callable
from pathlib import Path

from PyQt6 import sip
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt, QTimer
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QApplication, QDialog, QFileDialog, QWidget

from sornix.core import figure as edits
from sornix.core.document import Export, Missing
from sornix.core.figure import (
    AxisBand,
    AxisTitle,
    CurveName,
    Figure,
    GridLine,
    GuideBox,
    NoteBox,
    SeriesName,
    Title,
    TrendLabel,
)
from sornix.gui.actions.saving import CHANGED, HindranceDialog
from sornix.gui.actions.trendacts import write_report
from sornix.gui.base.worker import UNEXPECTED, Worker
from sornix.gui.dialogs.correlationview import CorrelationView
from sornix.gui.dialogs.exportdialog import Chosen
from sornix.gui.dialogs.matchdialog import MatchDialog
from sornix.gui.dialogs.palette import Palette
from sornix.gui.dialogs.printing import PrintDialog
from sornix.gui.session.look import look_at
from sornix.gui.session.scalewords import nudge
from sornix.gui.shell.autosave import Autosave
from tests.qt import QTest, QtTest, WindowTest


class Lasting(WindowTest):
    demo = "light-response"

    def settle(self) -> None:
        super().settle()
        # as the loop of a program does
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)

    def _asks(self) -> dict[str, Callable[[], object]]:
        window = self.window
        missing = [Missing("Light", ("light level", "other"))]
        columns = ("light level", "other")
        path = self.folder / "d.sornix"
        return {
            "export": window.hand_over.ask_export,
            "print": window.hand_over.ask_print,
            "preferences": window.ask_preferences,
            "match": lambda: MatchDialog(window.frame, "a.csv", missing, columns, print),
            "hindrance": lambda: HindranceDialog(window.frame, path, CHANGED, print),
            "size": window.menus.actions["size"].trigger,
            "formula": window.menus.actions["compute"].trigger,
            "summary": window.menus.actions["summary"].trigger,
            "correlations": window.readings.correlate,
            "open": window.ask_open,
            "rename": window.readings.rename_table,
            "save as": window.saving.save_as,
            "losing": lambda: window.files.ask_before_losing("x", print, print),
            "palette": window.finding.find_act,
        }

    def test_no_widget_of_a_closed_dialog_is_alive(self) -> None:
        gc.collect()
        was_on = gc.isenabled()
        gc.disable()
        self.addCleanup(gc.enable if was_on else gc.disable)
        for name, ask in self._asks().items():
            before = {id(widget) for widget in QApplication.allWidgets()}
            ask()
            self.settle()
            fresh = [w for w in QApplication.allWidgets() if id(w) not in before]
            self.assertTrue(fresh, name)
            kept = [(type(widget).__name__, weakref.ref(widget)) for widget in fresh]
            del fresh
            for dialog in QApplication.topLevelWidgets():
                if isinstance(dialog, QDialog) and dialog.isVisible():
                    dialog.close()
            for palette in self.window.frame.findChildren(Palette):
                last = palette.list.topLevelItemCount() - 1
                down, up, far = Qt.Key.Key_Down, Qt.Key.Key_Up, last + 2
                for key, times, row in ((down, 2, 2), (up, 1, 1), (up, 3, 0), (down, far, last)):
                    for _ in range(times):
                        QTest.keyClick(palette.field, key)
                    found = palette.list.currentItem()
                    self.assertEqual(palette.list.indexOfTopLevelItem(found), row)
                QTest.keyClick(palette.field, Qt.Key.Key_Escape)
            dialog = palette = None  # type: ignore[assignment]
            self.window.hand_over.dialog = None
            self.settle()
            alive = Counter(kind for kind, widget in kept if widget() is not None)
            self.assertEqual(alive, {}, name)

    # -- what is gone while the hand is on it ---------------------------------------------------

    def _press(self, widget: QWidget, at: QPointF, kind: QEvent.Type) -> None:
        button = Qt.MouseButton.LeftButton
        event = QMouseEvent(
            kind, at, widget.mapToGlobal(at), button, button, Qt.KeyboardModifier(0)
        )
        QApplication.sendEvent(widget, event)

    def test_a_drag_ends_when_its_thing_is_removed(self) -> None:
        paper, tables = self.panes.paper, self.window.bench.tables
        self.window.edit("trend", lambda f: edits.add_trend(f, "s1"))
        self.window.edit("guide", lambda f: edits.add_guide(f, tables, "y", 5.0, label="limit"))
        self.settle()
        drawing = paper.drawing
        assert drawing is not None
        boxes = {box.of: box.rect for box in drawing.boxes}
        for of in (TrendLabel("t1"), GuideBox("g1"), AxisBand("x")):
            at = paper.pixels(boxes[of]).center()
            with self.subTest(of):
                self._press(paper, at, QEvent.Type.MouseButtonPress)
                self._press(paper, at + QPointF(0, -20), QEvent.Type.MouseMove)
                for _ in range(5):
                    self.window.bench.undo()
                self._press(paper, at + QPointF(0, -40), QEvent.Type.MouseMove)
                self._press(paper, at + QPointF(0, -40), QEvent.Type.MouseButtonRelease)
                for _ in range(5):
                    self.window.bench.redo()
                self.settle()

    def test_an_axis_is_dragged_to_the_end_of_the_calendar_and_no_farther(self) -> None:
        self.window.open_demo("buoy-week")
        self.settle()
        bench, paper = self.window.bench, self.panes.paper
        tables = bench.tables
        for year in (2e9, 2.5e11):
            self.window.edit(
                "far",
                lambda f, y=year: edits.hold(f, tables, "x", start=-6.2e10, end=y),  # type: ignore[misc]
            )
        self.settle()
        drawing = paper.drawing
        assert drawing is not None
        at = paper.pixels(next(b.rect for b in drawing.boxes if b.of == AxisBand("x"))).center()
        self._press(paper, at, QEvent.Type.MouseButtonPress)
        for step in (30, 300, -300, 3000):
            self._press(paper, at + QPointF(step, 0), QEvent.Type.MouseMove)
        self._press(paper, at + QPointF(3000, 0), QEvent.Type.MouseButtonRelease)
        for way in (1, -1):
            for part in ("start", "end"):
                nudge(bench, "x", part, way)
            self.panes.editor.wheel.stretch_axis("x", (-50.0, 60.0), "")
        bench.cancel()
        self.assertIsNone(look_at(drawing.place, {"x": (-50.0, 60.0)}))

    def test_a_look_that_was_left_can_still_be_let_go(self) -> None:
        paper = self.panes.paper
        at = paper.pixel(400.0, 5.0)
        QTest.mousePress(paper, Qt.MouseButton.MiddleButton, pos=at.toPoint())
        paper.leave_look()
        QTest.mouseMove(paper, at.toPoint() + QPoint(30, 30))
        QTest.mouseRelease(paper, Qt.MouseButton.MiddleButton, pos=at.toPoint() + QPoint(30, 30))
        paper.step_back()
        self.assertIsNone(paper.look)

    def test_a_text_goes_to_the_panel_that_it_was_opened_for(self) -> None:
        self.window.open_demo("buoy-week")
        self.settle()
        bench = self.window.bench
        bench.take_in_hand(1)
        writing = self.panes.editor.writing
        writing.take_text(AxisTitle("y"), None, 0, "Height (m)")
        assert bench.document is not None
        titles = [panel.y.title for panel in bench.document.figure.panels]
        self.assertEqual(titles, ["Height (m)", None, None])
        self.assertEqual(bench.document.figure.hand, 1)
        # and one about something that is gone goes nowhere
        self.window.edit("note", lambda f: edits.add_note(f, bench.tables, "here", x=1.0, y=1.0))
        bench.undo()
        before = bench.document
        for of in (NoteBox("n1"), GuideBox("g1"), SeriesName("s9"), CurveName("c1")):
            writing.take_text(of, None, 1, "there")
        writing.take_text(Title(), None, 7, "there")
        self.assertEqual(bench.document, before)

    def test_what_no_part_can_have_is_refused_in_words(self) -> None:
        said: list[str] = []
        bench = self.window.bench
        bench.refused.connect(said.append)
        before = bench.document
        for width in (0.0, -1.0, 20.0):

            def widen(figure: Figure, width: float = width) -> Figure:
                return edits.change_axis_look(figure, "x", major=GridLine(width_mm=width))

            self.window.edit("width", widen)
        self.window.edit("gone", lambda f: edits.change_trend(f, "t9", extended=True))
        self.assertTrue(bench.document is before)
        self.assertIn("must be", said[0])
        self.assertIn("no longer", said[3])

    def test_correlations_that_come_too_late_and_a_printer_that_is_not_there(self) -> None:
        self.window.open_demo("lake-survey")
        self.settle()
        self.window.readings.correlate()
        view = self.dialog(CorrelationView)
        view.show_method("spearman")
        view.close()
        self.settle()
        self.window.hand_over.ask_print()
        dialog = self.dialog(PrintDialog)
        dialog.print_to(self.folder / "no" / "such" / "sheet.pdf")
        self.assertIn("could not be written", dialog.said.text())
        dialog.print_to(self.folder / "sheet.pdf")
        self.assertTrue((self.folder / "sheet.pdf").read_bytes().startswith(b"%PDF"))
        dialog.close()

    def test_a_window_at_rest_does_nothing(self) -> None:
        self.window.edit("trend", lambda f: edits.add_trend(f, "s1", "logistic"))
        self.wait_until(lambda: not self.window.bench.fitter.is_busy, "it was fitted")
        self.settle()
        timers = [one for one in gc.get_objects() if isinstance(one, QTimer)]
        on = [one for one in timers if not sip.isdeleted(one) and one.isActive()]
        again = [one for one in on if not one.isSingleShot() and one.interval() < 200]
        self.assertEqual(again, [])

    # -- closing --------------------------------------------------------------------------------

    def test_closing_waits_for_what_is_written_and_for_no_reading(self) -> None:
        gate, wrote = threading.Event(), threading.Event()
        self.addCleanup(gate.set)
        pipe = self.folder / "pipe.csv"
        os.mkfifo(pipe)
        self.window.open_path(pipe)

        def write() -> None:
            gate.wait(20)
            wrote.set()

        worker = self.window.worker
        other = self.new_window()
        other.open_path(pipe)
        other.close_without_asking()
        self.assertFalse(other.worker.is_busy, "a read that may never end is given up")
        worker.cancel()
        worker.start("writing…", write, lambda _: None, lambda _: None, writes=True)
        worker.cancel()
        self.assertTrue(worker.is_writing, "what is written is not given up")
        threading.Timer(0.2, gate.set).start()
        self.window.close_without_asking()
        self.assertTrue(wrote.is_set())
        # so that the thread that waits for the pipe comes to an end with this test
        for _ in range(2):
            handle = os.open(pipe, os.O_RDWR | os.O_NONBLOCK)
            os.write(handle, b"a,b\n1,2\n")
            os.close(handle)

    def test_a_program_ends_though_a_read_does_not(self) -> None:
        pipe = self.folder / "pipe.csv"
        os.mkfifo(pipe)
        code = (
            "import sys\nfrom pathlib import Path\nfrom PyQt6.QtCore import QTimer\n"
            "from sornix.gui.shell.application import open_desk\n"
            "def ready(w):\n"
            "    QTimer.singleShot(300, w.close_without_asking)\n"
            "sys.exit(open_desk([Path(sys.argv[1])], ready=ready))\n"
        )
        environment = {**os.environ, "XDG_CONFIG_HOME": str(self.folder)}
        done = subprocess.run(
            [sys.executable, "-c", code, str(pipe)], timeout=60, check=False, env=environment,
            capture_output=True, text=True,
        )  # fmt: skip
        self.assertEqual((done.returncode, "Traceback" in done.stderr), (0, False), done.stderr)

    def test_the_file_that_readings_come_from_is_not_written_to(self) -> None:
        path = self.write("run.csv", "x,y\n" + "".join(f"{i},{2 * i}\n" for i in range(9)))
        raw = path.read_bytes()
        self.open(path)
        scene = self.window.bench.scene
        assert scene is not None
        chosen = Chosen(Export(endings=(".csv",)), self.folder, "run")
        self.window.hand_over.export(scene, chosen)
        self.settle()
        self.assertIn("not written to", self.panes.message.label.text())
        self.window.edit("trend", lambda f: edits.add_trend(f, "s1"))
        self.settle()
        write_report(self.window, path)
        self.window.readings.save_table()
        dialog = self.dialog(QFileDialog)
        dialog.fileSelected.emit(str(path))
        dialog.close()
        self.settle()
        self.assertEqual(path.read_bytes(), raw)

    def test_a_safety_copy_that_cannot_be_written_is_said_and_tried_again(self) -> None:
        root = self.folder / "state"
        root.write_text("a file where the folder belongs")
        keeper = Autosave(self.window, root)
        self.addCleanup(keeper.close)
        keeper.keep()
        self.settle()
        self.assertFalse(self.panes.message.isVisible(), "what is not changed is not copied")
        self.window.edit("titled", lambda f: edits.set_title(f, "Kept at last"))
        bar = self.panes.message
        self.wait_until(lambda: "could not be written" in bar.label.text(), "it was said")
        root.unlink()
        self.wait_until(lambda: list(root.glob("*/copy.json")), "it was tried again")

    # -- files that are followed ----------------------------------------------------------------

    def _follow(self, name: str, content: bytes) -> Path:
        path = self.folder / name
        path.write_bytes(content)
        self.open(path)
        table = self.window.bench.tables[0]
        self.window.readings.follower.follow(table, on=True)
        return path

    def _rows(self, count: int) -> None:
        self.wait_until(
            lambda: self.window.bench.tables[0].row_count == count, f"{count} rows were read"
        )

    def test_a_logger_that_begins_anew_is_followed(self) -> None:
        lines = [f"{i},{i * 1.5}\n" for i in range(40)]
        path = self._follow("log.csv", ("t,y\n" + "".join(lines[:9])).encode())
        path.rename(self.folder / "log.1.csv")
        follower = self.window.readings.follower
        self.settle()
        self.assertTrue(follower.is_followed(self.window.bench.tables[0]), "it comes again")
        path.write_text("t,y\n")
        self.settle()
        self.assertEqual(self.window.bench.tables[0].row_count, 9, "what was there stays")
        with path.open("a") as file:
            file.writelines(lines[:4])
        self._rows(4)
        other = self.folder / "other.csv"
        other.write_text("t,y\n" + "".join(lines[:7]))
        other.replace(path)
        self._rows(7)
        path.write_text("t,y\n" + "".join(lines[:3]))
        self._rows(3)

    def test_a_logger_in_utf_16_is_followed_line_by_line(self) -> None:
        path = self._follow("wide.csv", "t,y\n1,2\n2,4\n".encode("utf-16"))
        with path.open("ab") as file:
            file.write("3,6\n4,1".encode("utf-16-le"))
        self._rows(3)
        with path.open("ab") as file:
            file.write("2.5\n".encode("utf-16-le"))
        self._rows(4)
        self.assertEqual(self.window.bench.tables[0].column("y").cells()[-1], "12.5")


class Elsewhere(QtTest):
    def test_nothing_leaves_a_thread_but_as_a_value(self) -> None:
        worker = Worker()
        told: list[object] = []
        raised: list[BaseException] = []
        sys.excepthook = lambda _kind, error, _trace: raised.append(error)

        class Foreign(BaseException):
            """As the runtime of another language raises."""

        def raising(error: BaseException) -> Callable[[], None]:
            def work() -> None:
                raise error

            return work

        for error in (Foreign("a panic"), SystemExit(3), KeyboardInterrupt(), ValueError("x")):
            worker.start("…", raising(error), told.append, told.append)
        worker.start("…", raising(MemoryError()), told.append, told.append)
        worker.start("…", lambda: "a result", told.append, told.append)
        worker.wait()
        self.assertEqual(told[:4], [UNEXPECTED] * 4)
        self.assertIn("not enough memory", str(told[4]))
        self.assertEqual((told[5], len(raised)), ("a result", 4))

    def test_work_is_let_go_of_in_the_interface_thread(self) -> None:
        class Held(QWidget):
            gone_in: list[threading.Thread]

            def __del__(self) -> None:
                self.gone_in.append(threading.current_thread())

        here = threading.current_thread()
        gone: list[threading.Thread] = []
        Held.gone_in = gone
        told: list[object] = []
        for given_up in (False, True) * 20:
            worker, widget = Worker(), Held()
            worker.start("…", lambda w=widget: w.width() and None, told.append, told.append)  # type: ignore[misc]
            del widget
            if given_up:
                worker.cancel()
            worker.wait()
            self.happens(lambda: not threading.active_count() - 1, 2)
            QApplication.processEvents()
        self.assertEqual((set(gone), len(gone)), ({here}, 40))

    def happens(self, what: Callable[[], object], seconds: float) -> None:
        for thread in threading.enumerate():
            if thread.name == "sornix work":
                thread.join(seconds)
        self.assertTrue(what())
