"""Whether there is a display to open a window on."""

import os
import re
import sys
from pathlib import Path


def _answers(path: str) -> bool:
    # most commands never ask
    import socket

    with socket.socket(socket.AF_UNIX) as client:
        client.settimeout(2)
        try:
            client.connect(path)
        except OSError:
            return False
    return True


def has_display() -> bool:
    """Whether a Wayland or X display answers, or Qt was told to use another platform.

    Qt ends the program where its display does not answer, so this is asked first.
    """
    if os.environ.get("QT_QPA_PLATFORM", "xcb").split(":")[0] not in ("xcb", "wayland"):
        return True
    wayland = os.environ.get("WAYLAND_DISPLAY")
    if wayland:
        folder = Path(os.environ.get("XDG_RUNTIME_DIR", "/"))
        if _answers(str(folder / wayland)):
            return True
    display = os.environ.get("DISPLAY", "")
    if match := re.fullmatch(r"(?:unix)?:(\d+)(?:\.\d+)?", display):
        socket_path = f"/tmp/.X11-unix/X{match[1]}"
        # X servers also listen on an abstract name, which needs no file
        return _answers(socket_path) or _answers("\0" + socket_path)
    # a display on another host is left to Qt
    return bool(display)


if __name__ == "__main__":
    sys.exit(0 if has_display() else 1)
