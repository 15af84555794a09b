"""What makes Sornix at home on a desktop: menu entry, icons, file type, manual and completion.

The files here are installed into the user's own folders and taken away again (`install`,
`remove`); nothing else on the machine is changed.
"""

import os
import shutil
import subprocess
from collections.abc import Mapping
from pathlib import Path

from sornix.data import data_path
from sornix.version import APPLICATION_ID

MEDIA_TYPE = "application/vnd.sornix+zip"

# Where each file goes, under the user's folder of data (XDG Base Directory, Desktop Entry, Icon
# Theme and Shared MIME-info specifications of freedesktop.org).
_PLACES: Mapping[str, str] = {
    f"{APPLICATION_ID}.desktop": "applications",
    f"{APPLICATION_ID}.svg": "icons/hicolor/scalable/apps",
    f"{APPLICATION_ID}.document.svg": "icons/hicolor/scalable/mimetypes",
    f"{APPLICATION_ID}.mime.xml": "mime/packages",
    f"{APPLICATION_ID}.metainfo.xml": "metainfo",
}
# Programs that bring the desktop's own lists up to date, where they are there.
_REFRESHERS = (
    ("update-mime-database", "mime"),
    ("update-desktop-database", "applications"),
    ("gtk-update-icon-cache", "icons/hicolor"),
)


def icon_path() -> Path:
    """The application's icon."""
    return data_path(f"{APPLICATION_ID}.svg")


def data_folder(environment: Mapping[str, str] = os.environ) -> Path:
    """The user's folder of data."""
    named = environment.get("XDG_DATA_HOME", "")
    return (
        Path(named) if named else Path(environment.get("HOME", "~")).expanduser() / ".local/share"
    )


def files(program: Path, data: Path, texts: Mapping[str, str]) -> dict[Path, str]:
    """Every file that belongs to an installation, with what stands in it. `texts` are the manual
    and the completions, by their places under the folder of data."""
    found = {}
    for name, place in _PLACES.items():
        text = data_path(name).read_text(encoding="utf-8")
        if name.endswith(".desktop"):
            text = text.replace("Exec=sornix", f"Exec={_quoted(program)}")
            text = text.replace("TryExec=sornix", f"TryExec={program}")
        # the specification wants the package's name with .xml only
        found[data / place / name.replace(".mime.xml", ".xml")] = text
    return found | {data / place: text for place, text in texts.items()}


def _quoted(program: Path) -> str:
    """A program's path as the Exec key of a desktop entry has it."""
    text = str(program)
    if not any(sign in text for sign in " \t\"'\\><~|&;$*?#()`"):
        return text
    escaped = "".join(f"\\{sign}" if sign in '"`$\\' else sign for sign in text)
    return f'"{escaped}"'.replace("\\", "\\\\")


def install(program: Path, texts: Mapping[str, str], data: Path, commands: Path) -> list[Path]:
    """Puts all files into the user's folders, and the command `sornix` among theirs unless another
    installation has put its own there; gives what was written. Raises OSError."""
    written = []
    for path, text in files(program, data, texts).items():
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(text, encoding="utf-8")
        written.append(path)
    commands.mkdir(parents=True, exist_ok=True)
    link = commands / "sornix"
    if _is_ours(link, program) or not (link.is_symlink() or link.exists()):
        link.unlink(missing_ok=True)
        link.symlink_to(program)
        written.append(link)
    _refresh(data)
    return written


def remove(program: Path, texts: Mapping[str, str], data: Path, commands: Path) -> list[Path]:
    """Takes the files away again that this installation has put there, and folders that are empty
    then; gives what was removed. Raises OSError."""
    removed = []
    # what another installation has put in place of it since is its own
    others = _owner(data) not in (None, str(program))
    for path in files(program, data, texts):
        if path.exists() and not others:
            path.unlink()
            removed.append(path)
            _remove_empty(path.parent, data)
    link = commands / "sornix"
    if _is_ours(link, program):
        link.unlink()
        removed.append(link)
    _refresh(data)
    return removed


def _owner(data: Path) -> str | None:
    """The program of the installation that has put its menu entry there last, where that is still
    on the machine."""
    entry = data / "applications" / f"{APPLICATION_ID}.desktop"
    if not entry.exists():
        return None
    lines = entry.read_text(encoding="utf-8").splitlines()
    named = next((x.removeprefix("TryExec=") for x in lines if x.startswith("TryExec=")), "")
    return named if Path(named).exists() else None


def _is_ours(link: Path, program: Path) -> bool:
    """Whether a link leads to this program, or to one of ours that is gone. Another installation's
    is its own."""
    if not link.is_symlink():
        return False
    leads_to = link.readlink()
    return leads_to == program or (leads_to.name == program.name and not leads_to.exists())


def _remove_empty(folder: Path, top: Path) -> None:
    while folder != top and folder.is_dir() and not any(folder.iterdir()):
        folder.rmdir()
        folder = folder.parent


def _refresh(data: Path) -> None:
    for program, place in _REFRESHERS:
        found = shutil.which(program)
        if found is not None and (data / place).is_dir():
            subprocess.run([found, str(data / place)], check=False, capture_output=True)
