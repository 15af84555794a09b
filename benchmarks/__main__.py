"""Runs the benchmarks and prints one JSON object."""

import json
import sys

from benchmarks.measurements import BENCHMARKS


def main() -> None:
    wanted = sys.argv[1:] or list(BENCHMARKS)
    unknown = [name for name in wanted if name not in BENCHMARKS]
    if unknown:
        sys.exit(f"no benchmark {', '.join(unknown)}; there are {', '.join(BENCHMARKS)}")
    print(json.dumps({name: BENCHMARKS[name]() for name in wanted}, indent=2))


if __name__ == "__main__":
    main()
