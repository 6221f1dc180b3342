"""Draws the rooms of Ragwort and who enters whose, from the imports as they are: `python docs/rooms.py`."""

from __future__ import annotations

from pathlib import Path

import grimp
from matplotlib.figure import Figure

TARGET = Path(__file__).parent / "rooms.svg"
# From the mathematics at the bottom to the command line at the top: the layers that import-linter keeps.
LAYERS = (
    ("base",),
    ("stats", "files"),
    ("designs", "pilot"),
    ("study",),
    ("rehearsal", "figures"),
    ("grid", "sheet"),
    ("report",),
    ("demo",),
    ("app.kit",),
    ("app.session",),
    ("app.sources", "app.picture"),
    ("app.bench", "app.grid", "app.report"),
    ("app.choose", "app.rehearse", "app.sheet"),
    ("app.shell",),
    ("cli",),
)
WIDTH, HEIGHT = 1.5, 0.36


def entered() -> dict[tuple[str, str], int]:
    """How many modules of one room import how many of another, by pair of rooms."""
    graph = grimp.build_graph("ragwort")
    rooms = [room for layer in LAYERS for room in layer]
    found: dict[tuple[str, str], int] = {}
    for module in graph.modules:
        for other in graph.find_modules_directly_imported_by(module):
            pair = room_of(module, rooms), room_of(other, rooms)
            if "" not in pair and pair[0] != pair[1]:
                found[pair] = found.get(pair, 0) + 1
    return found


def room_of(module: str, rooms: list[str]) -> str:
    """The room that a module stands in; empty for the door."""
    return next((room for room in rooms if f"{module}.".startswith(f"ragwort.{room}.")), "")


def places() -> dict[str, tuple[float, float]]:
    """The middle of each room's box: a row a layer, from the bottom up."""
    return {
        room: ((at - (len(layer) - 1) / 2) * 2.1, float(row) * 0.78)
        for row, layer in enumerate(LAYERS)
        for at, room in enumerate(layer)
    }


def main() -> None:
    """Write the picture."""
    figure = Figure(figsize=(7.4, 8.6))
    axes = figure.add_axes((0, 0, 1, 1))
    axes.set_axis_off()
    where = places()
    for (room, other), count in sorted(entered().items()):
        (x, y), (to_x, to_y) = where[room], where[other]
        bend = 0.18 if abs(y - to_y) > 1 and abs(x - to_x) < 0.1 else 0.0
        style = f"arc3,rad={bend}"
        look = {"arrowstyle": "-|>", "connectionstyle": style, "color": "#5B6B62", "lw": 0.4 + 0.06 * min(count, 20)}
        axes.annotate("", (to_x, to_y + HEIGHT / 2), (x, y - HEIGHT / 2), arrowprops={**look, "alpha": 0.55})
    box = {"boxstyle": "round,pad=0.45", "facecolor": "#FBF9F2", "edgecolor": "#2B6A4C"}
    for room, (x, y) in where.items():
        axes.text(x, y, room, ha="center", va="center", fontsize=10, color="#1F2E27", bbox=box)
    axes.set_xlim(-3.6, 3.6)
    axes.set_ylim(-0.5, len(LAYERS) * 0.78)
    figure.savefig(TARGET, metadata={"Date": None})


if __name__ == "__main__":
    main()
