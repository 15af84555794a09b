"""`python -m benchmarks [NAME…] [--out FILE.json]` measures and prints a table, and
`python -m benchmarks compare ONE.json OTHER.json` sets two runs beside each other; own-starts and
coverage try trends on random readings, and take long."""

import argparse
import json
import os
import platform
import sys
from pathlib import Path

from benchmarks.measuring import Row, compared, table
from benchmarks.speed import ROWS
from benchmarks.trends import coverage, own_starts

_TRENDS = {"own-starts": own_starts, "coverage": coverage}


def main() -> None:
    if sys.argv[1:2] == ["compare"]:
        one, other = (json.loads(Path(name).read_text()) for name in sys.argv[2:4])
        print("\n".join(compared(one, other)))
        return
    parser = argparse.ArgumentParser(prog="python -m benchmarks", description=__doc__)
    parser.add_argument("names", nargs="*", metavar="NAME", help=", ".join([*ROWS, *_TRENDS]))
    parser.add_argument("--out", type=Path, help="also write all numbers to this JSON file")
    asked = parser.parse_args()
    unknown = [name for name in asked.names if name not in ROWS and name not in _TRENDS]
    if unknown:
        parser.error(f"no benchmark {', '.join(unknown)}; there are {', '.join([*ROWS, *_TRENDS])}")
    load = os.getloadavg()
    rows: list[Row] = []
    for name in asked.names or ROWS:
        if name in _TRENDS:
            print(_TRENDS[name]().table, flush=True)
            continue
        for row in ROWS[name]():
            print(f"{row.name} {row.size or ''}: {row.ratio:.1f}", file=sys.stderr, flush=True)
            rows.append(row)
    if rows:
        print("\n".join(table(rows)))
        print(f"{os.cpu_count()} processors; load when it began {load[0]:.1f}, "
              f"when it ended {os.getloadavg()[0]:.1f}")  # fmt: skip
    if asked.out is not None:
        facts = {"machine": platform.platform(), "python": platform.python_version(),
                 "processors": os.cpu_count(), "load": load}  # fmt: skip
        told = {**facts, "rows": [row._asdict() for row in rows]}
        asked.out.write_text(json.dumps(told, indent=1, default=str))


if __name__ == "__main__":
    main()
