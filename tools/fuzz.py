"""Awkward and damaged files, thrown at everything that reads: python tools/fuzz.py [--count N].

Files of every format are made from seeds: good ones that are changed by chance, texts with very
long cells, and documents whose figures have any options that the schema allows. Each is read,
drawn, told of, saved, and opened again. It fails where anything else comes than a table, a document
or a sentence; where it takes too long; where something is drawn nowhere; or where what was saved
comes back otherwise. What failed is kept in the folder --keep.
"""

import argparse
import bz2
import gzip
import io
import json
import lzma
import os
import random
import shutil
import sys
import tempfile
import traceback
import zipfile
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from functools import cache
from pathlib import Path

import attrs
import numpy as np

from sornix.core.cautions import find_cautions
from sornix.core.document import load_document, new_document, save_document
from sornix.core.drawing import Drawing, draw_figure
from sornix.core.drawing import Path as DrawnPath
from sornix.core.errors import SornixError
from sornix.core.figure import caption
from sornix.core.figure.prose.methods import methods_text
from sornix.core.readings.formats.sources import read_file, read_pasted
from sornix.core.text import plain_text, rich
from sornix.demo import DEMOS, demo_document, demo_files
from tests.core.formats import good_files
from tests.core.measure import PlainMeasure
from tools.options import packed_with_options

_SECONDS = 5.0
_FRAGMENTS = (
    "1", "0", "12", "9.", "1,", ",5", " ", "\t", "-", "−", "+", "e", "1e", "/", ":", ".", "T", "Z",
    "(", ")", "[", "]", "a", "mg", "m/s ", "°C", "²", "^2", "_1", "{", "}", "{mu}", "<", "&", "'",
    "1 ", "1'", "2026-", "01/", "jan ", "mon ", "00:", "=", "%", "#", "é", "\u00a0", "\ud83d\ude00",
    "\x00", "\x0b", "\x1b", "NaN", "inf", "+-", "x^", "and ", "# ", "// ", "to ", "~", "≤",
)  # fmt: skip
_NUMBERS = ("1e308", "-1e308", "5e-324", "9" * 400, "0x10", "1_000", "٣", "１２", "1e999", "-0.0")


