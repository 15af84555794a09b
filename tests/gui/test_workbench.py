"""The owner of the truth, gestures, and what is remembered, without a window."""

import io
import sys
import threading
from contextlib import redirect_stderr
from functools import partial

import numpy as np
from attrs import evolve
from hypothesis import given
from hypothesis import strategies as st
from PyQt6 import sip
from PyQt6.QtWidgets import QApplication, QLabel

from sornix.core.document import Export
from sornix.core.errors import EditRefused
from sornix.core.figure import Figure, hold, reverse, set_title
from sornix.core.scales import KINDS
from sornix.demo import demo_document
from sornix.gui.base.settings import Settings
from sornix.gui.base.theme import LIGHT
from sornix.gui.base.worker import UNEXPECTED, Worker
from sornix.gui.canvas.gestures import stretched
from sornix.gui.dialogs.palette import matches
from sornix.gui.session.look import look_at, looked_at
from sornix.gui.session.scalewords import nudge
from sornix.gui.session.workbench import Workbench
from sornix.gui.shell.application import survive
from sornix.gui.shell.frame import Frame
from sornix.paint.measure import QtMeasure
from tests.base import SornixTest
from tests.qt import QtTest


class Truth(QtTest):
    def setUp(self) -> None:
        super().setUp()
        self.bench = Workbench(QtMeasure())
        self.bench.begin(demo_document("nitrate-standards"), path=None, name="t")
        self.told: list[str] = []
        self.bench.changed.connect(lambda: self.told.append("changed"))
        self.bench.previewed.connect(lambda: self.told.append("previewed"))
        self.bench.refused.connect(self.told.append)

    def test_a_gesture_is_one_step_or_none(self) -> None:
        first = self.bench.document
        for number in range(5):
            self.bench.preview(lambda f, n=number: set_title(f, f"Run {n}"))  # type: ignore[misc]
        self.assertEqual(self.told, ["previewed"] * 5)
        self.assertIs(self.bench.document, first)
        self.bench.commit("typed")
        self.assertEqual((self.told[-1], self.bench.undo_name), ("changed", "typed"))
        self.bench.undo()
        self.assertEqual(self.bench.document, first)
        self.bench.preview(lambda f: set_title(f, "never"))
        self.bench.cancel()
        self.assertEqual(self.bench.undo_name, "")
        assert self.bench.scene is not None
        self.assertEqual(self.bench.scene.document, first)
        self.bench.commit("nothing")
        self.assertEqual(self.bench.undo_name, "")

    def test_a_refused_edit_or_preview_leaves_all_as_it_was(self) -> None:
        first = self.bench.document

        def refuse(_figure: Figure) -> Figure:
            raise EditRefused("No.", remedy="Do otherwise.")

        self.assertFalse(self.bench.edit("refused", refuse))
        self.assertEqual(self.told, ["No. Do otherwise."])
        self.bench.preview(refuse)
        self.assertFalse(self.bench.in_gesture)
        self.assertIs(self.bench.document, first)
        self.assertFalse(self.bench.has_unsaved_changes)

    def test_what_is_no_step_of_history_waits_for_the_hand_and_changes_nothing_else(self) -> None:
        first = self.bench.document
        assert first is not None
        grown = evolve(first, export=Export((".png",)))
        empty = Workbench(QtMeasure())
        empty.follow(grown)
        empty.look_at(0)
        empty.take_in_hand(0)
        self.assertIsNone(empty.document)
        self.bench.preview(lambda f: set_title(f, "Run 2"))
        self.bench.follow(grown)
        self.assertIs(self.bench.document, first)
        self.bench.commit("typed")
        self.told.clear()
        for still in (partial(self.bench.take_in_hand, 0), partial(self.bench.look_at, 0),
                      partial(self.bench.look_at, -1), partial(self.bench.look_at, 1)):  # fmt: skip
            still()
        self.assertEqual(self.told, [])
        self.bench.follow(grown)
        self.assertEqual((self.bench.document, self.bench.undo_name), (grown, "typed"))
        self.bench.remember_export(Export((".png",)))
        self.assertEqual(self.told, ["changed"])
        self.bench.remember_export(Export((".svg",)))
        self.assertEqual(self.told, ["changed"] * 2)

    def test_an_end_is_nudged_to_the_next_round_value_or_by_a_part_of_the_axis(self) -> None:
        standards, stages = "nitrate-standards", "stage-discharge"
        for demo, axis, turned in ((standards, "x", False), (standards, "y", True),
                                   (stages, "x", False), (stages, "y", True)):  # fmt: skip
            self.bench.begin(demo_document(demo), path=None, name=demo)
            if turned:
                self.bench.edit("turned", lambda f, a=axis: reverse(f, a))  # type: ignore[misc]
            for part, way in (("start", 1), ("start", -1), ("end", 1), ("end", -1)):
                with self.subTest(f"{demo}, {axis}, {part}, {way}"):
                    scene = self.bench.scene
                    assert scene is not None
                    scale = scene.place.scale(axis)
                    now = getattr(scale, part)
                    nudge(self.bench, axis, part, way)
                    assert self.bench.scene is not None
                    then = getattr(self.bench.scene.figure.panel.scale(axis), part)
                    self.assertEqual(then > now, way > 0)
                    if scale.traits.even:
                        size = scale.step / KINDS[scale.kind].divisions(scale.step)
                        self.assertAlmostEqual(then / size, round(then / size), places=6)
                        self.assertLess(abs(then - now), size * 1.001)
                    else:
                        at, to = scale.position(np.array([now, then]))
                        self.assertAlmostEqual(abs(to - at), 0.02, delta=0.004)
                    self.bench.undo()

    def test_the_same_document_begun_again_has_no_past(self) -> None:
        self.bench.edit("typed", lambda f: set_title(f, "Run 2"))
        self.assertTrue(self.bench.has_unsaved_changes)
        assert self.bench.document is not None
        self.bench.begin(self.bench.document, path=None, name="again")
        self.assertEqual((self.bench.undo_name, self.bench.has_unsaved_changes), ("", False))

    def test_what_was_shown_last_is_shown_again_as_it_was(self) -> None:
        scenes = []
        for title in ("one", "two", "three"):
            self.bench.edit(title, lambda f, t=title: set_title(f, t))  # type: ignore[misc]
            scenes.append(self.bench.scene)
        self.bench.undo()
        self.assertIs(self.bench.scene, scenes[1])
        self.bench.redo()
        self.assertIs(self.bench.scene, scenes[2])

    def test_an_edit_ends_a_gesture_that_was_left_hanging(self) -> None:
        self.bench.preview(lambda f: set_title(f, "half"))
        self.bench.edit("held", lambda f: hold(f, self.bench.tables, "x", end=20))
        assert self.bench.document is not None
        self.assertNotEqual(self.bench.document.figure.title, "half")

    def test_a_look_is_never_in_the_figure(self) -> None:
        scene = self.bench.scene
        assert scene is not None
        look = look_at(scene.place, {"x": (0.25, 0.5)})
        assert look is not None
        self.assertEqual(look.ranges["x"], (3.0, 6.0))
        shown = looked_at(scene, look)
        self.assertEqual((shown.place.x.start, shown.place.x.end), (3.0, 6.0))
        self.assertIs(self.bench.document, scene.document)
        self.assertIsNone(look_at(scene.place, {"x": (0.5, 0.5 + 1e-12)}))


