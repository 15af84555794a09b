"""The page of a figure, pointed at in real Chromium where that is installed."""

import json
import re
import unittest
from pathlib import Path
from typing import Any

import html5lib
import numpy as np
from attrs import evolve
from PyQt6.QtGui import QImage

from sornix.core.document import Document, new_document
from sornix.core.drawing import Drawing, Markers, Rect
from sornix.core.figure import SeriesName, change_series, leave_out, set_title
from sornix.core.readings import Table, number_column
from sornix.demo import DEMOS, demo_document
from sornix.paint.export import image
from sornix.paint.exportfiles import told_of
from sornix.paint.offscreen import drawing_of
from sornix.paint.page.colours import for_dark
from sornix.paint.page.page import page
from tests.chromium import CHROMIUM, Page
from tests.qt import QtTest

_HOSTILE = "\u0007</script><img src=x onerror=document.title='broken'> & \"quoted\" <b>"
# The reading that is told, and the page as a whole.
_TOLD = "document.getElementById('reading').textContent"
_BACK = "document.getElementById('back')"
_TABLE = "document.getElementById('numbers').open = true"
_ABOUT = "Absorbance at 220 nm", "Nitrate concentration"
_INSIDE = """[...document.querySelectorAll('[data-of="series/s1"] use')].filter(u => {
    const r = u.getBoundingClientRect(), p = document.querySelector('svg').getBoundingClientRect();
    return r.x > p.x && r.x < p.right && r.y > p.y && r.y < p.bottom; }).length"""


def _numbers(content: bytes) -> dict[str, Any]:
    found = re.search(rb'id="data">(.*?)</script>', content)
    assert found is not None
    numbers: dict[str, Any] = json.loads(found[1])
    return numbers


