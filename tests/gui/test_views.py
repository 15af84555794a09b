"""Every view stands as it is kept: what says what, where, and how large."""

import re
from itertools import zip_longest

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtGui import QFontDatabase, QImage

from sornix.demo import DEMOS
from tests.gui.toured import FOLDER as TOURS
from tests.gui.toured import TOURED, toured
from tests.gui.views import ALL, FOLDER, view_of
from tests.gui.walked import FOLDER as WALKS
from tests.gui.walked import walked
from tests.qt import QtTest
from tools.screenshots import FOLDER as PICTURES
from tools.screenshots import VIEWS

# So many pixels may be off by more than so many of 256 levels: edges are smoothed a little
# otherwise by other processors.
_MOST_OTHER, _LEVELS = 12, 40


class Views(QtTest):
    def test_every_view_stands_as_it_is_kept(self) -> None:
        self.assertEqual({path.stem for path in FOLDER.iterdir()}, set(ALL))
        for name in ALL:
            with self.subTest(name):
                kept = self._lines((FOLDER / f"{name}.txt").read_text())
                text, picture = view_of(name)
                shown = self._lines(text)
                for number, (one, other) in enumerate(zip_longest(kept, shown, fillvalue=""), 1):
                    if one != other:
                        self.fail(f"line {number}, kept: {one}\nshown: {other}\n"
                                  "renew by: python -m tests.gui.views")  # fmt: skip
                if name in VIEWS:
                    self._is_in_the_documents(name, picture)

    def test_walks_and_tours_say_what_is_kept(self) -> None:
        if not self._has_signs():
            self.skipTest("a hand that goes by places comes elsewhere with other widths of signs")
        for folder, way, demos in ((WALKS, walked, DEMOS), (TOURS, toured, TOURED)):
            self.assertEqual({path.stem for path in folder.iterdir()}, set(demos))
            for demo in demos:
                with self.subTest(demo, way=way.__name__):
                    self.is_kept(folder / f"{demo}.txt", way(demo).splitlines(), way.__module__)

    def _is_in_the_documents(self, name: str, shown: QImage) -> None:
        if not self._has_signs():
            return
        kept = _levels(QImage(str(PICTURES / f"{name}.png")))
        # something that passes, such as where the pointer was, may be in a picture once
        for _ in range(3):
            other = _other(kept, _levels(shown))
            if other <= _MOST_OTHER:
                return
            shown = view_of(name)[1]
        self.fail(f"{other} pixels are other; renew by: python tools/screenshots.py")

    def _lines(self, text: str) -> list[str]:
        if not self._has_signs():
            text = re.sub(r"\d+,\d+ \d+x\d+", "", text)
        return text.splitlines()

    def _has_signs(self) -> bool:
        """Whether signs such as ▾ come from the typeface that they came from; they are of another
        width elsewhere."""
        return "DejaVu Sans" in QFontDatabase.families()


def _other(kept: NDArray[np.int16], found: NDArray[np.int16]) -> int:
    """How many pixels are other."""
    if kept.shape != found.shape:
        return kept.size
    return int((np.abs(found - kept).max(axis=2) > _LEVELS).sum())


def _levels(picture: QImage) -> NDArray[np.int16]:
    """Levels of colours, shape (height, width, 3)."""
    whole = picture.convertToFormat(QImage.Format.Format_RGB888)
    bits = whole.constBits()
    assert bits is not None
    rows = np.frombuffer(bits.asstring(whole.sizeInBytes()), np.uint8)
    rows = rows.reshape(whole.height(), whole.bytesPerLine())[:, : 3 * whole.width()]
    return rows.reshape(whole.height(), whole.width(), 3).astype(np.int16)
