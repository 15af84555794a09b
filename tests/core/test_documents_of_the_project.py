"""The project's own documents say what the code does."""

import json
import re
from pathlib import Path
from typing import Any

import jsonschema
from attrs import fields

from sornix.core.errors import Unfit
from sornix.core.figure import Choices, Scale, Trend
from sornix.core.figure.model.checks import Rule
from tests.base import SornixTest
from tools.schema import schema_text

ROOT = Path(__file__).parents[2]


class Documents(SornixTest):
    def test_the_schema_is_what_the_classes_say(self) -> None:
        kept = (ROOT / "docs" / "figure.schema.json").read_text()
        self.assertEqual(kept, schema_text(), "renew by: python tools/schema.py")
        # what a class refuses the schema refuses, and what it takes the schema takes
        parts = json.loads(kept)["$defs"]
        kinds: tuple[tuple[Any, str, dict[str, Any]], ...] = (
            (Scale, "scale", {}), (Trend, "trend", {"id": "t1", "series": "s1"}),
            (Choices, "choices", {}),
        )  # fmt: skip
        for kind, name, rest in kinds:
            for option in fields(kind):
                limits = option.validator.limits if isinstance(option.validator, Rule) else None
                ends = () if limits is None else (limits.low, limits.high)
                for value in {end + by for end in ends for by in (-1, 0, 1) if abs(end) < 1e9}:
                    asked = {**rest, option.name: int(value) if value % 1 == 0 else value}
                    schema = {**parts[name], "$defs": parts}
                    fits = jsonschema.Draft202012Validator(schema).is_valid(asked)
                    with self.subTest(name=name, option=option.name, value=value):
                        try:
                            kind(**asked)
                        except Unfit:
                            self.assertFalse(fits)
                        else:
                            self.assertTrue(fits)

    def test_links_and_pictures_are_there(self) -> None:
        for page in (ROOT / "README.md", *(ROOT / "docs").glob("*.md")):
            for target in re.findall(r"\]\((?!https?:)([^)#]+)", page.read_text()):
                self.assertTrue((page.parent / target).exists(), f"{page.name}: {target}")
        shown = "".join(p.read_text() for p in (ROOT / "README.md", *(ROOT / "docs").glob("*.md")))
        for picture in (ROOT / "docs" / "screenshots").glob("*.png"):
            self.assertIn(picture.name, shown)
