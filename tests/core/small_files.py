"""The cases of tests/data/small-files.txt, and tables told in their words."""

import json
import re
from functools import cache
from typing import NamedTuple

from sornix.core.readings import Table
from tests.base import DATA

_KINDS = {"number": "n", "time": "t", "text": "w"}
_UNSEEN = re.compile(r"\\(u[0-9a-f]{4}|[\\trn])")
_SEEN = {"\\": "\\", "t": "\t", "r": "\r", "n": "\n"}


class Case(NamedTuple):
    """A file; its tables, divided by ` || `; what must be said of it, and what is said before."""

    name: str
    raw: bytes
    columns: str
    said: str
    held: dict[str, object]


def described(table: Table) -> str:
    """The columns of a table in the words of a case."""
    return " | ".join(
        f"{c.name}{f' [{c.unit}]' if c.unit else ''} {_KINDS[c.kind]}: {', '.join(c.cells())}"
        for c in table.columns
    )


def told(tables: tuple[Table, ...]) -> str:
    """All that is said of tables."""
    doubts = [d for t in tables if t.read_as is not None for d in t.read_as.doubts.values()]
    return " ".join([*doubts, *(remark for table in tables for remark in table.remarks)])


@cache
def small_files() -> dict[str, Case]:
    """The cases by their names."""
    text = (DATA / "small-files.txt").read_text()
    cases = [_case(part) for part in text.split("\n# ")[1:]]
    return {case.name: case for case in cases}


def _case(part: str) -> Case:
    title, *lines = part.rstrip("\n").split("\n")
    name, _, code = title.removesuffix(")").partition(" (")
    held, *rest = lines if lines[0].startswith("held ") else ["held {}", *lines]
    end = next(i for i, line in enumerate(rest) if line.startswith("= "))
    text = "".join(line[4:] + "\n" for line in rest[:end])
    text = _seen(text.removesuffix("\\\n") if text.endswith("\\\n") else text)
    tables, said = ([_seen(ln[2:]) for ln in rest[end:] if ln.startswith(mark)] for mark in "=!")
    before = json.loads(held.removeprefix("held "))
    settings = {key: tuple(v) if isinstance(v, list) else v for key, v in before.items()}
    return Case(name, text.encode(code or "utf-8"), " || ".join(tables), "".join(said), settings)


def _seen(text: str) -> str:
    return _UNSEEN.sub(lambda found: _SEEN.get(found[1]) or chr(int(found[1][1:], 16)), text)
