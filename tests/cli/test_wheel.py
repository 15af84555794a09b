"""What is installed is whole: everything that the window and the commands need is in the wheel."""

import os
import re
import subprocess
import sys
import tarfile
import tomllib
import zipfile
from pathlib import Path

from flit_core.buildapi import build_sdist, build_wheel

from tests.base import SornixTest

ROOT = Path(__file__).parents[2]
# run where no part of the project is near: the guide with its pictures, a demo in a window
_USE = """
import sys
from pathlib import Path
import sornix
from sornix.data import data_path
from sornix.desktop_entry import icon_path
assert Path(sornix.__file__).is_relative_to(sys.argv[1]), sornix.__file__
assert data_path("figure.schema.json").stat().st_size > 1000
from PyQt6.QtGui import QImage, QTextDocument
from PyQt6.QtWidgets import QApplication
from sornix.gui.base.settings import Settings
from sornix.gui.base.theme import LIGHT
from sornix.gui.shell.application import make_application
from sornix.gui.shell.frame import Frame
from sornix.gui.shell.menus import window_acts
from sornix.gui.shell.window import Window
application = make_application()
window = Window(Frame(LIGHT), Settings(Path("settings.json")), window_acts)
window.frame.show()
window.open_demo("nitrate-standards")
while window.bench.scene is None:
    QApplication.processEvents()
window.finding.show_help()
guide = window.finding.help.text
assert "is missing" not in guide.toPlainText()
pictures = [p for p in guide.toMarkdown().split("](") if p.startswith("screenshots/")]
assert len(pictures) > 9, pictures
for picture in pictures:
    assert not QImage(str(data_path(picture.split(")")[0]))).isNull(), picture
assert not QImage(str(icon_path())).isNull()
print(window.bench.scene.figure.title)
"""


class Wheel(SornixTest):
    def _run(self, *command: str) -> str:
        environment = {
            **os.environ, "PYTHONPATH": str(self.folder / "there"), "QT_QPA_PLATFORM": "offscreen",
        }  # fmt: skip
        done = subprocess.run(
            [sys.executable, *command], cwd=self.folder / "empty", env=environment,
            capture_output=True, text=True, check=False,
        )  # fmt: skip
        self.assertEqual(done.returncode, 0, done.stdout + done.stderr)
        return done.stdout

    def test_an_installed_sornix_has_all_that_it_shows(self) -> None:
        (self.folder / "empty").mkdir()
        before = Path.cwd()
        try:
            os.chdir(ROOT)
            wheel = build_wheel(str(self.folder))
            source = build_sdist(str(self.folder))
        finally:
            os.chdir(before)
        with zipfile.ZipFile(self.folder / wheel) as packed:
            packed.extractall(self.folder / "there")
            names = packed.namelist()
        self.assertIn("sornix/py.typed", names)
        self.assertEqual([n for n in names if not n.startswith(("sornix/", "sornix-"))], [])
        there = str(self.folder / "there")
        self.assertEqual(self._run("-c", _USE, there), "Nitrate standards, 12 March run\n")
        (self.folder / "empty" / "run.csv").write_text("x,y\n1,2\n2,3\n")
        plot = ("plot", "run.csv", "Plot y against x", "--out", "drawn.svg")
        self._run("-c", "from sornix.cli import main; main()", *plot)
        self.assertIn("<svg", (self.folder / "empty" / "drawn.svg").read_text())
        with tarfile.open(self.folder / source) as packed_source:
            inside = {name.partition("/")[2] for name in packed_source.getnames()}
        self.assertLessEqual({"tests/base.py", "check", "requirements/run.lock", "LICENSE"}, inside)

    def test_locks_and_project_agree(self) -> None:
        project = tomllib.loads((ROOT / "pyproject.toml").read_text())
        wanted = {name.partition(">")[0].partition("=")[0].lower() for name in
                  project["project"]["dependencies"]}  # fmt: skip
        asked = (ROOT / "requirements" / "run.in").read_text().lower().split()
        self.assertEqual(wanted | {"flit-core"}, set(asked))
        lock = (ROOT / "requirements" / "run.lock").read_text().lower()
        pinned = dict(re.findall(r"^([\w-]+)==([\d.]+)", lock, re.MULTILINE))
        self.assertLessEqual(wanted, set(pinned))
        for name in project["project"]["dependencies"]:
            word, _, least = name.partition(">=")
            if least:
                self.assertGreaterEqual(
                    [int(part) for part in pinned[word.lower()].split(".")[:2]],
                    [int(part) for part in least.split(".")],
                    word,
                )
