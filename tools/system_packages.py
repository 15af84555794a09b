"""Prints the Debian packages that are missing for `run` or `check`, in one line.

Asks the dynamic linker what Qt's own libraries cannot find, so the table below only translates
names; a library that it does not know is reported on standard error.
"""

import importlib.util
import shutil
import subprocess
import sys
from pathlib import Path

PACKAGE_OF_LIBRARY = {
    "libEGL.so.1": "libegl1",
    "libGL.so.1": "libgl1",
    "libOpenGL.so.0": "libopengl0",
    "libX11.so.6": "libx11-6",
    "libX11-xcb.so.1": "libx11-xcb1",
    "libSM.so.6": "libsm6",
    "libICE.so.6": "libice6",
    "libdbus-1.so.3": "libdbus-1-3",
    "libexpat.so.1": "libexpat1",
    "libfontconfig.so.1": "libfontconfig1",
    "libfreetype.so.6": "libfreetype6",
    "libglib-2.0.so.0": "libglib2.0-0",
    "libgthread-2.0.so.0": "libglib2.0-0",
    "libgssapi_krb5.so.2": "libgssapi-krb5-2",
    "libstdc++.so.6": "libstdc++6",
    "libxcb.so.1": "libxcb1",
    "libxcb-cursor.so.0": "libxcb-cursor0",
    "libxcb-glx.so.0": "libxcb-glx0",
    "libxcb-icccm.so.4": "libxcb-icccm4",
    "libxcb-image.so.0": "libxcb-image0",
    "libxcb-keysyms.so.1": "libxcb-keysyms1",
    "libxcb-randr.so.0": "libxcb-randr0",
    "libxcb-render.so.0": "libxcb-render0",
    "libxcb-render-util.so.0": "libxcb-render-util0",
    "libxcb-shape.so.0": "libxcb-shape0",
    "libxcb-shm.so.0": "libxcb-shm0",
    "libxcb-sync.so.1": "libxcb-sync1",
    "libxcb-util.so.1": "libxcb-util1",
    "libxcb-xfixes.so.0": "libxcb-xfixes0",
    "libxcb-xkb.so.1": "libxcb-xkb1",
    "libxkbcommon.so.0": "libxkbcommon0",
    "libxkbcommon-x11.so.0": "libxkbcommon-x11-0",
    "libz.so.1": "zlib1g",
}
QT_FILES = (
    "plugins/platforms/libqxcb.so",
    "plugins/platforms/libqoffscreen.so",
    "lib/libQt6Widgets.so.6",
    "lib/libQt6Svg.so.6",
    "lib/libQt6Pdf.so.6",
    "lib/libQt6PrintSupport.so.6",
    "lib/libQt6Test.so.6",
)
PROGRAMS = {
    "run": {},
    "check": {
        "Xvfb": "xvfb",
        "xdotool": "xdotool",
        "pdftotext": "poppler-utils",
        "appstreamcli": "appstream",
        "desktop-file-validate": "desktop-file-utils",
        "chromium": "chromium",
    },
}


def missing_libraries() -> set[str]:
    """Names of shared libraries that Qt links to and the linker does not find."""
    spec = importlib.util.find_spec("PyQt6")
    if spec is None or spec.origin is None:
        sys.exit("PyQt6 is not installed")
    qt_folder = Path(spec.origin).parent / "Qt6"
    missing = set()
    for file in QT_FILES:
        listing = subprocess.run(
            ["ldd", str(qt_folder / file)], capture_output=True, text=True, check=False
        )
        missing |= {
            line.split()[0] for line in listing.stdout.splitlines() if line.endswith("not found")
        }
    return missing


def main(kind: str) -> None:
    packages = {p for program, p in PROGRAMS[kind].items() if not shutil.which(program)}
    for library in sorted(missing_libraries()):
        if library in PACKAGE_OF_LIBRARY:
            packages.add(PACKAGE_OF_LIBRARY[library])
        else:
            print(f"Qt needs {library}, and no package is known for it.", file=sys.stderr)
    print(" ".join(sorted(packages)))


if __name__ == "__main__":
    main(sys.argv[1])
