"""Foreign binary formats, opened in a process of their own (see child.py)."""

import os
import pickle
import select
import struct
import subprocess
import sys
import time
from importlib import import_module
from mmap import mmap
from pathlib import Path
from typing import Any

from sornix.core.errors import ReadingsError
from sornix.core.patience import go_on

# A file of up to 10 MB may make its reader take so much memory, in all; larger ones more.
_USUAL_SIZE, _USUAL_MEMORY = 10 << 20, 1 << 30
_MEMORY_RATIO = 60
# Of this memory, what is found may take so much on its way here.
_FOUND_SHARE = 0.4
_SECONDS, _SECONDS_PER_MB = 15.0, 3.0
_LOOK_S = 0.05
# It computes nothing: threads for that take longer to start than small files to read.
_ALONE = {"OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1"}


class Stopped(Exception):
    """The process ended without an answer: at its limit of memory, or by a fault in a library."""


_MOST_CELLS = 1 << 29
_ARROW_KINDS = ("parquet", "arrow")


def opened(room: str, kind: str, words: str, path: Path, *arguments: str) -> tuple[str, Any]:
    """What a process of its own finds in a file of a kind in `words`, given the most cells that are
    taken before other arguments. Raises ReadingsError where it is damaged or holds too much."""
    try:
        letter, found = found_in(room, kind, path, str(_MOST_CELLS), *arguments)
    except Stopped:
        letter, found = "D", b""
    if letter == "I":
        raise ReadingsError(
            f"Reading this takes the library {found}, which is not installed.",
            where=path.name,
            remedy=f"Install it with: python -m pip install {found}",
        )
    if letter == "L":
        raise ReadingsError("This file holds too many readings.", where=path.name)
    if letter == "D":
        raise damaged(words, path)
    return letter, found


def damaged(words: str, path: Path) -> ReadingsError:
    """What is said of a damaged file of a kind in words."""
    return ReadingsError(f"This {words} file is damaged, or only a part of one.", where=path.name)


def found_in(room: str, kind: str, path: Path, *arguments: str) -> tuple[str, Any]:
    """What a process of its own finds in a file: a letter that says what (see child.py), and a
    value, for `C` the bytes of columns.

    Raises Stopped, ReadingsError where it takes too long or too much, and GivenUp.
    """
    size = path.stat().st_size
    memory = _memory_for(size)
    python = [sys.executable, "-P", "-s", "-S"]
    command = [*python, str(Path(__file__).with_name("child.py")), room, kind]
    # what it writes lies in memory that both share, so that nothing has to be carried over
    shared = os.memfd_create("sornix")
    process = subprocess.Popen(
        [*command, str(memory), os.fspath(path), *arguments],
        stdin=subprocess.DEVNULL,
        stdout=shared,
        stderr=subprocess.DEVNULL,
        env={**os.environ, "PYTHONPATH": os.pathsep.join(filter(None, sys.path)), **_ALONE},
        start_new_session=True,
    )
    seconds = _SECONDS + _SECONDS_PER_MB * size / (1 << 20)
    try:
        if kind in _ARROW_KINDS:
            # loaded meanwhile, since the answer is a stream of Arrow
            import_module("pyarrow")
        _await(process, shared, path, seconds, int(memory * _FOUND_SHARE))
        answer = memoryview(mmap(shared, 0)) if os.fstat(shared).st_size else memoryview(b"")
    finally:
        process.kill()
        process.wait()
        os.close(shared)
    letter = bytes(answer[:1]).decode("ascii", "replace")
    if letter == "C" and not process.returncode:
        return letter, answer
    if not letter or letter == "M" or process.returncode > 0:
        raise Stopped
    try:
        return letter, pickle.loads(answer[1:])
    except (pickle.UnpicklingError, EOFError) as error:
        raise Stopped from error


def _memory_for(size: int) -> int:
    whole = os.sysconf("SC_PAGE_SIZE") * os.sysconf("SC_PHYS_PAGES")
    wanted = _USUAL_MEMORY + _MEMORY_RATIO * max(size - _USUAL_SIZE, 0)
    return max(_USUAL_MEMORY, min(wanted, whole * 7 // 10))


def _await(
    process: "subprocess.Popen[bytes]", shared: int, path: Path, seconds: float, most: int
) -> None:
    """Waits until the process has written what it found. Raises ReadingsError and GivenUp."""
    until = time.monotonic() + seconds
    ended = os.pidfd_open(process.pid)
    try:
        go_on()
        while not select.select([ended], [], [], _LOOK_S)[0]:
            go_on(_done(shared))
            if time.monotonic() > until:
                raise ReadingsError(
                    f"Reading was given up after {seconds:.0f} seconds.",
                    where=path.name,
                    remedy="The file may be damaged. Save it anew, or save it as text.",
                )
            _need_room(shared, path, most)
    finally:
        os.close(ended)
    process.wait()
    _need_room(shared, path, most)


def _done(shared: int) -> float | None:
    """What part is done of what comes as columns: it stands behind the letter."""
    head = os.pread(shared, 16, 0)
    return struct.unpack("d", head[8:])[0] if head[:1] == b"C" and len(head) == 16 else None


def _need_room(shared: int, path: Path, most: int) -> None:
    if os.fstat(shared).st_size > most:
        raise ReadingsError(
            "This file holds far more than its size tells.",
            where=path.name,
            remedy="Save it as text, or divide it.",
        )