class Unforeseen(QtTest):
    def test_a_bug_in_work_or_in_a_slot_is_told_and_ends_nothing(self) -> None:
        worker = Worker()
        told: list[object] = []

        def fail() -> None:
            raise RuntimeError("a bug")

        heard: list[str] = []
        threading.excepthook, before = (
            lambda a: heard.append(str(a.exc_value)),
            threading.excepthook,
        )
        sys.excepthook, hook = (lambda _k, error, _t: heard.append(str(error))), sys.excepthook
        try:
            worker.start("working…", fail, lambda _: told.append("done"), told.append)
            worker.wait()
            QApplication.processEvents()
        finally:
            threading.excepthook, sys.excepthook = before, hook
        self.assertEqual((told, worker.is_busy), ([UNEXPECTED], False))
        self.assertEqual(heard, ["a bug"])

    def test_who_asked_and_is_gone_is_told_nothing(self) -> None:
        worker = Worker()

        def refuse() -> None:
            raise EditRefused("No.")

        for ended in (lambda: None, refuse):
            asked = QLabel()
            worker.start("working…", ended, asked.setText, partial(asked.setText))
            sip.delete(asked)
            worker.wait()
        self.assertFalse(worker.is_busy)

    def test_the_window_says_that_the_work_is_still_there(self) -> None:
        frame = Frame(LIGHT)
        frame.show()
        with redirect_stderr(io.StringIO()) as said:
            survive(RuntimeError, RuntimeError("a bug"), None)
        self.assertIn("save your work", frame.footer.state.text())
        self.assertIn("a bug", said.getvalue())
        frame.close()


class Small(SornixTest):
    @given(st.sampled_from([0.0, 1.0, 0.4]), st.floats(0.05, 0.95), st.floats(-0.5, 1.5))
    def test_stretching_keeps_what_is_fixed_and_brings_what_is_grasped(
        self, fixed: float, grasped: float, now: float
    ) -> None:
        if abs(grasped - fixed) < 0.05:
            return
        first, last = stretched(fixed, grasped, now)
        width = last - first
        self.assertGreater(width, 0)
        self.assertAlmostEqual((fixed - first) / width, fixed)
        if (now - fixed) / (grasped - fixed) > 0.02:
            self.assertAlmostEqual((grasped - first) / width, now)

    def test_settings_survive_whatever_is_in_their_file(self) -> None:
        path = self.folder / "deep" / "settings.json"
        settings = Settings(path)
        settings.remember(theme="dark", window=[1100, 700])
        kept = self.write("run.csv", "x\n1\n")
        for _ in range(2):
            settings.remember_file(kept)
        settings.remember_file(self.folder / "gone.csv")
        again = Settings(path)
        self.assertEqual((again.text("theme"), again.numbers("window")), ("dark", [1100, 700]))
        self.assertEqual(again.recent, [kept.resolve()])
        for content in ("", "[]", "{broken", '{"theme": 3, "window": "wide", "recent": [1]}'):
            path.write_text(content)
            odd = Settings(path)
            self.assertEqual((odd.text("theme", "desktop"), odd.numbers("window")), ("desktop", []))
            self.assertEqual(odd.recent, [])
        Settings(self.write("file", "x") / "settings.json").remember(theme="light")

    def test_the_palette_finds_by_any_words(self) -> None:
        self.assertTrue(matches("exp fig", "File Export figure…"))
        self.assertTrue(matches("", "anything"))
        self.assertFalse(matches("export table", "File Export figure…"))