def _long_cells(chance: random.Random) -> bytes:
    """A text with one or a few very long cells of a repeated pattern."""
    pattern = "".join(chance.choices(_FRAGMENTS, k=chance.randint(1, 3)))
    cell = pattern * (chance.choice((300, 3000, 20_000)) // len(pattern) + 1)
    cell += chance.choice(("", "1", "x", " ", ")", "-"))
    quoted = '"' + cell.replace('"', '""') + '"'
    head = chance.choice(("x,y", f"x,{quoted}", f"{quoted},y"))
    rows = [f"{i},{i * 2.5}" for i in range(chance.randint(2, 30))]
    for _ in range(chance.randint(0, 4)):
        rows[chance.randrange(len(rows))] = chance.choice((f"{quoted},2", f"3,{quoted}"))
    return "\n".join([head, *rows]).encode("utf-8", "surrogatepass")


@cache
def _good() -> dict[str, bytes]:
    """Good files of every format, by name."""
    import pyarrow as pa
    from pyarrow import parquet

    found = dict(demo_files())
    stream = io.BytesIO()
    table = pa.table(
        {"t": pa.array(range(40), pa.timestamp("s")), "y (m)": [i / 7 for i in range(40)],
         "word": [f"w{i % 3}" for i in range(40)]}
    )  # fmt: skip
    parquet.write_table(table, stream)
    found["small.parquet"] = stream.getvalue()
    records = [{"Depth (m)": i / 2, "T": 20 - i, "site": "ab"[i % 2]} for i in range(30)]
    found["records.json"] = json.dumps(records).encode()
    folder = Path(tempfile.mkdtemp())
    for name in DEMOS:
        path = folder / f"{name}.sornix"
        save_document(demo_document(name), path, b"\x89PNG")
        found[path.name] = path.read_bytes()
    shutil.rmtree(folder)
    return found


@cache
def _packed() -> dict[str, bytes]:
    """Good files in packed ones."""
    import pyarrow as pa

    text = dict(demo_files())["buoy-week.csv"]
    files = {"week.csv.gz": gzip.compress(text), "week.csv.bz2": bz2.compress(text),
             "week.csv.xz": lzma.compress(text),
             "week.csv.zst": pa.compress(text, "zstd", asbytes=True)}  # fmt: skip
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as archive:
        for name in ("buoy.nc", "laboratory.db", "humic.jdx"):
            archive.writestr(name, good_files()[name])
    return {**files, "all.zip": stream.getvalue()}


def _changed(content: bytes, chance: random.Random) -> bytes:
    """Bytes with some of them changed, doubled, moved or left out."""
    raw = bytearray(content)
    for _ in range(chance.choice((1, 1, 2, 5, 20))):
        at = chance.randrange(len(raw) + 1)
        span = chance.choice((1, 1, 2, 8, 64, 512))
        way = chance.randrange(6)
        if way == 0:
            raw[at : at + span] = chance.randbytes(span)
        elif way == 1:
            del raw[at : at + span]
        elif way == 2:
            raw[at:at] = raw[at : at + span] * chance.choice((1, 2, 50))
        elif way == 3:
            raw[at:at] = chance.choice(_FRAGMENTS).encode("utf-8", "surrogatepass")
        elif way == 4:
            raw[at:at] = chance.choice(_NUMBERS).encode()
        else:
            del raw[at + span :]
        if not raw:
            break
    return bytes(raw)


def _changed_parts(content: bytes, chance: random.Random) -> bytes:
    """An archive with a part of it changed: bytes, or values of its JSON."""
    stream = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(content)) as old, zipfile.ZipFile(stream, "w") as new:
        names = old.namelist()
        chosen = chance.choice(names)
        for name in names:
            part = old.read(name)
            if name == chosen and chance.random() < 0.95:
                if name.endswith(".json") and chance.random() < 0.8:
                    part = json.dumps(_changed_value(json.loads(part), chance)).encode()
                else:
                    part = _changed(part, chance)
            if name != chosen or chance.random() < 0.98:
                new.writestr(name, part, zipfile.ZIP_DEFLATED)
    return stream.getvalue()


_STRANGE: tuple[object, ...] = (
    None, True, -1, 0, 1, 2**31, 10_000_000, 10**40, 1e308, -1e308, 1e-320, "", "\x00", "\ud800",
    "<img src=x>", "../../../etc/passwd", [], {}, [[]], {"a": 1}, "x" * 5000, [0] * 1000, "s1",
    "number", "time", "log", "=", float("nan"), float("inf"),
)  # fmt: skip


def _changed_value(value: object, chance: random.Random) -> object:
    """JSON with a value somewhere in it changed."""
    if isinstance(value, dict) and value and chance.random() < 0.95:
        key = chance.choice(list(value))
        if chance.random() < 0.04:
            return {k: v for k, v in value.items() if k != key}
        return {**value, key: _changed_value(value[key], chance)}
    if isinstance(value, list) and value and chance.random() < 0.95:
        at = chance.randrange(len(value))
        if chance.random() < 0.05:
            return value * 2
        return [*value[:at], _changed_value(value[at], chance), *value[at + 1 :]]
    return chance.choice(_STRANGE)


# Kinds of files, and how often each is made.
_KINDS = {"long": 5, "text": 6, "document": 8, "options": 8, "foreign": 1, "formats": 2}


def _made(seed: int, only: str) -> tuple[str, bytes]:
    """The name and the content of the file of a seed."""
    chance = random.Random(seed)
    kinds = [only] if only else list(_KINDS)
    kind = chance.choices(kinds, [_KINDS[name] for name in kinds])[0]
    if kind == "long":
        return "long.csv", _long_cells(chance)
    if kind == "formats":
        files = {**good_files(), **_packed()}
        name = chance.choice(sorted(files))
        return name, _changed(files[name], chance)
    good = _good()
    foreign, document = (".xlsx", ".ods", ".parquet"), (".sornix",)
    endings = {"document": document, "options": document, "foreign": foreign,
               "text": (".csv", ".txt", ".json")}  # fmt: skip
    name = chance.choice([n for n in sorted(good) if n.endswith(endings[kind])])
    content = good[name]
    if kind == "options":
        return name, packed_with_options(content, chance)
    packed = name.endswith((".sornix", ".xlsx", ".ods"))
    if packed and chance.random() < 0.8:
        return name, _changed_parts(content, chance)
    return name, _changed(content, chance)


