"""Columns of very many readings, laid down in the folder of caches: opened again, they are there at
once, and what is not looked at need not be in memory."""

import os
import time
from contextlib import suppress
from mmap import ACCESS_READ, MADV_DONTNEED, PAGESIZE, mmap
from pathlib import Path
from typing import Any
from weakref import WeakSet, WeakValueDictionary

import numpy as np
from numpy.typing import NDArray

# Values that take more than this are laid down.
MOST_IN_MEMORY = 1 << 26
# What is worked out may take more: it comes and goes.
_MOST_IN_ROOM = 1 << 28
# All together take no more than this, and no more than a part of what the disk has left.
_MOST_BYTES, _PART_OF_DISK = 16 << 30, 0.5
_ENDING = ".columns"
_LEFT_BEHIND_S = 3600.0
# What is laid down otherwise has another name.
_FORM = "2"


# Those that are in use.
_laid: "WeakSet[mmap]" = WeakSet()
# Those of files that have a name, by the file.
_known: "WeakValueDictionary[tuple[int, int], mmap]" = WeakValueDictionary()


def folder() -> Path:
    from platformdirs import user_cache_path

    return user_cache_path("sornix") / "columns"


def make_folder() -> None:
    """Makes the folder, for nobody else to look into. Raises OSError."""
    folder().mkdir(parents=True, exist_ok=True, mode=0o700)


def place_for(path: Path) -> Path:
    """Where the columns of a file as it is now are kept, if they are."""
    state, place = path.stat(), path.resolve()
    now = f"{_FORM} {state.st_ino} {state.st_size} {state.st_mtime_ns}"
    return folder() / f"{_hash(str(place))}-{_hash(now)}{_ENDING}"


def _hash(text: str) -> str:
    import hashlib

    return hashlib.sha256(text.encode(errors="surrogateescape")).hexdigest()[:20]


def kept(place: Path) -> memoryview | None:
    """What is laid down there; None where nothing is."""
    try:
        with place.open("rb") as file:
            os.utime(file.fileno())
            state = os.fstat(file.fileno())
            which = state.st_dev, state.st_ino
            # opened once more, it is the same
            found = _known.get(which)
            if found is None or len(found) != state.st_size:
                found = mmap(file.fileno(), 0, access=ACCESS_READ)
    except (OSError, ValueError):
        return None
    _known[which] = found
    _laid.add(found)
    return memoryview(found)


def keep(part: Path, place: Path) -> memoryview:
    """Gives what was laid down its name, takes away what is there of the same file as it was, and
    the oldest of all that is too much."""
    part.replace(place)
    for other in place.parent.glob(f"{place.name.partition('-')[0]}-*{_ENDING}"):
        if other != place:
            other.unlink(missing_ok=True)
    _tidy(place)
    found = kept(place)
    if found is None:
        raise OSError(f"{place} is gone")
    return found


def forget() -> None:
    """Takes away all that is laid down."""
    for one in folder().glob(f"*{_ENDING}"):
        one.unlink(missing_ok=True)


def _tidy(newest: Path) -> None:
    others = sorted(
        (one for one in newest.parent.glob(f"*{_ENDING}") if one != newest),
        key=lambda one: -one.stat().st_mtime,
    )
    import shutil

    for part in newest.parent.glob(f"*{_ENDING}.*"):
        # whoever began it was killed
        with suppress(OSError):
            if time.time() - part.stat().st_mtime > _LEFT_BEHIND_S:
                part.unlink()
    left = min(_MOST_BYTES, int(shutil.disk_usage(newest.parent).free * _PART_OF_DISK))
    left -= newest.stat().st_size
    for one in others:
        left -= one.stat().st_size
        if left < 0:
            one.unlink(missing_ok=True)


def room_for(count: int) -> NDArray[np.float64]:
    """Room for so many values, shape (n,): in memory, or of very many in a file that is gone with
    them."""
    if 8 * count <= _MOST_IN_ROOM:
        return np.empty(count)
    from tempfile import TemporaryFile

    for one in list(_laid):
        # what follows goes through all of it once more
        one.madvise(MADV_DONTNEED)
    try:
        make_folder()
        with TemporaryFile(dir=folder()) as file:
            os.posix_fallocate(file.fileno(), 0, 8 * count)
            whole = mmap(file.fileno(), 8 * count)
    except OSError:
        # without a disk there may still be memory
        return np.empty(count)
    _laid.add(whole)
    return np.frombuffer(memoryview(whole), np.float64)


def bring(values: NDArray[Any]) -> None:
    """Brings values (n,) that are laid down into memory, so that nobody waits for them."""
    if _of(values) is not None:
        values[:: PAGESIZE // values.itemsize].sum()


def let_go_of(values: NDArray[Any]) -> None:
    """Lets go of the memory of values (n,) that are laid down, until they are looked at again;
    nothing happens to others."""
    whole = _of(values)
    if whole is None or not len(values):
        return
    begin = _address(values) - _address(np.frombuffer(whole, np.uint8))
    first = -(-begin // PAGESIZE) * PAGESIZE
    last = (begin + values.nbytes) // PAGESIZE * PAGESIZE
    if first < last:
        whole.madvise(MADV_DONTNEED, first, last - first)


# A pass lets go of what lies behind it after so many readings.
LET_GO = 1 << 22


def let_go_behind(at: int, *gone_through: NDArray[Any]) -> None:
    """Lets go of what a pass through values (n,) has behind it where it comes to the place `at`,
    once in LET_GO readings."""
    if at % LET_GO == 0:
        for values in gone_through:
            let_go_of(values[max(at - LET_GO, 0) : at])


def _of(values: NDArray[Any]) -> mmap | None:
    """What values are laid down in, None for others."""
    base: Any = values
    while isinstance(base, np.ndarray):
        base = base.base
    whole = base.obj if isinstance(base, memoryview) else None
    return whole if isinstance(whole, mmap) and whole in _laid else None


def _address(values: NDArray[Any]) -> int:
    return int(values.__array_interface__["data"][0])
