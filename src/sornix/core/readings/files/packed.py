"""Files that are packed: what is in them, up to a limit."""

import bz2
import gzip
import lzma
import tempfile
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO, Any

from sornix.core.errors import ReadingsError
from sornix.core.readings.files.encoding import PACKED

# What a packed file may unpack to: so many bytes, or so many times its size.
MOST_BYTES, _MOST_RATIO = 256 << 20, 100
_PIECE = 1 << 20


@contextmanager
def unpacked(path: Path, head: bytes) -> Iterator[dict[str, Path]]:
    """The files in a packed one by their names there, in a folder that is there meanwhile.

    Raises ReadingsError where it is damaged, or unpacks to more than it should.
    """
    with tempfile.TemporaryDirectory(prefix="sornix-") as folder:
        try:
            if head.startswith(b"PK"):
                found = _from_zip(path, Path(folder))
            else:
                inner = _from_stream(path, head, Path(folder))
                found = {inner.name: inner}
        except (
            OSError, EOFError, zlib.error, lzma.LZMAError, zipfile.BadZipFile, NotImplementedError,
            RuntimeError,
        ) as error:  # fmt: skip
            if isinstance(error, OSError) and error.errno is not None:
                raise
            raise ReadingsError("This packed file is damaged.", where=path.name) from error
        yield found


def _from_stream(path: Path, head: bytes, folder: Path) -> Path:
    name = path.stem if path.suffix.lower() in PACKED else path.name
    inner = folder / (name if Path(name).suffix else f"{name}.txt")
    with _opened(path, head) as stream:
        _copy(stream, inner, path, _most(path))
    return inner


def _opened(path: Path, head: bytes) -> Any:
    """The stream in a packed file."""
    if head.startswith(PACKED[".zst"]):
        import pyarrow as pa

        # what it says of damage is an OSError without a number
        return pa.CompressedInputStream(pa.OSFile(str(path)), "zstd")
    if head.startswith(PACKED[".gz"]):
        return gzip.GzipFile(path)
    return bz2.BZ2File(path) if head.startswith(PACKED[".bz2"]) else lzma.LZMAFile(path)


def _from_zip(path: Path, folder: Path) -> dict[str, Path]:
    found = {}
    left = _most(path)
    with zipfile.ZipFile(path) as archive:
        infos = [i for i in archive.infolist() if not i.is_dir() and not _is_beside(i.filename)]
        if any(info.flag_bits & 1 for info in infos):
            raise ReadingsError("This ZIP is closed by a password.", where=path.name)
        for number, info in enumerate(infos):
            # never by the path in the archive, which may lead anywhere
            inner = folder / f"{number}" / Path(info.filename.replace("\\", "/")).name
            inner.parent.mkdir()
            with archive.open(info) as stream:
                left -= _copy(stream, inner, path, left)
            found[info.filename] = inner
    if not found:
        raise ReadingsError("This ZIP holds no files.", where=path.name)
    return found


def _is_beside(name: str) -> bool:
    """Whether a part of a ZIP is what systems put beside files."""
    return name.startswith("__MACOSX/") or Path(name).name.startswith(".")


def _most(path: Path) -> int:
    return max(MOST_BYTES, _MOST_RATIO * path.stat().st_size)


def _copy(stream: IO[bytes], target: Path, path: Path, most: int) -> int:
    """Copies up to a limit; gives the number of bytes. Raises ReadingsError beyond it."""
    count = 0
    with target.open("wb") as file:
        while piece := stream.read(_PIECE):
            count += len(piece)
            if count > most:
                raise ReadingsError(
                    f"This file unpacks to more than {_most(path) >> 20} MB.",
                    where=path.name,
                    remedy="Unpack it, or divide it.",
                )
            file.write(piece)
    return count
