"""How the code is laid out: no circles, no folder and no module that is too large."""

import ast
from collections.abc import Iterator
from graphlib import CycleError, TopologicalSorter
from pathlib import Path

from tests.base import SornixTest

CODE = Path(__file__).parents[2] / "src"


def _name(path: Path) -> str:
    parts = path.relative_to(CODE).with_suffix("").parts
    return ".".join(parts[:-1] if parts[-1] == "__init__" else parts)


def _imported(tree: ast.Module, known: set[str]) -> Iterator[str]:
    """The modules that a module names, at its head, in functions or for types only."""
    for node in ast.walk(tree):
        if isinstance(node, ast.Import):
            yield from (alias.name for alias in node.names)
        elif isinstance(node, ast.ImportFrom) and node.module:
            for alias in node.names:
                inner = f"{node.module}.{alias.name}"
                yield inner if inner in known else node.module


class House(SornixTest):
    def test_no_module_needs_itself(self) -> None:
        files = {_name(path): path for path in CODE.rglob("*.py")}
        graph = {
            name: {
                other
                for other in _imported(ast.parse(path.read_text()), set(files))
                # a package that names what is public stands above what is in it
                if other in files and not name.startswith(f"{other}.")
            }
            for name, path in files.items()
        }
        try:
            tuple(TopologicalSorter(graph).static_order())
        except CycleError as error:
            self.fail(" needs ".join(reversed(error.args[1])))

    def test_nothing_is_too_large(self) -> None:
        for path in CODE.rglob("*.py"):
            lines = len(path.read_text().splitlines())
            self.assertLessEqual(lines, 400, _name(path))
            beside = len(list(path.parent.glob("*.py")))
            self.assertLessEqual(beside, 16, path.parent)
