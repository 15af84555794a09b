"""Safety copies of unsaved work: a folder each, kept up with what changes, locked while in use.

A copy is written over and over while somebody works, so only what has changed is written: the cells
of a table once for each state of it. The parts are those of a document; `copy.json`, written last,
says which files hold them, so that a copy is whole whenever its writer is killed.
"""

import contextlib
import fcntl
import json
import os
import secrets
import shutil
import time
from collections.abc import Iterator, Mapping
from pathlib import Path
from typing import Any, NamedTuple

from sornix.core.document.stored.package import (
    document_from,
    figure_part,
    package_part,
    readings_name,
    resource_of,
    table_parts,
)
from sornix.core.document.value import Document
from sornix.core.errors import DocumentError, refusal
from sornix.core.files import FileState, write_atomically
from sornix.core.readings import Table

_NOTE, _LOCK = "copy.json", "lock"
# A folder without a whole copy in it is litter once it is as old as this.
_LITTER_S = 3600.0


class Work(NamedTuple):
    """What is worked on: its `name`, the file that it belongs to, if any, and how that file was
    when it was opened or saved last."""

    name: str
    path: Path | None = None
    state: FileState | None = None


class _KeptTable(NamedTuple):
    """A table whose cells stand in files: `parts` maps names of parts to names of files."""

    table: Table
    parts: dict[str, str]
    resource: dict[str, Any]


class SafetyCopy:
    """The copy of one window's work. Only one thread may work with it at a time."""

    def __init__(self, root: Path, folder: Path | None = None, lock: int | None = None) -> None:
        self._root = root
        self._folder, self._lock = folder, lock
        self._kept: dict[int, _KeptTable] = {}
        self._number = _files_in(folder) if folder is not None else 0

    def write(self, document: Document, work: Work) -> None:
        """Brings the copy up to date. Raises DocumentError, the copy as it was."""
        try:
            folder = self._own_folder()
            kept = [self._keep(folder, i, t) for i, t in enumerate(document.tables, 1)]
            parts = {name: file for one in kept for name, file in one.parts.items()}
            for name, content in (
                ("datapackage.json", package_part([one.resource for one in kept])),
                ("figure.json", figure_part(document)),
            ):
                parts[name] = self._put(folder, content)
            note = {
                "name": work.name,
                "path": str(work.path) if work.path is not None else "",
                "state": _state_to_json(work.state),
                "parts": parts,
            }
            write_atomically(folder / _NOTE, json.dumps(note).encode())
        except OSError as error:
            raise DocumentError(
                f"A safety copy could not be written ({refusal(error)}).",
                where=str(self._root),
            ) from error
        self._kept = {id(one.table): one for one in kept}
        for file in folder.iterdir():
            if file.name not in (*parts.values(), _NOTE, _LOCK):
                file.unlink(missing_ok=True)

    def forget(self) -> None:
        """Takes the copy away: the work is saved, or given up."""
        if self._folder is not None:
            shutil.rmtree(self._folder, ignore_errors=True)
        if self._lock is not None:
            os.close(self._lock)
        self._folder = self._lock = None
        self._kept = {}

    def let_go(self) -> None:
        """Leaves the copy to whoever comes next."""
        if self._lock is not None:
            os.close(self._lock)
        self._folder = self._lock = None

    def _own_folder(self) -> Path:
        # somebody may have tidied up: then everything is written anew
        if self._folder is None or not self._folder.is_dir():
            self.let_go()
            self._kept = {}
            folder = self._root / secrets.token_hex(8)
            folder.mkdir(parents=True, mode=0o700)
            self._folder, self._lock = folder, _locked(folder)
        return self._folder

    def _keep(self, folder: Path, number: int, table: Table) -> _KeptTable:
        known = self._kept.get(id(table))
        # with the number of a table before it, its parts could have the names of another's
        if known is not None and known.resource["path"] == readings_name(table, number):
            return known
        resource = resource_of(table, number, None)
        files = {
            name: self._put(folder, content) for name, content in table_parts(table, number).items()
        }
        return _KeptTable(table, files, resource)

    def _put(self, folder: Path, content: bytes) -> str:
        self._number += 1
        name = f"{self._number}.part"
        (folder / name).write_bytes(content)
        return name


def _files_in(folder: Path) -> int:
    """The highest number of a part in a folder."""
    numbers = [int(f.stem) for f in folder.glob("*.part") if f.stem.isdigit()]
    return max(numbers, default=0)


def _locked(folder: Path) -> int | None:
    """A lock on a folder for as long as this process lives, None where another one has it."""
    file = os.open(folder / _LOCK, os.O_CREAT | os.O_RDWR | os.O_CLOEXEC, 0o600)
    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        os.close(file)
        return None
    return file


class LeftCopy(NamedTuple):
    """A copy that nobody works on any more: its folder, what it is of, and when it was written."""

    folder: Path
    work: Work
    seconds: float

    def load(self) -> Document:
        """The document in it. Raises DocumentError."""
        try:
            parts = json.loads((self.folder / _NOTE).read_bytes())["parts"]
            return document_from(_Parts(self.folder, parts), self.work.name, self.folder)
        except (OSError, ValueError, KeyError, TypeError) as error:
            raise DocumentError("The safety copy cannot be read.", where=self.work.name) from error

    def throw_away(self) -> None:
        """Removes the copy, unless another process has taken it over meanwhile."""
        with contextlib.suppress(OSError):
            copy = self.take_over()
            if copy is not None:
                copy.forget()

    def take_over(self) -> SafetyCopy | None:
        """The copy as one's own, None where another process has it."""
        lock = _locked(self.folder)
        return SafetyCopy(self.folder.parent, self.folder, lock) if lock is not None else None


class _Parts(Mapping[str, bytes]):
    """The parts of a copy, read when they are asked for."""

    def __init__(self, folder: Path, files: Mapping[str, str]) -> None:
        self._folder, self._files = folder, files

    def __getitem__(self, name: str) -> bytes:
        return (self._folder / Path(self._files[name]).name).read_bytes()

    def __iter__(self) -> Iterator[str]:
        return iter(self._files)

    def __len__(self) -> int:
        return len(self._files)


def left_behind(root: Path) -> list[LeftCopy]:
    """The copies of programs that run no more, the newest first; litter is removed."""
    found = []
    with contextlib.suppress(OSError):
        for folder in root.iterdir():
            with contextlib.suppress(OSError):
                if folder.is_dir() and (copy := _looked_at(folder)) is not None:
                    found.append(copy)
    return sorted(found, key=lambda copy: copy.seconds, reverse=True)


def _looked_at(folder: Path) -> LeftCopy | None:
    old = time.time() - folder.stat().st_mtime > _LITTER_S
    lock = _locked(folder)
    if lock is None:
        return None
    try:
        note = folder / _NOTE
        if not note.exists():
            if old:
                shutil.rmtree(folder, ignore_errors=True)
            return None
        try:
            work = _work_from(json.loads(note.read_bytes()))
        except (ValueError, KeyError, TypeError):
            work = Work("a figure")
        return LeftCopy(folder, work, note.stat().st_mtime)
    finally:
        os.close(lock)


def _work_from(note: dict[str, Any]) -> Work:
    state = note["state"]
    known = FileState(state[0], state[1], bytes.fromhex(state[2])) if state else None
    return Work(str(note["name"]), Path(note["path"]) if note["path"] else None, known)


def _state_to_json(state: FileState | None) -> list[Any] | None:
    return [state.size, state.changed, state.digest.hex()] if state is not None else None
