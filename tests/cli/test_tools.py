"""The tools that look from outside, in short: the pictures of the docs, and the monkey."""

import os
import re
import subprocess
import sys
from pathlib import Path

from PyQt6.QtGui import QImage

from tests.qt import QtTest
from tools.screenshots import FOLDER, PAGE, PAGE_TITLE, SIZE, VIEWS, alike

ROOT = Path(__file__).parents[2]


class Pictures(QtTest):
    def test_each_shows_what_it_names_and_no_two_are_alike(self) -> None:
        there = {path.stem for path in FOLDER.glob("*.png")}
        self.assertEqual(there, {*VIEWS, PAGE})
        picture = QImage(str(FOLDER / f"{PAGE}.png"))
        self.assertEqual((picture.text("Title"), picture.width()), (PAGE_TITLE, SIZE[0]))
        for name, view in VIEWS.items():
            picture = QImage(str(FOLDER / f"{name}.png"))
            with self.subTest(name):
                self.assertEqual(picture.text("Title"), view.title)
                if view.kind.__name__ == "Frame":
                    self.assertEqual((picture.width(), picture.height()), SIZE)
        self.assertEqual(alike(FOLDER), [])

    def test_every_picture_is_shown_where_it_is_spoken_of(self) -> None:
        readme = (ROOT / "README.md").read_text()
        self.assertEqual(set(re.findall(r"docs/screenshots/([\w-]+)\.png", readme)), {*VIEWS, PAGE})
        guide = (ROOT / "docs" / "guide.md").read_text()
        self.assertLessEqual(set(re.findall(r"screenshots/([\w-]+)\.png", guide)), {*VIEWS, PAGE})


class Walks(QtTest):
    def test_a_monkey_finds_nothing_in_a_short_walk(self) -> None:
        # where both processors are busy, to stand still for a second is no fault of ours
        command = [sys.executable, "-m", "tools.monkey", "--acts", "160", "--seed", "7",
                   "--patience", "5", "--demo", "nitrate-standards", "snail-counts"]  # fmt: skip
        done = subprocess.run(
            command, cwd=ROOT, capture_output=True, text=True, check=False,
            env={**os.environ, "QT_QPA_PLATFORM": "offscreen", "QT_SCALE_FACTOR": "1"},
        )  # fmt: skip
        self.assertEqual(done.returncode, 0, (done.stdout + done.stderr)[-5000:])
        self.assertRegex(done.stdout, r"\d+ acts, 0 faults")
