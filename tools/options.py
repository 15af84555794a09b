"""Figures with any options that their schema allows, by chance: for tools/fuzz.py and monkey.py.

What is changed is found in the schema, so that an option that is added is tried at once.
"""

import io
import json
import random
import zipfile
from collections.abc import Iterator
from contextlib import suppress
from functools import cache
from importlib import resources
from pathlib import Path
from typing import Any

from sornix.core.document import Document, load_document, save_document
from sornix.core.errors import SornixError

_NUMBERS = (
    0, 1, -1, 0.5, 2, 3, 7, 10, 100, -10, 1e-9, 1e-300, 5e-324, 1e308, -1e308, 1e15, 1e28, 1e9,
    1.7e9, -2e9, 86_400, 3600, 0.02, 3.14159, 1e-3, 1_000_000.000001,
)  # fmt: skip
_TEXTS = (
    "", "x", "a", "x^2_3 {mu}", "1/x", "ln(x)", "exp(1000*x)", "sqrt(-x)", "a*x + b", "line " * 40,
    "²<b>", "1", "0.5", "North", "=",
)  # fmt: skip


@cache
def _schema() -> dict[str, Any]:
    text = (resources.files("sornix.data") / "figure.schema.json").read_text()
    found: dict[str, Any] = json.loads(text)
    return found


def _resolved(schema: dict[str, Any]) -> dict[str, Any]:
    if "$ref" in schema:
        found: dict[str, Any] = _schema()["$defs"][schema["$ref"].rsplit("/", 1)[1]]
        return found
    return schema


def with_options(figure: dict[str, Any], chance: random.Random) -> dict[str, Any]:
    """A figure.json with a few options set to other values that its schema allows."""
    names = list(dict.fromkeys((*_TEXTS, *_texts(figure))))
    for _ in range(chance.choice((1, 2, 3, 5, 8))):
        first, *others = figure["figures"]
        changed = _changed(first, _schema()["$defs"]["figure"], chance, names)
        figure = {**figure, "figures": [changed, *others]}
    return figure


def packed_with_options(content: bytes, chance: random.Random) -> bytes:
    """A packed document whose figure has other options that its schema allows."""
    stream = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(content)) as old, zipfile.ZipFile(stream, "w") as new:
        for name in old.namelist():
            part = old.read(name)
            if name == "figure.json":
                part = json.dumps(with_options(json.loads(part), chance)).encode()
            new.writestr(name, part)
    return stream.getvalue()


def strange(document: Document, folder: Path, chance: random.Random) -> Document:
    """A document with other options, of those that make one that opens."""
    path = folder / "strange.sornix"
    save_document(document, path, b"", whole_paths=True)
    content = path.read_bytes()
    while True:
        path.write_bytes(packed_with_options(content, chance))
        with suppress(SornixError):
            return load_document(path)


def _texts(value: object) -> Iterator[str]:
    if isinstance(value, str):
        yield value
    elif isinstance(value, dict | list):
        for part in value.values() if isinstance(value, dict) else value:
            yield from _texts(part)


def _changed(value: Any, schema: dict[str, Any], chance: random.Random, names: list[str]) -> Any:
    """A value with one place in it changed."""
    schema = _resolved(schema)
    inner = next((s for s in schema.get("oneOf", ()) if "$ref" in s), None)
    if inner is not None and value is not None:
        return _changed(value, inner, chance, names)
    if isinstance(value, dict) and "properties" in schema:
        name = chance.choice(list(schema["properties"]))
        if name == "id":
            return value
        sub = schema["properties"][name]
        new = _changed(value[name], sub, chance, names) if name in value else _made(
            sub, chance, names
        )  # fmt: skip
        return {**value, name: new}
    if isinstance(value, list) and "items" in schema:
        if value and chance.random() < 0.8:
            at = chance.randrange(len(value))
            new = _changed(value[at], schema["items"], chance, names)
            return [*value[:at], new, *value[at + 1 :]]
        return [*value, _made(schema["items"], chance, names)]
    return _made(schema, chance, names)


def _made(schema: dict[str, Any], chance: random.Random, names: list[str]) -> Any:
    """A value that a schema allows."""
    schema = _resolved(schema)
    for several in ("oneOf", "anyOf"):
        if several in schema:
            return _made(chance.choice(schema[several]), chance, names)
    if "const" in schema:
        return schema["const"]
    if "enum" in schema:
        return chance.choice(schema["enum"])
    kinds = schema.get("type", "null")
    kind = chance.choice(kinds) if isinstance(kinds, list) else kinds
    match kind:
        case "object":
            wanted = schema.get("required", ())
            return {
                name: _made(sub, chance, names)
                for name, sub in schema.get("properties", {}).items()
                if name in wanted or chance.random() < 0.5
            }
        case "array":
            least = schema.get("minItems", 0)
            count = max(chance.choice((0, 1, 2)), least)
            return [_made(schema.get("items", {}), chance, names) for _ in range(count)]
        case "boolean":
            return chance.random() < 0.5
        case "integer" | "number":
            return _number(schema, kind, chance)
        case "string":
            return chance.choice(("", "teal", "#12ab9f")) if "pattern" in schema else (
                chance.choice(names)
            )  # fmt: skip
    return None


def _number(schema: dict[str, Any], kind: str, chance: random.Random) -> float:
    low, high = schema.get("minimum"), schema.get("maximum")
    low = schema.get("exclusiveMinimum", low)
    likely = [*_NUMBERS, *(end for end in (low, high) if end is not None)]
    if low is not None and high is not None:
        likely += [low + (high - low) * part for part in (0.25, 0.5, 0.9)] * 5
    open_low = schema.get("exclusiveMinimum", float("-inf"))
    inside = [
        int(v) if kind == "integer" else v for v in likely
        if (low is None or v >= low) and (high is None or v <= high) and v > open_low
    ]  # fmt: skip
    if kind == "integer":
        # a row, a place in the palette: thousands say no more than a hundred
        inside = [v for v in inside if abs(v) < 10_000]
    return chance.choice(inside)
