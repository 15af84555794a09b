"""Files on disk: written whole or not at all, and known again when somebody else changed them."""

import contextlib
import fcntl
import os
import stat
import time
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple
from zlib import crc32

from sornix.core.errors import DocumentError, refusal

# Of documents.
ENDING = ".sornix"
# What a writer that was killed leaves in the folder begins and ends so.
_BEFORE, _AFTER = ".sornix-", ".new"
# What is written in place, for the sake of its other names, stands whole beside it meanwhile.
_WHOLE = ".whole"
_OPEN_FILES = "/proc/self/fd"
# When left-over files were looked for in a folder: a batch does not look before every file.
_swept: dict[str, float] = {}
_SWEEP_AGAIN_S = 5.0
# Asked for once, while there is one thread: to ask is to change it for a moment.
_UMASK = os.umask(0o077)
os.umask(_UMASK)


class FileState(NamedTuple):
    """A file as it was: its size, when it was changed (ns since 1970), and a digest of it."""

    size: int
    changed: int
    digest: bytes

    def is_still(self, path: Path) -> bool:
        """Whether the file holds what it held. Raises OSError where it cannot be looked at."""
        now = path.stat()
        if (now.st_size, now.st_mtime_ns) == (self.size, self.changed):
            return True
        return now.st_size == self.size and _digest(path.read_bytes()) == self.digest


def state_of(path: Path, content: bytes | None = None) -> FileState | None:
    """The file as it is now, None where there is none; `content` spares reading it."""
    try:
        found = path.stat()
        raw = path.read_bytes() if content is None else content
    except OSError:
        return None
    return FileState(found.st_size, found.st_mtime_ns, _digest(raw))


def _digest(content: bytes) -> bytes:
    # its library is large, and reading needs it last of all
    from hashlib import blake2b

    return blake2b(content, digest_size=16).digest()


def is_read_only(path: Path) -> bool:
    """Whether a file is there that its owner does not want to be written to."""
    try:
        mode = path.stat().st_mode
    except OSError:
        return False
    # an administrator may write everywhere, but the wish stands in the mode
    return not mode & 0o222 or not os.access(path, os.W_OK)


def same_file(one: Path, other: Path) -> bool:
    """Whether two paths lead to one file, through links of any kind, or would."""
    try:
        return one.samefile(other)
    except OSError:
        return _resolved(one) == _resolved(other)


def _resolved(path: Path) -> Path:
    # unlike Path.resolve this does not raise at a loop of links; opening the file tells of that
    return Path(os.path.realpath(path))


def write_atomically(path: Path, content: bytes) -> None:
    """Writes beside `path`, syncs, and renames: the file is either old or new, never half.

    A file that is there keeps its mode, its attributes and, where that is allowed, its owner; a
    link stays a link. A file with several names is written in place, while the whole content
    stands beside it. What a killed writer left in the folder is removed. Raises DocumentError
    where the folder does not take it.
    """
    try:
        _write(_resolved(path), content)
    except (OSError, ValueError) as error:
        raise DocumentError(
            f"The file could not be written ({refusal(error)}).",
            where=str(path),
            remedy="Choose another folder, or make room there.",
        ) from error


def _write(target: Path, content: bytes) -> None:
    try:
        was = target.stat()
    except FileNotFoundError:
        was = None
    if was is not None and not stat.S_ISREG(was.st_mode):
        if stat.S_ISDIR(was.st_mode):
            raise IsADirectoryError(None, "it is a folder")
        # a pipe or a device such as /dev/stdout: there is nothing to keep whole
        target.write_bytes(content)
        return
    _sweep(target.parent)
    several = was is not None and was.st_nlink > 1
    with _beside(target, kept_whole=several) as beside:
        os.fchmod(beside.file, (was.st_mode & 0o7777) if was is not None else 0o666 & ~_UMASK)
        if was is not None:
            _take_on(beside.file, target, was)
        _put(beside.file, content)
        if several:
            beside.show()
            with target.open("r+b") as file:
                file.write(content)
                file.truncate()
                file.flush()
                os.fsync(file.fileno())
        else:
            beside.replace(target)
    _sync_folder(target.parent)


