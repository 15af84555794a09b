"""Runs the benchmarks and prints one JSON object, and what has rows as a table beside it."""

import json
import sys

from benchmarks.measurements import BENCHMARKS
from benchmarks.trends import Rows


def main() -> None:
    wanted = sys.argv[1:] or list(BENCHMARKS)
    unknown = [name for name in wanted if name not in BENCHMARKS]
    if unknown:
        sys.exit(f"no benchmark {', '.join(unknown)}; there are {', '.join(BENCHMARKS)}")
    found: dict[str, object] = {}
    for name in wanted:
        outcome = BENCHMARKS[name]()
        if isinstance(outcome, Rows):
            print(outcome.table, file=sys.stderr, flush=True)
            outcome = {"rows": outcome.rows}
        found[name] = outcome
    print(json.dumps(found, indent=2))


if __name__ == "__main__":
    main()
