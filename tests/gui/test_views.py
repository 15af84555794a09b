"""Every view stands as it is kept: what says what, where, and how large."""

import re
from itertools import zip_longest

from PyQt6.QtGui import QFontDatabase

from tests.gui.views import ALL, FOLDER, view_text
from tests.qt import QtTest


class Views(QtTest):
    def test_every_view_stands_as_it_is_kept(self) -> None:
        self.assertEqual({path.stem for path in FOLDER.iterdir()}, set(ALL))
        for name in ALL:
            with self.subTest(name):
                kept = self._lines((FOLDER / f"{name}.txt").read_text())
                shown = self._lines(view_text(name))
                for number, (one, other) in enumerate(zip_longest(kept, shown, fillvalue=""), 1):
                    if one != other:
                        self.fail(f"line {number}, kept: {one}\nshown: {other}\n"
                                  "renew by: python -m tests.gui.views")  # fmt: skip

    def _lines(self, text: str) -> list[str]:
        if "DejaVu Sans" not in QFontDatabase.families():
            # signs such as ▾ are of another width there
            text = re.sub(r"\d+,\d+ \d+x\d+", "", text)
        return text.splitlines()
