"""The window tests again and again, under conditions that bring freed memory to light:
python tools/soak.py [--passes N] [--tests NAME …].

Each pass runs in a process of its own, with garbage looked for after every 50 objects, Python's and
glibc's allocators in their debugging modes, so that memory that is used after it was freed holds
nonsense. A pass fails where a test does, or where the process ends by a signal.
"""

import argparse
import os
import subprocess
import sys
import time
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
_RUN = """
import faulthandler, gc, sys, unittest
faulthandler.enable()
gc.set_threshold(50, 5, 5)
from sornix.gui.base import collector
# as often as there is a turn of the loop, not twice a second
collector._LOOK_MS = 0
collector._WHOLE_S = 0.5
sys.path.insert(0, ".")
suite = unittest.TestSuite()
for name in sys.argv[1:]:
    loader = unittest.TestLoader()
    suite.addTests(
        loader.discover(name, "test_*.py", ".") if "/" in name else loader.loadTestsFromName(name)
    )
result = unittest.TextTestRunner(verbosity=0).run(suite)
sys.exit(0 if result.wasSuccessful() else 1)
"""
_HARD = {
    "PYTHONMALLOC": "debug",
    "MALLOC_CHECK_": "3",
    "MALLOC_PERTURB_": "165",
    "QT_QPA_PLATFORM": "offscreen",
    "QT_SCALE_FACTOR": "1",
}


def main() -> int:
    """Runs the passes; 1 where one failed."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--passes", type=int, default=20)
    parser.add_argument("--tests", nargs="*", default=["tests/paint", "tests/gui", "tests/cli"])
    asked = parser.parse_args()
    failed = 0
    for number in range(1, asked.passes + 1):
        begin = time.monotonic()
        done = subprocess.run(
            [sys.executable, "-c", _RUN, *asked.tests],
            cwd=ROOT,
            env={**os.environ, **_HARD},
            capture_output=True,
            text=True,
            check=False,
        )
        seconds = time.monotonic() - begin
        verdict = "ok" if done.returncode == 0 else f"FAILED (exit status {done.returncode})"
        print(f"pass {number}: {verdict}, {seconds:.0f} s", flush=True)
        if done.returncode:
            failed += 1
            print(done.stderr[-6000:], flush=True)
    print(f"{asked.passes} passes, {failed} failed")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
