"""Kills: python tools/kills.py [--saving N] [--window N].

Processes are killed at any moment while they save documents, and windows while somebody works in
them. After each kill the document has to open, and be the one before or the one after; and of the
work in a window no more may be lost than what was done in its last ten seconds.
"""

import argparse
import json
import os
import random
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from sornix.core.document import load_document
from sornix.core.document.stored.safetycopy import left_behind

_SAVER = """
import sys
from pathlib import Path
from sornix.core.document import load_document, save_document
from sornix.core.figure import set_title
from attrs import evolve
path = Path(sys.argv[1])
document = load_document(path)
print("ready", flush=True)
number = 0
while True:
    number += 1
    save_document(evolve(document, figure=set_title(document.figure, f"Run {number}")), path, b"x")
    print(number, flush=True)
"""
_WORKER = """
import os, sys, time
from pathlib import Path
os.environ["QT_QPA_PLATFORM"] = "offscreen"
from PyQt6.QtCore import QTimer
from sornix.core.figure import set_title
from sornix.gui.shell.application import open_desk
log = open(sys.argv[1], "a", buffering=1)
def ready(window):
    number = 0
    def edit():
        nonlocal number
        if window.bench.document is None or window.autosave is None:
            return
        number += 1
        window.edit("titled", lambda f: set_title(f, f"Run {number}"))
        log.write(f"{time.time()} {number}\\n")
    window.timer = QTimer()
    window.timer.timeout.connect(edit)
    window.timer.start(120)
open_desk((), "nitrate-standards", ready=ready)
"""


def _killed_while_saving(folder: Path, chance: random.Random) -> str:
    """What is wrong after a kill, or ""."""
    path = folder / "d.sornix"
    saver = subprocess.Popen(
        [sys.executable, "-c", _SAVER, str(path)], stdout=subprocess.PIPE, text=True
    )
    assert saver.stdout is not None
    saver.stdout.readline()
    time.sleep(chance.uniform(0, 0.08))
    saver.send_signal(signal.SIGKILL)
    told = saver.communicate()[0].split()
    last = int(told[-1]) if told else 0
    title = load_document(path).figure.title
    if title not in {f"Run {last}", f"Run {last + 1}"} and told:
        return f"{title} after Run {last}"
    left = [p.name for p in folder.iterdir() if p.name != path.name]
    return f"left over: {left}" if len(left) > 1 else ""


def _killed_in_work(folder: Path, chance: random.Random) -> tuple[str, float]:
    """What is wrong after a window was killed, or "", and how many seconds of work were lost."""
    log = folder / "log"
    log.write_text("")
    state = folder / "state"
    environment = {**os.environ, "XDG_STATE_HOME": str(state), "XDG_CONFIG_HOME": str(folder)}
    worker = subprocess.Popen(
        [sys.executable, "-c", _WORKER, str(log)], env=environment, stderr=subprocess.DEVNULL
    )
    until = time.monotonic() + 30
    while not log.read_text() and time.monotonic() < until:
        time.sleep(0.05)
    time.sleep(2.5 + chance.uniform(0, 2.5))
    killed = time.time()
    worker.send_signal(signal.SIGKILL)
    worker.wait()
    lines = [line.split() for line in log.read_text().splitlines()]
    copies = left_behind(state / "sornix" / "recovery")
    if len(copies) != 1:
        return f"{len(copies)} copies are offered", 0.0
    title = copies[0].load().figure.title
    number = int(title.removeprefix("Run "))
    lost = [float(when) for when, of in lines if int(of) > number]
    seconds = killed - min(lost) if lost else 0.0
    taken = copies[0].take_over()
    if taken is not None:
        taken.forget()
    return ("" if seconds <= 10 else f"{seconds:.1f} s were lost"), seconds


def main() -> int:
    """Kills; 1 where something was lost."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--saving", type=int, default=300)
    parser.add_argument("--window", type=int, default=100)
    parser.add_argument("--seed", type=int, default=0)
    asked = parser.parse_args()
    chance = random.Random(asked.seed)
    failed: list[str] = []
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        demo = [sys.executable, "-c", "from sornix.cli import main; main()", "demo", name]
        subprocess.run(demo, check=True, capture_output=True)
        work = folder / "work"
        work.mkdir()
        (folder / "depth-profile.sornix").rename(work / "d.sornix")
        for number in range(asked.saving):
            problem = _killed_while_saving(work, chance)
            failed += [f"saving {number}: {problem}"] if problem else []
        left = [p.name for p in work.iterdir() if p.name != "d.sornix"]
        lost = []
        window = folder / "window"
        window.mkdir()
        for number in range(asked.window):
            problem, seconds = _killed_in_work(window, chance)
            lost.append(seconds)
            failed += [f"window {number}: {problem}"] if problem else []
    print("\n".join(failed))
    told = {
        "killed while saving": asked.saving,
        "left over at the end": len(left),
        "windows killed": asked.window,
        "most seconds of work lost": round(max(lost, default=0.0), 2),
        "failed": len(failed),
    }
    print(json.dumps(told))
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
