"""Everything that guards the project. The last line is "N passed, N failed".

Each of lint, formatting, types, import contracts and the line counts is one check; each test is
one. The core's tests run where PyQt6 cannot be imported, the window's offscreen, and the journeys
in a real window under Xvfb.
"""

import json
import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
BIN = Path(sys.executable).parent
PYTHON = sys.executable

TOOLS: dict[str, list[object]] = {
    "lint": [BIN / "ruff", "check", "."],
    "formatting": [BIN / "ruff", "format", "--check", "."],
    "types": [BIN / "mypy"],
    "import contracts": [BIN / "lint-imports"],
}
_OF_FIGURES = ["test_drawn", "test_statement", "test_trend_figures", "test_resampling",
               "test_strange_documents"]  # fmt: skip
TESTS = {
    "core tests of readings, without Qt": ["--without-qt", "tests/core", "--but", *_OF_FIGURES],
    "core tests of figures, without Qt": ["--without-qt",
                                          *(f"tests/core/{name}.py" for name in _OF_FIGURES)],
    "window and picture tests, offscreen": ["tests/paint", "tests/gui", "--but", "test_views"],
    "views and commands, offscreen": ["tests/gui/test_views.py", "tests/cli"],
    # a hand waits more than it works, so two of them work beside each other
    "journeys of the hand, in a real window": ["tests/journeys", "--but", "test_hand_over",
                                               "test_readings", "test_figures", "test_trends",
                                               "test_unasked"],
    "journeys with readings, in a real window": ["tests/journeys/test_readings.py",
                                                 "tests/journeys/test_figures.py",
                                                 "tests/journeys/test_hand_over.py",
                                                 "tests/journeys/test_trends.py",
                                                 "tests/journeys/test_unasked.py"],
}  # fmt: skip


def run(name: str, command: list[object], environment: dict[str, str]) -> tuple[bool, str]:
    """Runs a command from the root; gives whether it succeeded, and what to print."""
    begin = time.monotonic()
    done = subprocess.run(
        [str(word) for word in command],
        cwd=ROOT,
        env={**os.environ, **environment},
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
        check=False,
    )
    verdict = "ok" if done.returncode == 0 else f"FAILED (exit status {done.returncode})"
    report = f"== {name}: {verdict}, {time.monotonic() - begin:.0f} s\n"
    return done.returncode == 0, report + (done.stdout if done.returncode else "")


@contextmanager
def virtual_display() -> Iterator[str]:
    """An X display of 1400 × 1000 that nobody sees; gives its name."""
    read_end, write_end = os.pipe()
    server = subprocess.Popen(
        ["Xvfb", "-displayfd", str(write_end), "-screen", "0", "1400x1000x24", "-nolisten", "tcp"],
        pass_fds=[write_end],
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
    )
    os.close(write_end)
    try:
        with os.fdopen(read_end) as pipe:
            number = pipe.readline().strip()
        if not number:
            raise SystemExit("Xvfb did not start")
        yield f":{number}"
    finally:
        server.terminate()
        server.wait()


def run_tests(name: str, display: str, folder: Path) -> tuple[int, int, str]:
    """Runs a group of tests; gives passed, failed and what to print."""
    counts = folder / f"{name.replace(' ', '-')}.json"
    environment = {"QT_QPA_PLATFORM": "offscreen", "QT_SCALE_FACTOR": "1"}
    if name.startswith("journeys"):
        environment |= {"QT_QPA_PLATFORM": "xcb", "DISPLAY": display}
    command: list[object] = [PYTHON, "tools/run_tests.py", "--counts", counts, *TESTS[name]]
    succeeded, report = run(name, command, environment)
    try:
        found = json.loads(counts.read_text())
    except FileNotFoundError:
        return 0, 1, report
    passed, failed = found["passed"], found["failed"]
    if not succeeded and not failed:
        failed = 1
    return passed, failed, report


def main() -> int:
    passed = failed = 0
    with (
        tempfile.TemporaryDirectory() as folder,
        virtual_display() as one,
        virtual_display() as two,
        ThreadPoolExecutor(len(TESTS) + 1) as pool,
    ):
        displays = dict(zip(TESTS, ("", "", "", "", one, two), strict=True))
        tests = [pool.submit(run_tests, *pair, Path(folder)) for pair in displays.items()]
        tools = [pool.submit(run, name, command, {}) for name, command in TOOLS.items()]
        for tool in tools:
            succeeded, report = tool.result()
            passed, failed = passed + succeeded, failed + (not succeeded)
            print(report, end="", flush=True)
        for test in tests:
            more_passed, more_failed, report = test.result()
            passed, failed = passed + more_passed, failed + more_failed
            print(report, end="", flush=True)
    print(f"{passed} passed, {failed} failed")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
