"""Variables of HDF5, NetCDF and NumPy files; see child.py."""

from collections.abc import Callable, Iterator
from typing import Any

# A variable of such a file: its path, the names of its dimensions, its values, its attributes.
_Variable = tuple[str, tuple[str, ...], Any, dict[str, Any]]
_NO_VARIABLE = b"This is a netCDF dimension but not a netCDF variable"
# what describes dimensions to the library, and nothing to people
_OF_THE_FILE = frozenset(
    ("CLASS", "NAME", "DIMENSION_LIST", "REFERENCE_LIST", "DIMENSION_LABELS", "_Netcdf4Dimid",
     "_Netcdf4Coordinates", "_NCProperties", "_nc3_strict")
)  # fmt: skip


class _TooMany(Exception):
    """There are more values than are taken."""


class _Room:
    """How many more values are taken."""

    def __init__(self, most: str) -> None:
        self._left = int(most)

    def take(self, values: Any) -> None:
        """Raises _TooMany."""
        self._left -= max(int(values.size), 1)
        if self._left < 0:
            raise _TooMany


def _plain(value: Any) -> Any:
    """An attribute as text, a number, or a list of these."""
    import numpy as np

    if isinstance(value, bytes):
        return value.decode("utf-8", "replace")
    if isinstance(value, np.ndarray):
        found = [_plain(one) for one in value.ravel()[:64]]
        return found[0] if len(found) == 1 else found
    if isinstance(value, np.floating) and value.dtype.itemsize < 8:
        # as it was written, not with the digits that more bits would give it
        return float(str(value))
    if isinstance(value, np.generic):
        return _plain(value.item())
    return value if isinstance(value, (str, int, float)) else str(value)


def _hdf5(path: str, most_cells: str) -> tuple[str, Any]:
    """The variables of an HDF5 or NetCDF-4 file, and those that cannot be unpacked."""
    import h5py

    found: list[_Variable] = []
    closed: list[str] = []
    room = _Room(most_cells)
    try:
        with h5py.File(path, "r", locking=False) as file:
            for one in _datasets(file, set()):
                room.take(one)
                try:
                    found.append((one.name, _dimensions(one), _values(one), _attributes(one)))
                except (OSError, TypeError, ValueError):
                    closed.append(one.name)
    except _TooMany:
        return "L", ""
    except (OSError, RuntimeError, KeyError, ValueError, TypeError, RecursionError):
        return "D", ""
    else:
        return "V", (found, closed)


def _datasets(group: Any, seen: set[Any]) -> Iterator[Any]:
    """The data sets of a group and of those in it, each once, and none of other files."""
    import h5py

    for name in group:
        # what other names lead to is met under its own
        if not isinstance(group.get(name, getlink=True), h5py.HardLink):
            continue
        one = group.get(name)
        if one is None or one.id in seen:
            continue
        seen.add(one.id)
        if isinstance(one, h5py.Group):
            yield from _datasets(one, seen)
        elif isinstance(one, h5py.Dataset) and one.shape is not None and not _is_bare(one):
            yield one


def _is_bare(one: Any) -> bool:
    """Whether it only says how long a dimension is, or holds references."""
    name = one.attrs.get("NAME", b"") if "NAME" in one.attrs else b""
    said = name.encode() if isinstance(name, str) else bytes(name)
    references = one.dtype.hasobject and not one.dtype.metadata
    return said.startswith(_NO_VARIABLE) or references


def _dimensions(one: Any) -> tuple[str, ...]:
    """The paths of the scales of its dimensions, "" where it has none."""
    import h5py

    if h5py.h5ds.is_scale(one.id):
        return (one.name, *[""] * (one.ndim - 1))
    found = []
    for dimension in one.dims:
        try:
            found.append(dimension[0].name if len(dimension) else "")
        except (RuntimeError, ValueError):
            found.append("")
    return tuple(found)


def _values(one: Any) -> Any:
    import h5py
    import numpy as np

    kind = h5py.check_string_dtype(one.dtype)
    return np.asarray(one[()] if kind is None else one.asstr(kind.encoding, "replace")[()])


def _attributes(one: Any) -> dict[str, Any]:
    found = {}
    for name in one.attrs:
        if name not in _OF_THE_FILE:
            try:
                found[name] = _plain(one.attrs[name])
            except (OSError, TypeError, ValueError):
                continue
    return found


def _netcdf(path: str, most_cells: str) -> tuple[str, Any]:
    """The variables of a NetCDF file of the classic kind."""
    from scipy.io import netcdf_file

    found: list[_Variable] = []
    room = _Room(most_cells)
    try:
        # so that nothing of the file is held when it is closed
        with netcdf_file(path, "r", mmap=False, maskandscale=False) as file:
            for name, one in file.variables.items():
                room.take(one.data)
                values = one.data.astype(one.data.dtype.newbyteorder("="))
                attributes = {k: _plain(v) for k, v in vars(one)["_attributes"].items()}
                dimensions = tuple(f"/{d}" for d in one.dimensions)
                if values.dtype.kind == "S" and values.ndim and values.dtype.itemsize == 1:
                    # letters in a row make a word
                    dimensions = dimensions[:-1]
                    values = values.view(f"S{values.shape[-1]}")[..., 0] if values.size else values
                found.append((f"/{name}", dimensions, values, attributes))
    except _TooMany:
        return "L", ""
    except Exception:  # noqa: BLE001 - it is not made for damaged files
        return "D", ""
    else:
        return "V", (found, [])


def _numpy(path: str, most_cells: str) -> tuple[str, Any]:
    """The arrays of a .npy or .npz file; those of Python objects are not opened."""
    import numpy as np

    found: list[_Variable] = []
    closed: list[str] = []
    room = _Room(most_cells)
    try:
        loaded = np.load(path, allow_pickle=False)
        named = {"": loaded} if isinstance(loaded, np.ndarray) else loaded
        for name in named:
            try:
                values = named[name]
            except ValueError:
                closed.append(name)
                continue
            room.take(values)
            found.append((f"/{name}", ("",) * values.ndim, values, {}))
    except _TooMany:
        return "L", ""
    except ValueError as error:
        return ("V", ([], [""])) if "pickle" in str(error) else ("D", "")
    except Exception:  # noqa: BLE001 - a damaged file may raise anything
        return "D", ""
    else:
        return "V", (found, closed)


READERS: dict[str, Callable[[str, str], tuple[str, Any]]] = {
    "hdf5": _hdf5, "netcdf": _netcdf, "numpy": _numpy,
}  # fmt: skip