class Pages(QtTest):
    def made(self, document: Document, name: str = "page") -> tuple[Path, Drawing]:
        drawing = drawing_of(document)
        content = page(document, drawing, told_of(document, drawing))
        return self.write(f"{name}.html", content), drawing

    def opened(self, path: Path, width: int = 1000, height: int = 900) -> Page:
        if CHROMIUM is None:
            raise unittest.SkipTest("there is no Chromium")
        found = Page(path, width, height)
        self.addCleanup(found.close)
        return found

    def test_it_is_small_beside_its_data_and_the_same_each_time(self) -> None:
        chance = np.random.default_rng(5)
        x = np.arange(10_000) * 0.01
        walk = np.cumsum(chance.integers(-900, 900, len(x))) / np.float64(1000)
        even = chance.uniform(0, 1, len(x))
        for mark, y in (("points", walk), ("line", walk), ("points", even)):
            columns = number_column("Time", x.tolist(), "s"), number_column("Level", y.tolist())
            table = Table("run", columns)
            document = new_document(table)
            figure = change_series(document.figure, (table,), "s1", x="Time", y="Level", mark=mark)
            path, _ = self.made(evolve(document, figure=figure))
            content = path.read_bytes()
            data = len(json.dumps(_numbers(content), separators=(",", ":")))
            self.assertLess(len(content) - data, 60_000, mark)
            again, _ = self.made(evolve(document, figure=figure), "again")
            self.assertEqual(again.read_bytes(), content)
        # of more the lowest and the highest at each place, and it is said of how many
        many = Table("many", (number_column("t", np.arange(300_000.0)),
                              number_column("y", chance.normal(0, 1, 300_000))))  # fmt: skip
        path, _ = self.made(new_document(many))
        (one,) = _numbers(path.read_bytes())["series"]
        self.assertEqual(
            (one["of"], max(one["y"]["values"])), (300_000, many.columns[1].values.max())
        )
        self.assertIn("of 300\u2009000 readings can be pointed at", path.read_text())

    def test_colours_on_dark_are_light_enough(self) -> None:
        def light(colour: str) -> float:
            parts = np.array([int(colour[i : i + 2], 16) for i in (1, 3, 5)]) / 255
            bent = np.where(parts <= 0.04045, parts / 12.92, ((parts + 0.055) / 1.055) ** 2.4)
            return float(bent @ [0.2126, 0.7152, 0.0722])

        # black and white are the lightness 0.2 and 0.96 of OKLab, a light colour is what it was
        for colour, dark in (("#ffffff", "#161616"), ("#000000", "#f2f2f2"),
                             ("#ffe14d", "#ffe14d"), ("#9ad1a8", "#9ad1a8")):  # fmt: skip
            self.assertEqual(for_dark(colour), dark)
        # contrast as WCAG 2.2 has it, 1.4.3 and 1.4.11
        paper = light(for_dark("#ffffff"))
        for name in DEMOS:
            drawing = drawing_of(demo_document(name))
            for item in drawing.items:
                colour = getattr(item, "fill", getattr(item, "colour", None)) or item.stroke.colour  # type: ignore[union-attr]
                if item.of.endswith("grid") or colour == drawing.background:
                    continue
                contrast = (light(for_dark(colour)) + 0.05) / (paper + 0.05)
                self.assertGreater(contrast, 4.5, (name, item.of, colour))

    def test_it_looks_like_the_figure(self) -> None:
        for name in ("nitrate-standards", "depth-panels", "stage-discharge", "snail-counts"):
            path, drawing = self.made(demo_document(name), name)
            html5lib.HTMLParser(strict=True).parse(path.read_bytes())
            width = 900
            seen = self.opened(path, width=width + 40, height=1500)
            x, y, wide, high = seen.box("svg")
            found = QImage.fromData(seen.picture()).copy(
                round(x), round(y), round(wide), round(high)
            )
            ours = image(drawing, wide / drawing.width_mm).scaled(found.size())
            one, other = (_array(picture) for picture in (found, ours))
            # a pixel of an edge may differ, a line or a letter elsewhere may not
            apart = np.abs(one - other)
            self.assertLess(apart.mean(), 2.0, name)
            blocks = apart[: len(apart) // 8 * 8, : apart.shape[1] // 8 * 8]
            blocks = blocks.reshape(len(blocks) // 8, 8, -1, 8).mean(axis=(1, 3))
            self.assertLess(np.quantile(blocks, 0.999), 60, name)
            self.assertEqual((seen.said, _outside(seen)), ([], []))

    def test_readings_are_pointed_at_and_gone_through(self) -> None:
        document = demo_document("nitrate-standards")
        document = evolve(document, figure=leave_out(document.figure, "s1", [23], "spilt"))
        path, drawing = self.made(document)
        seen = self.opened(path)
        markers = next(i for i in drawing.items if isinstance(i, Markers) and len(i.points) == 23)
        x, y, wide, _ = seen.box("svg")
        scale = wide / drawing.width_mm
        across, down = markers.points[15] * scale
        seen.point_at(x + across, y + down)
        self.assertEqual(
            seen.ask(_TOLD),
            "Absorbance at 220 nm: 0.581; Nitrate concentration: 8\u2009mg/L; row 16",
        )
        self.assertFalse(seen.ask("document.getElementById('flag').hidden"))
        seen.point_at(x + 3, y + 3)
        self.assertEqual(seen.ask(_TOLD), "")
        seen.ask("document.querySelector('figure').focus()")
        seen.key("ArrowRight", "ArrowRight", "ArrowRight", "ArrowLeft")
        self.assertIn("row 2", seen.ask(_TOLD))
        seen.key("End")
        self.assertIn(
            "0.858; Nitrate concentration: 12\u2009mg/L; row 24, left out", seen.ask(_TOLD)
        )
        # the numbers, for who reads by ear
        seen.ask("document.getElementById('numbers').open = true")
        seen.wait_until("!!document.querySelector('table')")
        cells = seen.ask("[...document.querySelectorAll('tr')].map(r => r.innerText)")
        self.assertEqual(
            (len(cells), cells[0]),
            (25, "row\tNitrate concentration / mg/L\tAbsorbance at 220 nm\tleft out"),
        )
        self.assertEqual(cells[24], "24\t12\t0.858\tleft out")

    def test_series_are_hidden_by_buttons_and_by_their_names(self) -> None:
        path, drawing = self.made(demo_document("standards-by-replicate"))
        seen = self.opened(path)
        shown = ("[...document.querySelectorAll('[data-of^=series]')].filter(g => "
                 "g.getBoundingClientRect().width).map(g => g.dataset.of)")  # fmt: skip
        self.assertEqual(seen.ask(shown), ["series/s1", "series/s2", "series/s3"])
        seen.ask("document.querySelectorAll('#series button')[1].click()")
        self.assertEqual(seen.ask(shown), ["series/s1", "series/s3"])
        rect = next(b.rect for b in drawing.boxes if b.of == SeriesName("s3"))
        seen.click(*_spot(seen, drawing, rect))
        self.assertEqual(seen.ask(shown), ["series/s1"])
        pressed = "[...document.querySelectorAll('#series button')].map(b => b.ariaPressed)"
        self.assertEqual(seen.ask(pressed), ["true", "false", "false"])
        seen.ask("document.querySelectorAll('#series button')[1].click()")
        self.assertEqual(seen.ask(shown), ["series/s1", "series/s2"])

    def test_a_closer_look_by_wheel_box_fingers_and_keys(self) -> None:
        path, drawing = self.made(demo_document("nitrate-standards"))
        seen = self.opened(path)
        at = _spot(seen, drawing, drawing.place.inner)
        labels = "[...document.querySelectorAll('.ticks text')].map(t => t.textContent)"
        whole = _array(QImage.fromData(seen.picture()))
        # a box about the standards of 6 mg/L: both scales have ticks for what is left
        seen.drag((at[0] - 60, at[1] - 40), (at[0] + 60, at[1] + 60))
        found = [float(text.replace("−", "-")) for text in seen.ask(labels)]
        self.assertTrue(all(5 < v < 7 or 0.3 < v < 0.6 for v in found), found)
        self.assertGreater(len(found), 5)
        self.assertEqual(seen.ask(_INSIDE), 3)
        # no label lies on readings that have moved to where it stands
        first = "document.querySelector('[data-of^=series], [data-of$=label]').dataset.of"
        self.assertTrue(seen.ask(first).endswith("label"))
        seen.ask(f"{_BACK}.click()")
        self.assertTrue(seen.ask(first).startswith("series"))
        seen.point_at(2, 2)
        seen.ask("document.activeElement.blur()")
        self.assertEqual((seen.ask(labels), seen.ask(f"{_BACK}.hidden")), ([], True))
        self.assertLess(np.abs(_array(QImage.fromData(seen.picture())) - whole).max(), 8)
        # by the wheel, about the pointer; the page does not scroll meanwhile
        seen.point_at(*at, "mouseWheel", deltaX=0, deltaY=-240)
        seen.wait_until(f"!{_BACK}.hidden")
        self.assertEqual(seen.ask("scrollY"), 0)
        seen.ask("document.querySelector('figure').focus()")
        seen.key("Escape")
        self.assertTrue(seen.ask(f"{_BACK}.hidden"))
        seen.key("+")
        self.assertFalse(seen.ask(f"{_BACK}.hidden"))
        seen.key("Escape")
        seen.tell("Emulation.setTouchEmulationEnabled", enabled=True, maxTouchPoints=2)
        for kind, apart in (("touchStart", 30), ("touchMove", 60), ("touchMove", 90)):
            seen.touch(kind, (at[0] - apart, at[1]), (at[0] + apart, at[1]))
        seen.touch("touchEnd")
        seen.wait_until(f"!{_BACK}.hidden")
        self.assertEqual(seen.said, [])

    def test_no_text_becomes_code_and_nothing_is_asked_of_others(self) -> None:
        x = np.arange(6.0)
        table = Table(
            _HOSTILE, (number_column(_HOSTILE, x, "<i>"), number_column("y' < & \"", x**2))
        )
        document = new_document(table)
        figure = set_title(document.figure, f"{_HOSTILE} {{file}}")
        path, _ = self.made(evolve(document, figure=figure))
        seen = self.opened(path)
        seen.ask("document.getElementById('numbers').open = true")
        seen.wait_until("!!document.querySelector('table')")
        self.assertEqual(seen.ask("document.querySelectorAll('img, b, i').length"), 0)
        self.assertIn("onerror", seen.ask("document.title"))
        self.assertIn("<img", seen.ask("document.querySelector('th:nth-child(2)').textContent"))
        self.assertEqual((seen.said, _outside(seen)), ([], []))
        # what is put in afterwards is not run either, and cannot be fetched
        put = "<img src=http://127.0.0.1:9/x onerror=document.title=1>"
        seen.ask(f"document.body.insertAdjacentHTML('beforeend', '{put}')")
        seen.wait_until("document.querySelector('img').complete")
        self.assertIn("onerror", seen.ask("document.title"))
        self.assertTrue(any("Content Security Policy" in said for said in seen.said))

    def test_it_is_dark_for_those_who_read_so_and_prints_as_the_figure(self) -> None:
        path, _ = self.made(demo_document("light-response"))
        seen = self.opened(path)
        ink = "getComputedStyle(document.querySelector('[data-of=title] text')).fill"
        paper = "getComputedStyle(document.querySelector('svg > rect')).fill"
        light = seen.ask(ink), seen.ask(paper)
        seen.tell(
            "Emulation.setEmulatedMedia",
            features=[{"name": "prefers-color-scheme", "value": "dark"}],
        )
        self.assertNotEqual((seen.ask(ink), seen.ask(paper)), light)
        seen.tell("Emulation.setEmulatedMedia", media="print",
                  features=[{"name": "prefers-color-scheme", "value": "dark"}])  # fmt: skip
        self.assertEqual((seen.ask(ink), seen.ask(paper)), light)
        _, _, wide, _ = seen.box("svg")
        self.assertAlmostEqual(wide, 84 * 96 / 25.4, delta=1)
        self.assertEqual(
            seen.ask("getComputedStyle(document.querySelector('.tools')).display"), "none"
        )


def _spot(seen: Page, drawing: Drawing, rect: Rect) -> tuple[float, float]:
    """The middle of a rectangle of a drawing, in pixels of the window."""
    x, y, wide, _ = seen.box("svg")
    scale = wide / drawing.width_mm
    return (x + scale * (rect.left + rect.width / 2), y + scale * (rect.top + rect.height / 2))


def _outside(seen: Page) -> list[str]:
    """What was asked for besides the page itself and what is in it."""
    return [address for address in seen.asked[1:] if not address.startswith("data:")]


def _array(picture: QImage) -> np.ndarray:
    grey = picture.convertToFormat(QImage.Format.Format_Grayscale8)
    bits = grey.constBits()
    assert bits is not None
    flat = np.frombuffer(bits.asstring(grey.sizeInBytes()), np.uint8).astype(float)
    return flat.reshape(grey.height(), grey.bytesPerLine())[:, : grey.width()]
