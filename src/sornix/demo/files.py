"""Every demo file of readings as it is written to a folder."""

from collections.abc import Iterator
from pathlib import Path

from sornix.demo.readings import DEMO_READINGS, lake_survey

DECADE_ROWS = 10_000_000


def demo_files() -> Iterator[tuple[str, bytes]]:
    """The name and the content of each demo file, but for the one that is made on demand."""
    for name, file in DEMO_READINGS.items():
        yield name + file.ending, file.make().encode(file.encoding)
    from sornix.demo.workbooks import ods, xlsx

    survey = lake_survey()
    yield "lake-survey.xlsx", xlsx(survey)
    yield "lake-survey.ods", ods(survey)


def write_buoy_decade(path: Path, rows: int = DECADE_ROWS) -> None:
    """Level and temperature of the buoy, one reading a second, as Parquet: for trying the speed."""
    import numpy as np
    import pyarrow as pa
    from pyarrow import parquet

    random = np.random.default_rng(10)
    second = np.arange(rows)
    begin = np.datetime64("2016-01-01T00:00:00")
    season = np.sin((second / 86400 - 110) / 365.25 * 2 * np.pi)
    daily = np.sin((second / 86400 - 0.4) * 2 * np.pi)
    table = pa.table(
        {
            "Time": pa.array(begin + second.astype("timedelta64[s]")),
            "Level (m)": 1.4 + 0.12 * season + np.cumsum(random.normal(0, 2e-5, rows)),
            "Water temperature (°C)": 11 + 8 * season + daily + random.normal(0, 0.05, rows),
        }
    )
    parquet.write_table(table, path)
