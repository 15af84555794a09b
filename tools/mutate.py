"""Puts small faults into a copy of the code, one at a time, and tells which test noticed:
python tools/mutate.py [--faults N] [--seed S] [--only PACKAGE] [--workers N] [--list] [--map FILE]

A fault is what a hand slips into: < for <=, + for −, a number that is one more, a condition the
other way round, two neighbouring arguments exchanged. A fifth are put into the drawing, the others
by turns into all packages. The tests run module by module, those that are named like the place of
the fault first, until one fails; a fault that none noticed is shown to the check of types, and told
as such. What each module of
tests runs is kept in the file of the map, and found out anew only where the code, the module or
what the tests share has changed.
"""

import argparse
import ast
import copy
import hashlib
import json
import os
import random
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from functools import partial
from pathlib import Path
from queue import SimpleQueue
from typing import Any, NamedTuple

from coverage import CoverageData

ROOT = Path(__file__).resolve().parent.parent
CODE = Path("src/sornix")
DRAWING = "core/drawing"
TYPES = "the types alone"
_MOST_SECONDS = 900
_MOST_SLOW = 15
_ABOUT = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq, ast.Is: ast.IsNot, ast.IsNot: ast.Is, ast.In: ast.NotIn, ast.NotIn: ast.In,
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult, ast.And: ast.Or,
    ast.Or: ast.And, ast.FloorDiv: ast.Div, ast.Mod: ast.Mult,
}  # fmt: skip

_IN_ANY_ORDER = ("max", "min", "maximum", "minimum", "hypot", "union1d", "array_equal")


class Fault(NamedTuple):
    """A change of one place of a file: what stood there in line `line`, and what does now."""

    path: Path
    line: int
    was: str
    now: str
    text: str

    @property
    def words(self) -> str:
        return f"{self.path.relative_to(CODE)}:{self.line}: {self.was}  →  {self.now}"


def _other_operator(node: ast.Compare | ast.BinOp | ast.BoolOp) -> ast.AST | None:
    """The operator that is put in place of a node's, None where that would be no small fault."""
    old = node.ops[0] if isinstance(node, ast.Compare) else node.op
    if isinstance(node, ast.Compare) and len(node.ops) > 1:
        return None
    if isinstance(node, ast.BinOp):
        # texts and sets are joined by the same signs
        for part in (node.left, node.right):
            number = isinstance(part, ast.Constant) and isinstance(part.value, int | float)
            if isinstance(part, ast.Constant | ast.JoinedStr | ast.Tuple | ast.List) and not number:
                return None
    return _ABOUT[type(old)]() if type(old) in _ABOUT else None


def _either(call: ast.Call) -> bool:
    """Whether what is called takes its arguments in any order."""
    return ast.unparse(call.func).rpartition(".")[2] in _IN_ANY_ORDER


def _faulty(node: ast.AST) -> ast.expr | None:
    """A node with a fault in it, None where none is made."""
    new: ast.AST = copy.deepcopy(node)
    match new:
        case ast.Compare() | ast.BinOp() | ast.BoolOp():
            other = _other_operator(new)
            if other is None:
                return None
            if isinstance(new, ast.Compare):
                new.ops = [other]  # type: ignore[list-item]
            else:
                new.op = other  # type: ignore[assignment]
        case ast.Constant(value=bool(value)):
            new.value = not value
        case ast.Constant(value=int(value) | float(value)):
            new.value = value + 1
        case ast.UnaryOp(op=ast.USub() | ast.Not()):
            new = new.operand
        case ast.IfExp():
            new.body, new.orelse = new.orelse, new.body
        case ast.Call(args=[first, second, *_]) if type(first) is type(second) and not _either(new):
            new.args[:2] = [second, first]
        case _:
            return None
    assert isinstance(new, ast.expr)
    return new


def _places(tree: ast.Module) -> Iterator[ast.expr]:
    """What is worked out when the code runs: no types, no defaults of fields, no names, and no
    `strict` of a zip, which only guards: nothing else comes of it."""
    guards = {
        id(word.value)
        for call in ast.walk(tree)
        if isinstance(call, ast.Call)
        for word in call.keywords
        if word.arg == "strict"
    }
    for part in ast.walk(tree):
        if isinstance(part, ast.FunctionDef):
            for line in part.body:
                for node in ast.walk(line):
                    if isinstance(node, ast.expr) and id(node) not in guards:
                        yield node


