"""How a row of the table is measured: beside its floor, by turns, in wall and processor time."""

import math
import os
import resource
import statistics
import subprocess
import time
from collections.abc import Callable, Iterator, Sequence
from itertools import pairwise
from typing import Any, NamedTuple

from tests.core.measure import calls_of

Act = Callable[[], object]
_RUNS = 7
# Nothing is measured for longer than this.
_MOST_SECONDS = 20.0


class Row(NamedTuple):
    """What something of a `size` takes, in ms, and Python calls; its `floor` in ms, measured by
    turns with it, and what that is. The `goal` is a ratio to the floor, or ms where `absolute`."""

    name: str
    size: int
    ms: float
    cpu_ms: float
    calls: int
    floor_ms: float
    floor: str
    goal: float
    absolute: bool = False

    @property
    def ratio(self) -> float:
        """How many times its floor it takes; of absolute goals, the milliseconds."""
        return self.ms if self.absolute else self.ms / max(self.floor_ms, 1e-6)

    @property
    def holds(self) -> bool:
        return self.ratio <= self.goal


def measured(
    name: str, size: int, act: Act, goal: float, *, bare: Act | None = None, floor: str = "",
    before: Act = lambda: None, runs: int = _RUNS, aside: Act | None = None,
) -> Row:  # fmt: skip
    """A row; without something `bare` beside it, its goal is in milliseconds. What is done `before`
    each time is not counted, and what is done `aside` takes is taken off."""
    ours, processor, floors = [], [], []
    less = min(_timed(aside) for _ in range(runs)) if aside is not None else (0.0, 0.0)
    until = time.monotonic() + _MOST_SECONDS
    for turn in range(runs):
        if bare is not None:
            floors.append(_timed(bare)[0])
        before()
        wall, cpu = _timed(act)
        ours.append(wall - less[0])
        processor.append(cpu - less[1])
        if turn > 1 and time.monotonic() > until:
            break
    before()
    calls = calls_of(act)
    middle = statistics.median
    return Row(name, size, middle(ours), middle(processor), calls,
               middle(floors) if floors else 0.0, floor, goal, absolute=bare is None)  # fmt: skip


def _timed(act: Act) -> tuple[float, float]:
    begin, used = time.perf_counter(), time.process_time()
    act()
    return (time.perf_counter() - begin) * 1e3, (time.process_time() - used) * 1e3


def child_ms(command: Sequence[str]) -> float:
    """The processor time that a command takes."""
    environment = {"QT_QPA_PLATFORM": "offscreen", **os.environ}
    # users have compiled modules: ./start makes them
    environment.pop("PYTHONDONTWRITEBYTECODE", None)
    before = resource.getrusage(resource.RUSAGE_CHILDREN)
    subprocess.run(command, capture_output=True, check=True, env=environment)
    after = resource.getrusage(resource.RUSAGE_CHILDREN)
    used = after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime
    return used * 1e3


def command_row(
    name: str, command: Sequence[str], bare: Sequence[str], floor: str, goal: float
) -> Row:
    """A command by its processor time, beside that of another by turns."""
    ours, floors = [], []
    child_ms(command)
    for _ in range(_RUNS):
        floors.append(child_ms(bare))
        ours.append(child_ms(command))
    middle = statistics.median(ours)
    return Row(name, 0, middle, middle, 0, statistics.median(floors), floor, goal)


def exponents(rows: Sequence[Row]) -> dict[tuple[str, int], float]:
    """With which power of the size the time grows from the size before, by name and size."""
    found = {}
    for one, other in pairwise(sorted(rows, key=lambda row: (row.name, row.size))):
        if one.name == other.name and other.size > one.size > 0:
            growth = math.log(max(other.cpu_ms, 1e-3) / max(one.cpu_ms, 1e-3))
            found[other.name, other.size] = growth / math.log(other.size / one.size)
    return found


def table(rows: Sequence[Row]) -> Iterator[str]:
    """The rows as lines of text: ratios to the floor, or milliseconds, against the goals."""
    powers = exponents(rows)
    yield (f"{'':<34}{'size':>9}{'ms':>10}{'cpu ms':>10}{'calls':>9}{'growth':>8}"
           f"{'floor ms':>10}{'found':>9}{'goal':>7}   floor")  # fmt: skip
    for row in sorted(rows, key=lambda row: row.name.partition(":")[0]):
        power = powers.get((row.name, row.size))
        size = f"{row.size:.0e}".replace("e+0", "e") if row.size else ""
        unit = " ms" if row.absolute else " ×"
        bare = "" if row.absolute else f"{row.floor_ms:.2f}"
        yield (
            f"{row.name:<34}{size:>9}{row.ms:>10.2f}{row.cpu_ms:>10.2f}{row.calls:>9}"
            f"{'' if power is None else f'{power:.2f}':>8}{bare:>10}"
            f"{row.ratio:>7.1f}{unit}{row.goal:>5g}{'' if row.holds else ' !'}   {row.floor}"
        ).rstrip()


def compared(one: dict[str, Any], other: dict[str, Any]) -> Iterator[str]:
    """Two runs row by row: what the second takes of the first, in processor time."""
    yield f"{'':<34}{'size':>9}{'cpu ms':>12}{'cpu ms':>12}{'second/first':>14}"
    known = {(row["name"], row["size"]): row for row in one["rows"]}
    for row in other["rows"]:
        before = known.get((row["name"], row["size"]))
        if before is not None and before["cpu_ms"]:
            share = row["cpu_ms"] / before["cpu_ms"]
            yield (f"{row['name']:<34}{row['size'] or '':>9}{before['cpu_ms']:>12.2f}"
                   f"{row['cpu_ms']:>12.2f}{share:>14.2f}")  # fmt: skip
