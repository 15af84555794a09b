"""Small files of the formats that instruments and other programs write."""

import io
import json
import sqlite3
import tempfile
from collections.abc import Mapping, Sequence
from datetime import datetime, time, timedelta
from decimal import Decimal
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np


def made(ending: str, write: Any) -> bytes:
    """What `write` puts into a file with an ending."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder, f"made{ending}")
        write(path)
        return path.read_bytes()


def _buoy(path: Path) -> None:
    """A NetCDF-4 file: oxygen along time, temperature along time and depth."""
    import h5py

    with h5py.File(path, "w") as file:
        at = file.create_dataset("time", data=np.arange(4, dtype="i4") * 3)
        at.make_scale("time")
        at.attrs.update(units="hours since 2026-06-01 06:00:0.0 +02:00", long_name="Taken")
        depth = file.create_dataset("depth", data=np.array([0.1, 2.5], "f4"))
        depth.make_scale("depth")
        depth.attrs["units"] = "m"
        packed = np.array([[51, 93], [-999, 82], [81, 300], [0, 1]], "i2")
        heat = file.create_dataset("temp", data=packed, compression="gzip")
        heat.attrs.update(units="°C", long_name="Temperature", add_offset=5.0)
        heat.attrs.update(scale_factor=np.float32(0.1), _FillValue=packed[1, 0])
        heat.attrs["valid_max"] = np.int16(200)
        oxygen = file.create_dataset("oxygen", data=np.array([8.1, 9.96921e36, 7.25, 1e-3], "f4"))
        oxygen.attrs.update(units="mg/L", missing_value=np.float32(9.96921e36))
        station = file.create_dataset("station", data=["S1", "S2", "S1", ""],
                                      dtype=h5py.string_dtype())  # fmt: skip
        for one in (heat, oxygen, station):
            one.dims[0].attach_scale(at)
        heat.dims[1].attach_scale(depth)
        file["cube"] = np.zeros((2, 3, 4))
        file["grid"] = 4


def _runs(path: Path) -> None:
    """An HDF5 file without scales: groups, records, complex numbers, links."""
    import h5py

    with h5py.File(path, "w") as file:
        for number in (1, 2):
            group = file.create_group(f"run {number}")
            group["current (mA)"] = np.array([3.0, 1.0, 2.0]) * number
            group["time (s)"] = np.array([0.0, 0.5, 1.0])
        kinds = [("mass", "f8"), ("name", "S4"), ("count", "i8")]
        file["peaks"] = np.array([(1.5, b"A", 3), (2.5, b"B", 2**60 + 1)], dtype=kinds)
        file["impedance"] = np.array([1 + 2j, 3 - 1j])
        file["absorbance"] = np.arange(6.0).reshape(2, 3)
        file.create_group("axis")["wavelength"] = np.array([400.0, 410.0, 420.0])
        file["elsewhere"] = h5py.ExternalLink("/etc/hostname", "/x")
        file["again"] = h5py.SoftLink("/peaks")


def _tide(path: Path) -> None:
    from scipy.io import netcdf_file

    with netcdf_file(path, "w") as file:
        file.createDimension("time", 3)
        file.createDimension("letters", 2)
        at = file.createVariable("time", "d", ("time",))
        at[:], at.units = [730000, 730000.5, 730001], b"days since 0001-01-01"
        level = file.createVariable("level", "f", ("time",))
        level[:], level.units, level.missing_value = [1.1, -9999, 3.3], b"m", np.float32(-9999)
        site = file.createVariable("site", "c", ("time", "letters"))
        site[:] = np.array([list("S1"), list("S2"), list("S ")], "S1")


def _columns() -> Any:
    import pyarrow as pa

    return pa.table({
        "clock": pa.array([time(8, 30), time(9, 0, 5)]),
        "lasting": pa.array([timedelta(seconds=5), timedelta(hours=30)]),
        "mass (g)": pa.array([Decimal("1.23"), None]),
        "serial": pa.array([2**60 + 1, 5]),
        "narrow": pa.array([0.1, 1e-20], pa.float32()),
        "spectrum": pa.array([[1, 2], [3]]),
        "taken": pa.array([datetime(2026, 6, 1, 8), None], pa.timestamp("ns", "UTC")),  # noqa: DTZ001
    })  # fmt: skip


def _laboratory(path: Path) -> None:
    base = sqlite3.connect(path)
    base.executescript(
        """create table readings(id integer primary key, taken text, "temp (°C)" real, scan blob);
        insert into readings values (1, '2026-06-01 08:00', 12.5, x'00'),
            (2, '2026-06-01 09:00', null, null), (3, '2026-06-01 10:00', 13.1, null);
        create table sites(name text); insert into sites values ('north');
        create view warm as select taken, "temp (°C)" from readings where "temp (°C)" > 13;"""
    )
    base.commit()
    base.close()


def spectrum(body: str, **labels: object) -> bytes:
    """A JCAMP-DX text of ordinates, with labels in place of the usual ones."""
    told: dict[str, object] = {
        "TITLE": "Humic water", "JCAMP-DX": "4.24 $$ the version", "DATA TYPE": "INFRARED SPECTRUM",
        "XUNITS": "1/CM", "YUNITS": "ABSORBANCE", "XFACTOR": 1, "YFACTOR": 0.001,
        "FIRSTX": 400, "LASTX": 406, "NPOINTS": 7,
    }  # fmt: skip
    told |= {name.replace("_", " "): value for name, value in labels.items()}
    records = [f"##{name}= {value}" for name, value in told.items()]
    return "\r\n".join([*records, "##XYDATA= (X++(Y..Y))", body, "##END=", ""]).encode()


def package(path: Path) -> None:
    """A data package that is not one of ours, in a ZIP."""
    import zipfile

    fields: Sequence[Mapping[str, object]] = [
        {"name": "well", "type": "string"},
        {"name": "taken", "type": "date", "format": "%m/%d/%Y"},
        {"name": "depth", "type": "number", "decimalChar": ",", "unit": "m"},
        {"name": "kept", "type": "boolean"},
    ]
    resources = [
        {"name": "wells", "path": "data/wells.csv", "dialect": {"delimiter": ";"},
         "schema": {"fields": fields, "missingValues": ["", "-99"]}},
        {"name": "inline", "data": [{"x": 1, "y": 2}, {"x": 2, "y": 4}]},
        {"name": "secret", "path": "../secret.csv"},
        {"name": "far", "path": "https://example.org/x.csv"},
    ]  # fmt: skip
    with zipfile.ZipFile(path, "w") as archive:
        archive.writestr("lake/datapackage.json", json.dumps({"resources": resources}))
        archive.writestr(
            "lake/data/wells.csv",
            "well;taken;depth;kept\n00042;03/04/2026;1,5;true\n00043;12/04/2026;-99;false\n",
        )


@cache
def good_files() -> Mapping[str, bytes]:
    """A good file of each format, by name."""
    import pyarrow as pa
    from pyarrow import feather, parquet

    table = _columns()
    stream, array, arrays, held = (io.BytesIO() for _ in range(4))
    with pa.ipc.new_stream(stream, table.schema) as writer:
        writer.write_table(table)
    np.save(array, np.array([[1.0, 2.5], [2.0, 3.5]]))
    days = np.arange("2026-06-01", "2026-06-04", dtype="M8[D]")
    np.savez(arrays, depth=np.arange(3.0), taken=days, other=np.array([5, 3]))
    np.save(held, np.array([{}, 1], dtype=object), allow_pickle=True)
    return {
        "buoy.nc": made(".nc", _buoy),
        "runs.h5": made(".h5", _runs),
        "tide.nc": made(".nc", _tide),
        "one.npy": array.getvalue(),
        "some.npz": arrays.getvalue(),
        "objects.npy": held.getvalue(),
        "columns.feather": made(".feather", lambda path: feather.write_feather(table, path)),
        "columns.parquet": made(".parquet", lambda path: parquet.write_table(table, path)),
        "columns.arrows": stream.getvalue(),
        "laboratory.db": made(".db", _laboratory),
        "humic.jdx": spectrum("400A000J000JU%T"),
        "lake.zip": made(".zip", package),
    }
