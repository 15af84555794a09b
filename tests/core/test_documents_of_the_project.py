"""The project's own documents say what the code does."""

import json
import re
from pathlib import Path

from sornix.core.drawing import STYLES
from sornix.core.figure import (
    BASES,
    DASHES,
    DATE_LABELS,
    DECIMALS,
    FORMULA,
    LABELS,
    MARKS,
    MINOR,
    PALETTES,
    SHOWS,
    TICKS,
    TURNS,
    UNITS,
    WEIGHTS,
)
from sornix.core.scales import KINDS
from sornix.core.trends import METHODS, MODELS
from tests.base import SornixTest

ROOT = Path(__file__).parents[2]


class Documents(SornixTest):
    def test_the_schema_names_just_what_there_is(self) -> None:
        parts = json.loads((ROOT / "docs" / "figure.schema.json").read_text())["$defs"]
        for part, name, table in (
            ("scale", "kind", (None, *KINDS)),
            ("scale", "labels", {*LABELS, *DATE_LABELS}),
            ("scale", "base", BASES),
            ("scale", "minor", MINOR),
            ("scale", "turn", (None, *TURNS)),
            ("axis_look", "ticks", TICKS),
            ("grid_line", "dash", DASHES),
            ("series", "mark", MARKS),
            ("trend", "model", (*MODELS, FORMULA)),
            ("trend", "weights", WEIGHTS),
            ("trend", "method", METHODS),
            ("figure", "style", STYLES),
            ("choices", "palette", PALETTES),
            ("choices", "units", UNITS),
            ("choices", "decimal", DECIMALS),
        ):
            self.assertEqual(set(parts[part]["properties"][name]["enum"]), set(table))
        shows = parts["trend"]["properties"]["shows"]["items"]["enum"]
        self.assertEqual(set(shows), set(SHOWS))

    def test_links_and_pictures_are_there(self) -> None:
        for page in (ROOT / "README.md", *(ROOT / "docs").glob("*.md")):
            for target in re.findall(r"\]\((?!https?:)([^)#]+)", page.read_text()):
                self.assertTrue((page.parent / target).exists(), f"{page.name}: {target}")
        shown = "".join(p.read_text() for p in (ROOT / "README.md", *(ROOT / "docs").glob("*.md")))
        for picture in (ROOT / "docs" / "screenshots").glob("*.png"):
            self.assertIn(picture.name, shown)