class _Beside:
    """A file without a name, or with one of ours, in the folder of the target."""

    def __init__(self, target: Path, *, kept_whole: bool) -> None:
        folder = target.parent
        # the target's own name may be as long as a name can be
        name = f"{crc32(target.name.encode(errors='surrogateescape')):08x}"
        ending = _WHOLE if kept_whole else _AFTER
        self.place = folder / f"{_BEFORE}{name}-{os.urandom(4).hex()}{ending}"
        self.has_name = False
        self.file = -1
        if Path(_OPEN_FILES).is_dir():
            # a file that has no name yet is gone with whoever is killed while writing it
            with contextlib.suppress(OSError):
                self.file = os.open(folder, os.O_TMPFILE | os.O_RDWR, 0o600)
        if self.file < 0:
            self.file = os.open(self.place, os.O_CREAT | os.O_EXCL | os.O_RDWR, 0o600)
            self.has_name = True
        # the lock tells others that the writer lives
        with contextlib.suppress(OSError):
            fcntl.flock(self.file, fcntl.LOCK_EX | fcntl.LOCK_NB)

    def show(self) -> None:
        """Gives the file its name."""
        if not self.has_name:
            # a folder's descriptor is asked for so that the link is followed, and not used
            os.link(f"{_OPEN_FILES}/{self.file}", self.place, src_dir_fd=self.file)
            self.has_name = True

    def replace(self, target: Path) -> None:
        self.show()
        self.place.replace(target)
        self.has_name = False


@contextlib.contextmanager
def _beside(target: Path, *, kept_whole: bool) -> Iterator[_Beside]:
    """A file beside the target, which is gone afterwards whatever happens, Ctrl+C included."""
    beside = _Beside(target, kept_whole=kept_whole)
    try:
        yield beside
    finally:
        if beside.has_name:
            beside.place.unlink(missing_ok=True)
        os.close(beside.file)


def _put(file: int, content: bytes) -> None:
    rest = memoryview(content)
    while rest:
        rest = rest[os.write(file, rest) :]
    os.fsync(file)


def _take_on(file: int, target: Path, was: os.stat_result) -> None:
    """Owner and attributes of the old file, as far as they may be given."""
    with contextlib.suppress(OSError):
        if (was.st_uid, was.st_gid) != (os.geteuid(), os.getegid()):
            os.fchown(file, was.st_uid, was.st_gid)
            # changing the owner takes these bits off
            os.fchmod(file, was.st_mode & 0o7777)
    with contextlib.suppress(OSError):
        for name in os.listxattr(target):
            with contextlib.suppress(OSError):
                os.setxattr(file, name, os.getxattr(target, name))


def _sync_folder(folder: Path) -> None:
    """The new name reaches the disk too; a folder that cannot be synced is no reason to fail."""
    with contextlib.suppress(OSError):
        handle = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def _sweep(folder: Path) -> None:
    """Removes what killed writers left in a folder: nobody holds the lock of such a file."""
    now = time.monotonic()
    if now - _swept.get(str(folder), -_SWEEP_AGAIN_S) < _SWEEP_AGAIN_S:
        return
    _swept[str(folder)] = now
    with contextlib.suppress(OSError), os.scandir(folder) as entries:
        for entry in entries:
            if entry.name.startswith(_BEFORE) and entry.name.endswith(_AFTER):
                _remove_if_abandoned(Path(entry.path))


def _remove_if_abandoned(path: Path) -> None:
    with contextlib.suppress(OSError):
        file = os.open(path, os.O_RDWR)
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            path.unlink(missing_ok=True)
        finally:
            os.close(file)
