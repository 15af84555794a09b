"""Draws the rooms of the code from its imports, as docs/rooms.svg: python tools/rooms.py

Each frame is a package, each box in it a room with its modules and lines. What stands higher uses
what stands lower; a line between two boxes is the more ink, the more modules import across it.
"""

import ast
from collections import Counter
from collections.abc import Iterator
from functools import cache
from pathlib import Path
from typing import NamedTuple

ROOT = Path(__file__).resolve().parent.parent
CODE = ROOT / "src" / "sornix"
# The frames, each with the place of its upper left corner and its width.
FRAMES = {
    "": (20, 20, 360),
    "core": (400, 20, 560),
    "gui": (980, 20, 560),
    "core/readings": (20, 530, 290),
    "core/trends": (330, 530, 290),
    "core/figure": (640, 530, 290),
    "core/drawing": (950, 530, 290),
    "core/cautions": (1260, 530, 280),
}
_ROW, _HIGH, _GAP = 62, 38, 14
_INK, _FRAME, _BOX, _LINE = "#1f2b2a", "#c9d3d0", "#eef4f2", "#2f7d74"


class Room(NamedTuple):
    """A box: its name, how many modules it has and how many lines."""

    name: str
    modules: int
    lines: int


def _room_of(module: str, frame: str) -> str:
    """Which box of a frame a module stands in, "" for none."""
    prefix = ".".join(["sornix", *frame.split("/")]) if frame else "sornix"
    if not module.startswith(f"{prefix}."):
        return ""
    return module[len(prefix) + 1 :].split(".", maxsplit=1)[0]


@cache
def _modules() -> dict[str, Path]:
    found = {}
    for path in sorted(CODE.rglob("*.py")):
        parts = path.relative_to(CODE.parent).with_suffix("").parts
        found[".".join(parts[:-1] if parts[-1] == "__init__" else parts)] = path
    return found


@cache
def _imports(path: Path) -> tuple[str, ...]:
    nodes = ast.walk(ast.parse(path.read_text()))
    return tuple(n.module for n in nodes if isinstance(n, ast.ImportFrom) and n.module)


def rooms_of(frame: str) -> tuple[list[list[Room]], Counter[tuple[str, str]]]:
    """The boxes of a frame in rows from what uses to what is used, and how many modules of one
    import another."""
    modules = _modules()
    sizes: dict[str, list[int]] = {}
    across: Counter[tuple[str, str]] = Counter()
    for name, path in modules.items():
        room = _room_of(name, frame)
        if not room or (not (CODE / frame / room).is_dir() and frame != "core"):
            continue
        sizes.setdefault(room, []).append(len(path.read_text().splitlines()))
        others = {_room_of(other, frame) for other in _imports(path)} - {"", room}
        across.update((room, other) for other in others)
    across = Counter({pair: n for pair, n in across.items() if set(pair) <= set(sizes)})
    depth = dict.fromkeys(sizes, 0)
    for _ in sizes:
        for above, below in across:
            depth[below] = max(depth[below], depth[above] + 1)
    rows: list[list[Room]] = [[] for _ in range(max(depth.values(), default=0) + 1)]
    for room, lines in sizes.items():
        rows[depth[room]].append(Room(room, len(lines), sum(lines)))
    return rows, across


def _frame(frame: str) -> Iterator[str]:
    left, top, width = FRAMES[frame]
    rows, across = rooms_of(frame)
    height = 40 + len(rows) * _ROW
    yield (f'<rect x="{left}" y="{top}" width="{width}" height="{height}" rx="6" fill="none" '
           f'stroke="{_FRAME}"/>')  # fmt: skip
    yield (f'<text x="{left + 12}" y="{top + 22}" class="head">'
           f'sornix{"." + frame.replace("/", ".") if frame else ""}</text>')  # fmt: skip
    places: dict[str, tuple[float, float, float]] = {}
    boxes = []
    for number, row in enumerate(rows):
        wide = min((width - _GAP * (len(row) + 1)) / len(row), 150)
        begin = left + (width - wide * len(row) - _GAP * (len(row) - 1)) / 2
        for index, room in enumerate(row):
            x, y = begin + index * (wide + _GAP), top + 36 + number * _ROW
            places[room.name] = x, y, wide
            boxes.append(f'<rect x="{x:.1f}" y="{y}" width="{wide:.1f}" height="{_HIGH}" rx="4" '
                         f'fill="{_BOX}" stroke="{_INK}" stroke-width="0.7"/>')  # fmt: skip
            boxes.append(
                f'<text x="{x + wide / 2:.1f}" y="{y + 16}" class="name">{room.name}</text>'
            )
            said = f"{room.lines:,}".replace(",", "\u2009")
            many = f"{room.modules} module{'s' * (room.modules > 1)}, " if wide > 115 else ""
            boxes.append(f'<text x="{x + wide / 2:.1f}" y="{y + 30}" class="small">{many}{said} '
                         f"lines</text>")  # fmt: skip
    for (above, below), count in sorted(across.items()):
        (x0, y0, w0), (x1, y1, w1) = places[above], places[below]
        yield (f'<path d="M{x0 + w0 / 2:.1f} {y0 + _HIGH} C{x0 + w0 / 2:.1f} {y0 + _HIGH + 24} '
               f'{x1 + w1 / 2:.1f} {y1 - 24} {x1 + w1 / 2:.1f} {y1}" fill="none" '
               f'stroke="{_LINE}" stroke-opacity="0.45" '
               f'stroke-width="{min(0.6 + 0.25 * count, 5):.2f}"/>')  # fmt: skip
    yield from boxes


def drawing() -> str:
    """The whole of it as SVG."""
    parts = [part for frame in FRAMES for part in _frame(frame)]
    body = "\n".join(parts)
    return (
        '<svg xmlns="http://www.w3.org/2000/svg" width="1560" height="850" '
        'viewBox="0 0 1560 850" font-family="sans-serif">\n'
        f"<style>.head{{font-weight:600;font-size:14px;fill:{_INK}}}"
        f".name{{font-size:13px;text-anchor:middle;fill:{_INK}}}"
        f".small{{font-size:10px;text-anchor:middle;fill:#55625f}}</style>\n"
        f'<rect width="1560" height="850" fill="#ffffff"/>\n{body}\n</svg>\n'
    )


if __name__ == "__main__":
    (ROOT / "docs" / "rooms.svg").write_text(drawing())
