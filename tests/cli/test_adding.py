"""What is added from outside is there everywhere: statement, menus, commands, schema, help."""

import json
import os
import re
import subprocess
import sys
from pathlib import Path

from tests.base import DATA, SornixTest

ROOT = Path(__file__).parents[2]
_USE = """
import json, runpy, sys
from pathlib import Path
runpy.run_path(sys.argv[1])
from PyQt6.QtWidgets import QApplication
from sornix.core import figure as edits
from sornix.core.cautions import find_cautions
from sornix.core.document.stored.schema import figure_schema
from sornix.core.drawing.parts.items import Path as Line
from sornix.core.trends import MODELS
from sornix.gui.base.settings import Settings
from sornix.gui.base.theme import LIGHT
from sornix.gui.dialogs.exportdialog import ExportDialog
from sornix.gui.shell.application import make_application
from sornix.gui.shell.frame import Frame
from sornix.gui.shell.menus import window_acts
from sornix.gui.shell.window import Window

application = make_application()
Path("run.pairs").write_text("".join(f"{x}={9 - x * x / 20}\\n" for x in range(12)))
window = Window(Frame(LIGHT), Settings(Path("settings.json")), window_acts)
window.frame.show()
window.open_path(Path("run.pairs"))

def settle():
    for _ in range(40):
        QApplication.processEvents()
    while window.worker.is_busy or window.bench.fitter.is_busy:
        QApplication.processEvents()

while window.bench.scene is None:
    QApplication.processEvents()
tables = window.bench.tables
window.edit("drops", lambda f: edits.set_mark(f, tables, "s1", "drops"))
window.edit("root", lambda f: edits.set_kind(f, tables, "x", "root"))
window.edit("trend", lambda f: edits.add_trend(f, "s1", "inverse-rise"))
settle()
scene = window.bench.scene
statement = window.panes.statement
mark = statement.plots[0].mark
added = ("drops", "root", "inverse-rise", ".told")
schema = json.dumps(figure_schema())
line = next(i for i in scene.drawing.items if isinstance(i, Line) and "s1" in i.of)
places = scene.place.x.position(scene.tables[0].columns[0].numbers)
dialog = ExportDialog(window.frame, scene, Path.cwd(), "run", lambda chosen: None)
told = {
    "read": [c.name for c in tables[0].columns],
    "mark in the statement": mark.text(),
    "drawn": len(line.points),
    "kind in the statement": [w.text() for w in statement.findChildren(type(mark))],
    "places": [round(float(v), 3) for v in places[:5] / places[4]],
    "acts": [a.text() for _, _, a in window.menus.listed],
    "equation": [e.text for e in scene.place.equations.values()],
    "caution": [f.text for f in find_cautions(
        edits.change_series(scene.figure, tables, "s1", y="x"), tables, scene.drawing)],
    "formats": [box.text().replace("&", "") for box in dialog.formats.values()],
    "schema": [name for name in added if f'"{name}"' in schema],
}
print(json.dumps(told))
"""
_COMMAND = "import runpy, sys; runpy.run_path(sys.argv.pop(1)); from sornix.cli import main; main()"


class Adding(SornixTest):
    def _run(self, code: str, *words: str) -> str:
        environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "COLUMNS": "300"}
        done = subprocess.run(
            [sys.executable, "-c", code, str(DATA / "adding.py"), *words], cwd=self.folder,
            env=environment, capture_output=True, text=True, check=False,
        )  # fmt: skip
        self.assertEqual(done.returncode, 0, done.stderr[-3000:])
        return done.stdout

    def test_each_kind_of_thing_is_there_everywhere(self) -> None:
        told = json.loads(self._run(_USE))
        self.assertEqual(told["read"], ["x", "y"])
        self.assertIn("drops", told["mark in the statement"])
        # two points for each reading but the last
        self.assertEqual(told["drawn"], 23)
        self.assertTrue(any("square root" in words for words in told["kind in the statement"]))
        self.assertEqual(told["places"], [0.0, 0.5, 0.707, 0.866, 1.0])
        self.assertIn("Put an inverse rise through the readings", " ".join(told["acts"]))
        self.assertRegex(told["equation"][0], r"y = .*x")
        self.assertTrue(any("against itself" in words for words in told["caution"]))
        self.assertIn("TOLD, what is on it", told["formats"])
        self.assertEqual(told["schema"], ["drops", "root", "inverse-rise", ".told"])

    def test_commands_and_their_help_know_it(self) -> None:
        (self.folder / "run.pairs").write_text("1=2\n2=3\n3=5\n")
        helped = self._run(_COMMAND, "say", "--words") + self._run(_COMMAND, "fit", "--help")
        for name in ("drops", "square root", "inverse-rise"):
            self.assertRegex(helped, rf"\b{name}\b")
        plot = ("plot", "run.pairs", "Plot y against x as drops; x on a square root scale")
        self._run(_COMMAND, *plot, "--out", "run.told")
        said = (self.folder / "run.told").read_text()
        self.assertRegex(said, r"^\d+ items in 1 panel$")

    def test_the_page_shows_what_is_tried_here(self) -> None:
        page = (ROOT / "docs" / "adding.md").read_text()
        tried = (DATA / "adding.py").read_text()
        blocks = re.findall(r"```python\n(.*?)```", page, re.DOTALL)
        self.assertGreaterEqual(len(blocks), 6)
        for block in blocks:
            self.assertIn(block.strip(), tried)
