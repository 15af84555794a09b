"""A page in real Chromium, pointed at by its own events: asked and told through its pipe."""

import base64
import contextlib
import json
import os
import shutil
import subprocess
import tempfile
import time
from pathlib import Path
from typing import Any

CHROMIUM = shutil.which("chromium")
_FLAGS = (
    "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
    "--remote-debugging-pipe", "--force-color-profile=srgb", "--hide-scrollbars",
)  # fmt: skip
_PATIENCE_S = 30
# What is true of a page of a figure once its script has run.
_READY = "!!document.querySelector('html.ready')"


class Page:
    """A page that is open; `asked` are the addresses that it wanted, `said` what it complained
    of."""

    def __init__(
        self, path: Path, width: int = 1000, height: int = 900, ready: str = _READY
    ) -> None:
        self._folder = tempfile.mkdtemp()
        theirs_in, self._to = os.pipe()
        self._from, theirs_out = os.pipe()
        kept = [os.dup2(fd, high) for fd, high in ((theirs_in, 203), (theirs_out, 204))]
        for fd in (theirs_in, theirs_out):
            os.close(fd)
        words = " ".join([str(CHROMIUM), *_FLAGS, f"--user-data-dir={self._folder}",
                          f"--window-size={width},{height}"])  # fmt: skip
        self._process = subprocess.Popen(
            ["bash", "-c", f"exec {words} 3<&203 4>&204 203<&- 204>&-"],
            pass_fds=kept, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
        )  # fmt: skip
        for fd in kept:
            os.close(fd)
        self._number, self._rest, self._session = 0, b"", ""
        self.asked: list[str] = []
        self.said: list[str] = []
        target = self.tell("Target.createTarget", url="about:blank")["targetId"]
        found = self.tell("Target.attachToTarget", targetId=target, flatten=True)
        self._session = found["sessionId"]
        for part in ("Page", "Runtime", "Network", "Log"):
            self.tell(f"{part}.enable")
        self.tell("Emulation.setDeviceMetricsOverride", width=width, height=height,
                  deviceScaleFactor=1, mobile=False)  # fmt: skip
        self.tell("Page.navigate", url=path.as_uri())
        self.wait_until(ready)

    def tell(self, method: str, **parameters: object) -> dict[str, Any]:
        """Tells Chromium something, and gives what it answers."""
        self._number += 1
        told: dict[str, Any] = {"id": self._number, "method": method, "params": parameters}
        if self._session:
            told["sessionId"] = self._session
        os.write(self._to, json.dumps(told).encode() + b"\0")
        until = time.monotonic() + _PATIENCE_S
        while time.monotonic() < until:
            found = self._next()
            if found.get("id") == self._number:
                if "error" in found:
                    raise AssertionError(f"{method}: {found['error']}")
                result: dict[str, Any] = found["result"]
                return result
        raise AssertionError(f"no answer to {method}")

    def _next(self) -> dict[str, Any]:
        while b"\0" not in self._rest:
            self._rest += os.read(self._from, 1 << 16)
        part, _, self._rest = self._rest.partition(b"\0")
        found: dict[str, Any] = json.loads(part)
        told = found.get("params", {})
        match found.get("method"):
            case "Network.requestWillBeSent":
                self.asked.append(told["request"]["url"][:200])
            case "Log.entryAdded":
                self.said.append(told["entry"]["text"])
            case "Runtime.exceptionThrown":
                self.said.append(json.dumps(told["exceptionDetails"])[:600])
        return found

    def ask(self, expression: str) -> Any:
        """What an expression of JavaScript is worth."""
        found = self.tell("Runtime.evaluate", expression=expression, returnByValue=True,
                          awaitPromise=True)  # fmt: skip
        if "exceptionDetails" in found:
            raise AssertionError(f"{expression}: {found['exceptionDetails']}")
        return found["result"].get("value")

    def box(self, selector: str) -> tuple[float, float, float, float]:
        """Left, top, width and height of an element, in pixels."""
        x, y, width, height = self.ask(
            f"(() => {{ const r = document.querySelector('{selector}').getBoundingClientRect(); "
            "return [r.x, r.y, r.width, r.height]; })()"
        )
        return x, y, width, height

    def wait_until(self, expression: str) -> None:
        until = time.monotonic() + _PATIENCE_S
        while not self.ask(expression):
            if time.monotonic() > until:
                raise AssertionError(f"waited in vain until {expression}; {self.said}")
            time.sleep(0.05)

    def point_at(self, x: float, y: float, kind: str = "mouseMoved", **more: Any) -> None:
        """Moves the pointer, in pixels of the window."""
        self.tell("Input.dispatchMouseEvent", type=kind, x=x, y=y, **more)

    def click(self, x: float, y: float) -> None:
        self.drag((x, y), (x, y))

    def drag(self, begin: tuple[float, float], end: tuple[float, float]) -> None:
        left: dict[str, Any] = {"button": "left", "buttons": 1, "clickCount": 1}
        self.point_at(*begin)
        self.point_at(*begin, "mousePressed", **left)
        if begin != end:
            for step in (0.3, 0.6, 1.0):
                at = [b + step * (e - b) for b, e in zip(begin, end, strict=True)]
                self.point_at(at[0], at[1], "mouseMoved", **left)
        self.point_at(*end, "mouseReleased", **left)

    def touch(self, kind: str, *points: tuple[float, float]) -> None:
        told = [{"x": x, "y": y, "id": i} for i, (x, y) in enumerate(points)]
        self.tell("Input.dispatchTouchEvent", type=kind, touchPoints=told)

    def key(self, *names: str) -> None:
        for name in names:
            text = {"text": name} if len(name) == 1 else {}
            self.tell("Input.dispatchKeyEvent", type="keyDown", key=name, **text)
            self.tell("Input.dispatchKeyEvent", type="keyUp", key=name)

    def picture(self) -> bytes:
        """What is seen, as PNG."""
        return base64.b64decode(self.tell("Page.captureScreenshot")["data"])

    def close(self) -> None:
        with contextlib.suppress(AssertionError, OSError):
            self._session = ""
            self.tell("Browser.close")
        self._process.wait(_PATIENCE_S)
        os.close(self._to)
        os.close(self._from)
        shutil.rmtree(self._folder, ignore_errors=True)