def fault_in(path: Path, dice: random.Random) -> Fault | None:
    """A fault somewhere in a file, None where it holds nothing to change."""
    text = (ROOT / path).read_text()
    tree = ast.parse(text)
    pairs = [(node, _faulty(node)) for node in _places(tree)]
    # two arguments that are the same can be exchanged for ever
    real = [(n, f) for n, f in pairs if f is not None and ast.dump(n) != ast.dump(f)]
    node, faulty = dice.choice(real or [(None, None)])
    if node is None or faulty is None:
        return None
    was = ast.get_source_segment(text, node)
    assert was is not None
    now = f"({ast.unparse(faulty)})"
    lines = text.splitlines(keepends=True)
    # offsets are counted in bytes
    begin = sum(len(one.encode()) for one in lines[: node.lineno - 1]) + node.col_offset
    raw = text.encode()
    new = raw[:begin] + now.encode() + raw[begin + len(was.encode()) :]
    return Fault(path, node.lineno, " ".join(was.split()), now, new.decode())


def faults(count: int, seed: int, only: str = "") -> list[Fault]:
    """So many faults, the same ones for a seed."""
    dice = random.Random(seed)
    files = sorted(p.relative_to(ROOT) for p in (ROOT / CODE).rglob("*.py"))
    packages: dict[str, list[Path]] = {}
    for path in files:
        packages.setdefault(str(path.parent.relative_to(CODE)), []).append(path)
    names = [only] if only else [name for name in packages if name != "."]
    drawing = [name for name in packages if name.startswith(DRAWING) and name != DRAWING]
    dice.shuffle(names)
    made: list[Fault] = []
    turn = 0
    while len(made) < count:
        name = dice.choice(drawing) if turn % 5 == 0 and not only else names[turn % len(names)]
        turn += 1
        fault = fault_in(dice.choice(packages[name]), dice)
        if fault is not None:
            made.append(fault)
    return made


class Seen(NamedTuple):
    """What a module of tests runs: the lines of each file, and in how many seconds."""

    name: str
    lines: dict[str, set[int]]
    seconds: float


def _tests() -> list[str]:
    """All modules of tests."""
    every = sorted((ROOT / "tests").rglob("test_*.py"))
    return [".".join(path.relative_to(ROOT).with_suffix("").parts) for path in every]


def _run(name: str, folder: Path, *before: str) -> int:
    """Runs a module of tests in a copy; gives its status, 1 where it never ends."""
    hand = name.startswith("tests.journeys")
    environment = {**os.environ, "PYTHONPATH": str(folder / "src"), "PYTHONDONTWRITEBYTECODE": "1",
                   "QT_QPA_PLATFORM": "xcb" if hand else "offscreen"}  # fmt: skip
    # each journey has a screen of its own: there is one pointer on each
    screen = ["xvfb-run", "-a", "-s", "-screen 0 1400x1000x24"] if hand else []
    try:
        done = subprocess.run(
            [*screen, sys.executable, *before, "-m", "unittest", "-f", name],
            cwd=folder, env=environment, capture_output=True, timeout=_MOST_SECONDS, check=False,
        )  # fmt: skip
    except subprocess.TimeoutExpired:
        return 1
    return done.returncode


def seen_by(name: str, folder: Path) -> Seen:
    """What a module of tests runs in a copy without a fault. Raises SystemExit where it fails."""
    data = folder / f"{name}.coverage"
    begin = time.monotonic()
    run = ("-m", "coverage", "run", f"--data-file={data}", "--source=src/sornix")
    # what waits for something may wait in vain once, where the processors are busy
    if all(_run(name, folder, *run) for _ in range(2)):
        raise SystemExit(f"{name} fails without any fault: nothing can be said.")
    seconds = time.monotonic() - begin
    found = CoverageData(basename=str(data))
    found.read()
    home = os.path.realpath(folder)
    lines = {str(Path(file).relative_to(home)): set(found.lines(file) or ())
             for file in found.measured_files()}  # fmt: skip
    return Seen(name, lines, seconds)


