"""Runs the tests of some folders and writes how many passed and failed.

python tools/run_tests.py [--without-qt] [--counts FILE] [--but MODULE…] FOLDER or FILE…
"""

import argparse
import gc
import json
import sys
import unittest
from pathlib import Path

from sornix.core.sparing import spare_time

ROOT = Path(__file__).resolve().parent.parent


def main() -> int:
    parser = argparse.ArgumentParser()
    parser.add_argument("--without-qt", action="store_true")
    parser.add_argument("--counts", type=Path)
    parser.add_argument("--but", nargs="+", default=[])
    parser.add_argument("places", nargs="+")
    arguments = parser.parse_args()
    sys.path.insert(0, str(ROOT))
    spare_time()
    if arguments.without_qt:
        # importing a module that is None in this table fails
        sys.modules["PyQt6"] = None  # type: ignore[assignment]
    suite = unittest.TestSuite()
    for name in arguments.places:
        place = ROOT / name
        files = sorted(place.rglob("test_*.py")) if place.is_dir() else [place]
        for path in files:
            if path.stem not in arguments.but:
                module = ".".join(path.relative_to(ROOT).with_suffix("").parts)
                suite.addTests(unittest.defaultTestLoader.loadTestsFromName(module))
    gc.freeze()
    result = unittest.TextTestRunner(stream=sys.stdout, verbosity=1).run(suite)
    failed = len({str(test).partition(" [")[0] for test, _ in result.failures + result.errors})
    failed += len(result.unexpectedSuccesses)
    if arguments.counts:
        counts = {"passed": result.testsRun - failed, "failed": failed}
        arguments.counts.write_text(json.dumps(counts))
    return 0 if result.wasSuccessful() and result.testsRun else 1


if __name__ == "__main__":
    sys.exit(main())
