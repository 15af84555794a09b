"""How the code is laid out: no circles, nothing that is too large, values that stay as they are."""

import ast
from collections.abc import Iterator
from graphlib import CycleError, TopologicalSorter
from pathlib import Path

from attrs import field
from attrs.exceptions import FrozenInstanceError

from sornix.core.frozen import frozen
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


@frozen
class _Point:
    x: float
    place: str = field(default="", eq=False, repr=False)


@frozen
class _Spot:
    x: float


@frozen
class _Named:
    x: float

    def __repr__(self) -> str:
        return "named"


class Frozen(SornixTest):
    def test_values_are_equal_by_what_counts_and_never_change(self) -> None:
        one, other = _Point(0.5, "here"), _Point(0.5, "there")
        self.assertEqual((one, hash(one)), (other, hash(other)))
        self.assertEqual(repr(one), "_Point(x=0.5)")
        self.assertNotEqual(one, _Point(0.25, "here"))
        self.assertNotEqual(one, _Spot(0.5))
        self.assertEqual(repr(_Named(0.5)), "named")
        with self.assertRaises(FrozenInstanceError):
            one.x = 2.0  # type: ignore[misc]
        # what is said not to be compared is itself alone
        apart = frozen(eq=False)(type("Apart", (), {"__annotations__": {"x": float}}))
        self.assertNotEqual(apart(0.5), apart(0.5))