def _read(path: Path) -> str:
    """Reads a file and does with it what a window would; gives what became of it."""
    is_document = path.suffix == ".sornix"
    document = load_document(path) if is_document else new_document(*read_file(path))
    if path.suffix == ".csv" and path.stat().st_size < 1 << 20:
        read_pasted(path.read_bytes().decode("utf-8", "replace"))
    figure, tables = document.figure, document.tables
    try:
        drawing = draw_figure(figure, tables, PlainMeasure())
        _check_places(drawing)
        find_cautions(figure, tables, drawing)
        caption(figure, tables, {})
        methods_text(figure, tables)
        became = "drawn"
    except SornixError:
        became = "not drawn"
    for table in document.tables:
        for column in table.columns:
            plain_text(rich(column.title))
    again = path.with_name("again.sornix")
    save_document(document, again, b"")
    if load_document(again) != document:
        raise AssertionError("it came back otherwise")
    return became


def _check_places(drawing: Drawing) -> None:
    """Raises AssertionError for what is drawn nowhere: a path may be broken, but has no end far
    beyond all numbers."""
    for item in drawing.items:
        for name, value in ((f.name, getattr(item, f.name)) for f in attrs.fields(type(item))):
            if isinstance(value, float | np.ndarray) and np.asarray(value).dtype.kind == "f":
                broken = isinstance(item, DrawnPath) and name == "points"
                if np.isinf(value).any() or (not broken and np.isnan(value).any()):
                    raise AssertionError(f"{type(item).__name__} {item.of} has no place: {name}")


def tried(seed: int, keep: str, only: str) -> tuple[int, str, float]:
    """What becomes of the file of a seed, and how long it takes."""
    name, content = _made(seed, only)
    folder = Path(tempfile.mkdtemp(prefix="fuzz"))
    path = folder / name
    path.write_bytes(content)
    # of processors, its own children's included: others may want these as well
    begin = sum(os.times()[:4])
    try:
        became = _read(path)
    except SornixError as error:
        became = "refused" if len(str(error)) < 3000 else "FAULT: a message of a page"
    except BaseException as error:  # noqa: BLE001 - this is what is looked for
        became = f"FAULT: {type(error).__name__}: {error}"[:300]
        if keep:
            Path(keep, f"{seed}.txt").write_text(traceback.format_exc())
    seconds = sum(os.times()[:4]) - begin
    if seconds > _SECONDS:
        became = f"FAULT: it took {seconds:.1f} s"
    if became.startswith("FAULT") and keep:
        shutil.copy(path, Path(keep, f"{seed}-{name}"))
    shutil.rmtree(folder, ignore_errors=True)
    return seed, became, seconds


def main() -> int:
    """Tries the files of many seeds; 1 where one failed."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--count", type=int, default=2000)
    parser.add_argument("--first", type=int, default=0)
    parser.add_argument("--workers", type=int)
    parser.add_argument("--keep", default="")
    parser.add_argument("--only", choices=tuple(_KINDS), default="")
    asked = parser.parse_args()
    if asked.keep:
        Path(asked.keep).mkdir(parents=True, exist_ok=True)
    seeds = range(asked.first, asked.first + asked.count)
    outcomes: Counter[str] = Counter()
    longest = 0.0
    with ProcessPoolExecutor(asked.workers) as pool:
        results = pool.map(
            tried, seeds, [asked.keep] * len(seeds), [asked.only] * len(seeds), chunksize=20
        )
        for seed, became, seconds in results:
            outcomes[became.split(":")[0]] += 1
            longest = max(longest, seconds)
            if became.startswith("FAULT"):
                print(seed, became, flush=True)
    print(f"{sum(outcomes.values())} files, the longest {longest:.2f} s: {dict(outcomes)}")
    return 1 if outcomes["FAULT"] else 0


if __name__ == "__main__":
    sys.exit(main())
