"""What is remembered between sessions: theme, window, recent files."""

import json
from pathlib import Path
from typing import Any

_MOST_RECENT = 8


class Settings:
    """A small JSON file in the user's folder. What cannot be read or written is done without."""

    def __init__(self, path: Path) -> None:
        self._path = path
        self._values: dict[str, Any] = {}
        self._recent: list[Path] = []
        self._written = ""
        try:
            self._written = path.read_text(encoding="utf-8")
            found = json.loads(self._written)
        except (OSError, ValueError):
            return
        if isinstance(found, dict):
            self._values = found
        # asked once: menus look at them after every edit
        self._recent = self._still_there()

    def text(self, name: str, otherwise: str = "") -> str:
        value = self._values.get(name)
        return value if isinstance(value, str) else otherwise

    def listed(self, name: str) -> list[Any]:
        value = self._values.get(name)
        return value if isinstance(value, list) else []

    def table(self, name: str) -> dict[str, Any]:
        value = self._values.get(name)
        return value if isinstance(value, dict) else {}

    def numbers(self, name: str) -> list[int]:
        value = self._values.get(name)
        whole = isinstance(value, list) and all(isinstance(v, int) for v in value)
        return value if whole and isinstance(value, list) else []

    @property
    def recent(self) -> list[Path]:
        """The files opened or saved last that were there at the start, the newest first."""
        return self._recent

    def _still_there(self) -> list[Path]:
        value = self._values.get("recent")
        names = value if isinstance(value, list) else []
        return [path for name in names if isinstance(name, str) and (path := Path(name)).exists()]

    def remember(self, **values: object) -> None:
        """Sets values and writes the file, where they are not as they were."""
        self._values |= values
        text = json.dumps(self._values, indent=1)
        if text == self._written:
            return
        from sornix.core.errors import DocumentError
        from sornix.core.files import write_atomically

        try:
            self._path.parent.mkdir(parents=True, exist_ok=True)
            write_atomically(self._path, text.encode())
        except (OSError, DocumentError):
            # a home that cannot be written to must not keep anybody from working
            return
        self._written = text

    def remember_file(self, path: Path) -> None:
        """Puts a file first among the recent ones."""
        others = [p for p in self._recent if p != path.resolve()]
        self._recent = [path.resolve(), *others][:_MOST_RECENT]
        self.remember(recent=[str(p) for p in self._recent])


def user_settings() -> Settings:
    """The settings of the user who runs this."""
    from platformdirs import user_config_path

    return Settings(user_config_path("sornix") / "settings.json")
