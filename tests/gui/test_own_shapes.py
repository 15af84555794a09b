"""Shapes of the user's own: saved from a formula, kept with the settings, put through other
readings, told by what their parameters mean."""

import numpy as np
from attrs import evolve
from PyQt6.QtWidgets import QInputDialog

from sornix.core.document import load_document, save_document
from sornix.core.errors import EditRefused
from sornix.core.figure import FORMULA, caption, change_trend, trend_fit, waiting
from sornix.core.figure.edits.trendedits import own_shape, put_own_shape
from sornix.core.figure.model.trend import Meaning, OwnShape
from sornix.core.statement import read_statement, write_statement
from sornix.core.trends import Setting
from sornix.demo import demo_document
from sornix.gui.actions.ownstyles import own_shapes
from sornix.gui.base.settings import Settings
from sornix.gui.dialogs.shapedialog import ShapeDialog
from tests.qt import WindowTest

_FORMULA = "c + a * exp(-k * x)"
_SHAPE = OwnShape("Dye to a background", _FORMULA,
                  (Meaning("k", "loss of dye", "1/x"), Meaning("a", "dye at release", "y")),
                  (Setting("k", start=0.1),))  # fmt: skip


class OwnShapes(WindowTest):
    def test_a_formula_is_saved_kept_and_put_through_other_readings(self) -> None:
        self.window.open_demo("tracer-decay")
        self.settle()
        trend = self.figure.panel.trends[0].id
        self.window.edit("formula", lambda f: change_trend(f, trend, model=FORMULA,
                                                           formula=_FORMULA))  # fmt: skip
        self.settle()
        self.window.menus.actions["save-shape"].trigger()
        dialog = self.dialog(ShapeDialog)
        dialog.save.click()
        self.assertIn("needs a name", dialog.wrong.text())
        dialog.name.setText("decay to a background")
        dialog.save.click()
        self.assertIn("already", dialog.wrong.text())
        dialog.name.setText(_SHAPE.name)
        for name, means, unit, start in (
            ("k", "loss of dye", 3, "fast"), ("a", "dye at release", 1, ""),
        ):  # fmt: skip
            fields = dialog.rows[name]
            fields[0].setText(means)
            fields[1].setCurrentIndex(unit)
            fields[2].setText(start)
        dialog.save.click()
        self.assertIn("fast", dialog.wrong.text())
        dialog.rows["k"][2].setText("0.1")
        dialog.save.click()
        self.settle()
        (kept,) = own_shapes(Settings(self.folder / "settings.json"))
        self.assertEqual((kept.name, kept.formula), (_SHAPE.name, _FORMULA))
        self.assertEqual(kept.starts, _SHAPE.starts)
        self.assertEqual(set(kept.meanings), set(_SHAPE.meanings))
        # the card tells the parameters by what they mean
        self.assertIn("loss of dye", self.panes.results.text)
        self.assertIn(_SHAPE.name, self.panes.statement.trends[0].model.text())
        # on other readings, by the same word
        self.window.bench.begin(demo_document("light-response"), path=None, name="light")
        self.settle()
        line = self.panes.statement.trends[0]
        self.choose(line.model, _SHAPE.name)
        self.settle()
        here = self.figure.panel.trends[0]
        self.assertEqual((here.formula, here.called), (_FORMULA, _SHAPE.name))
        with waiting():
            told = caption(self.figure, self.window.bench.tables, {})
        self.assertIn("Dye to a background", told)
        # another shape in its place leaves nothing of it
        self.window.edit("line", lambda f: change_trend(f, here.id, model="line", formula=""))
        now = self.figure.panel.trends[0]
        self.assertEqual((now.called, now.meanings, now.formula), ("", (), ""))
        self.act("remove-shape")
        asked = self.dialog(QInputDialog)
        self.assertIn("trends of it stay as they are", asked.labelText())
        asked.accept()
        self.settle()
        self.assertEqual((self.window.bench.shapes, own_shapes(self.window.settings)), ((), ()))

    def test_it_stands_in_documents_and_statements_with_all_that_it_says(self) -> None:
        document = demo_document("tracer-decay")
        figure = put_own_shape(document.figure, document.figure.panel.trends[0].id, _SHAPE)
        document = evolve(document, figure=figure)
        path = self.folder / "d.sornix"
        save_document(document, path, b"")
        self.assertEqual(load_document(path).figure, figure)
        text = write_statement(figure, document.tables)
        self.assertIn('called "Dye to a background", meaning k "loss of dye" per x, a', text)
        again = read_statement(text, document.tables, document.figure)
        self.assertEqual(again.panel.trends[0].meanings, _SHAPE.meanings)
        usual = change_trend(figure, figure.panel.trends[0].id, model="decay", formula="")
        with waiting():
            fit = trend_fit(figure.panel.trends[0], figure.panel, document.tables)
            known = trend_fit(usual.panel.trends[0], usual.panel, document.tables)
        np.testing.assert_allclose(fit.value("k"), known.value("k"), rtol=1e-6)
        units = dict(zip(fit.names, (p.unit for p in fit.parameters), strict=True))
        self.assertEqual(units["k"], next(p.unit for p in known.parameters if p.name == "k"))
        # another formula is called nothing, and keeps what its parameters mean
        other = change_trend(figure, figure.panel.trends[0].id, formula="a * exp(-k * x)")
        self.assertEqual(other.panel.trends[0].called, "")
        self.assertEqual({m.name for m in other.panel.trends[0].meanings}, {"k", "a"})
        with self.assertRaises(EditRefused):
            own_shape(figure.panel.trends[0], "  ", (), ())
