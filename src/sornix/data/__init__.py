"""Files that come with Sornix: the guide with its pictures, the schema, what a desktop needs."""

from importlib.resources import files
from pathlib import Path


def data_path(name: str) -> Path:
    """Where a file of this folder stands."""
    return Path(str(files(__name__).joinpath(name)))