def _marks() -> dict[str, str]:
    """For each module of tests a mark of all that its map hangs on: the code, what the tests share,
    and the module itself."""
    tests = {name: ROOT / f"{name.replace('.', '/')}.py" for name in _tests()}
    shared = hashlib.sha256()
    for path in sorted(p for top in (CODE, "tests", "tools") for p in (ROOT / top).rglob("*")):
        if path.is_file() and path.suffix != ".pyc" and path not in tests.values():
            shared.update(path.read_bytes())
    whole = shared.hexdigest()
    return {
        name: hashlib.sha256(whole.encode() + path.read_bytes()).hexdigest()
        for name, path in tests.items()
    }


def known_before(kept: Path | None, marks: dict[str, str]) -> dict[str, Seen]:
    """What a kept map still tells, by the name of a module of tests."""
    if kept is None or not kept.exists():
        return {}
    return {
        name: Seen(name, {file: set(lines) for file, lines in seen.items()}, seconds)
        for name, (mark, seen, seconds) in json.loads(kept.read_text()).items()
        if marks.get(name) == mark
    }


def tests_for(fault: Fault, known: list[Seen]) -> list[str]:
    """The modules of tests that run the line of a fault, the quickest first; all of them for a line
    that runs in a process or thread of its own."""
    end = fault.line + fault.was.count("\n") + 1
    place = set(range(fault.line, end))
    quick = sorted(known, key=lambda one: one.seconds)
    seeing = [one for one in quick if place & one.lines.get(str(fault.path), set())]
    return [one.name for one in seeing or quick]


def noticed(fault: Fault, folder: Path, known: list[Seen]) -> str:
    """The module of tests that fails with a fault in the copy in `folder`; else TYPES where these
    no longer fit, "" for none."""
    target = folder / fault.path
    kept = target.read_text()
    target.write_text(fault.text)
    try:
        test = next((name for name in tests_for(fault, known) if _run(name, folder)), "")
        return test or (TYPES if _types_differ(folder) else "")
    finally:
        target.write_text(kept)


def _types_differ(folder: Path) -> bool:
    command = [sys.executable, "-m", "mypy"]
    return bool(subprocess.run(command, cwd=folder, capture_output=True, check=False).returncode)


def main() -> int:
    parser = argparse.ArgumentParser()
    parser.add_argument("--faults", type=int, default=25)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--only", default="")
    parser.add_argument("--workers", type=int, default=2)
    parser.add_argument("--list", action="store_true")
    parser.add_argument("--map", type=Path)
    asked = parser.parse_args()
    made = faults(asked.faults, asked.seed, asked.only)
    if asked.list:
        print("\n".join(fault.words for fault in made))
        return 0
    folders: SimpleQueue[Path] = SimpleQueue()
    with tempfile.TemporaryDirectory() as place, ThreadPoolExecutor(asked.workers) as pool:
        for number in range(asked.workers):
            folder = Path(place) / str(number)
            leave = shutil.ignore_patterns(".venv", ".git", ".ruff_cache", "__pycache__")
            shutil.copytree(ROOT, folder, ignore=leave)
            folders.put(folder)

        def held(work: Callable[[Any, Path], Any], given: Any) -> Any:
            folder = folders.get()
            try:
                return work(given, folder)
            finally:
                folders.put(folder)

        marks = _marks()
        by_name = known_before(asked.map, marks)
        new = [name for name in marks if name not in by_name]
        by_name |= {one.name: one for one in pool.map(partial(held, seen_by), new)}
        known = list(by_name.values())
        if asked.map is not None:
            whole = {one.name: (marks[one.name], {f: sorted(n) for f, n in one.lines.items()},
                                one.seconds) for one in known}  # fmt: skip
            asked.map.write_text(json.dumps(whole))
        print(f"{len(known)} modules of tests pass without a fault; the slowest:", flush=True)
        for one in sorted(known, key=lambda one: -one.seconds)[:_MOST_SLOW]:
            print(f"  {one.seconds:4.0f} s {one.name}", flush=True)
        tried = partial(held, lambda fault, folder: noticed(fault, folder, known))
        seen = typed = 0
        for fault, test in zip(made, pool.map(tried, made), strict=True):
            seen += bool(test) and test != TYPES
            typed += test == TYPES
            print(
                f"{'noticed by ' + test if test else 'NOT NOTICED':<48} {fault.words}", flush=True
            )
    print(f"{seen} of {len(made)} faults noticed by tests, {typed} more by the types")
    return 0


if __name__ == "__main__":
    sys.exit(main())
