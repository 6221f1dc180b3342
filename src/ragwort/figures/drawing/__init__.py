"""The drawings of the pictures, with matplotlib: one drawing for window and report.

Each picture is drawn in two parts: the frame (axes, grid, titles), which stays while an edit moves the curves, and
the marks (curves, areas, point, labels), which are drawn anew. The window keeps the frame as a bitmap.

    pencil.py        paper, lines, text, scales
    kind.py          what the drawing of any picture is; `DRAWINGS` below has one for each
    room.py          free space for labels
    letters.py       texts kept as bitmaps, for windows
    outlines.py      texts kept as outlines, for files
    split.py, spread.py, curve.py, drivers.py, error_rates.py, map.py, panels.py, rehearsed.py, steps.py, trace.py
    points.py        points and labels among lines
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ragwort.figures.drawing.boundaries import BoundariesDrawing
from ragwort.figures.drawing.curve import CurveDrawing
from ragwort.figures.drawing.drivers import DriversDrawing
from ragwort.figures.drawing.error_rates import ErrorsDrawing
from ragwort.figures.drawing.events import EventsDrawing
from ragwort.figures.drawing.expected_size import ExpectedSizeDrawing
from ragwort.figures.drawing.kind import Drawing
from ragwort.figures.drawing.look_times import LookTimesDrawing
from ragwort.figures.drawing.map import MapDrawing
from ragwort.figures.drawing.panels import PanelsDrawing
from ragwort.figures.drawing.pencil import Look, heading, new_figure, nice_ticks, place_of_axes, prepare, titles
from ragwort.figures.drawing.points import box_of
from ragwort.figures.drawing.rehearsed import (
    BySizeDrawing,
    EstimatesDrawing,
    OneStudyDrawing,
    PValuesDrawing,
    WorldsDrawing,
)
from ragwort.figures.drawing.split import SplitDrawing
from ragwort.figures.drawing.spread import SpreadDrawing
from ragwort.figures.drawing.steps import StepsDrawing
from ragwort.figures.drawing.trace import TraceDrawing
from ragwort.figures.drawing.two_tests import TwoTestsDrawing
from ragwort.figures.labels import Box
from ragwort.figures.shown.boundaries import Boundaries
from ragwort.figures.shown.by_size import BySize
from ragwort.figures.shown.curve import Curve
from ragwort.figures.shown.drivers import Drivers
from ragwort.figures.shown.error_rates import Errors
from ragwort.figures.shown.events import Events
from ragwort.figures.shown.expected_size import ExpectedSize
from ragwort.figures.shown.look_times import LookTimes
from ragwort.figures.shown.map import Map
from ragwort.figures.shown.one_study import OneStudy
from ragwort.figures.shown.panels import Panels
from ragwort.figures.shown.rehearsed import Estimates, PValues, Worlds
from ragwort.figures.shown.shown import Shown
from ragwort.figures.shown.split import Split
from ragwort.figures.shown.spread import Spread
from ragwort.figures.shown.steps import Steps
from ragwort.figures.shown.trace import Trace
from ragwort.figures.shown.two_tests import TwoTests

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

Picture = Shown
DRAWINGS: dict[type, Drawing[Any]] = {
    Curve: CurveDrawing(),
    Trace: TraceDrawing(),
    Panels: PanelsDrawing(),
    Map: MapDrawing(),
    Errors: ErrorsDrawing(),
    Boundaries: BoundariesDrawing(),
    ExpectedSize: ExpectedSizeDrawing(),
    LookTimes: LookTimesDrawing(),
    Drivers: DriversDrawing(),
    Split: SplitDrawing(),
    Spread: SpreadDrawing(),
    Events: EventsDrawing(),
    Steps: StepsDrawing(),
    TwoTests: TwoTestsDrawing(),
    Estimates: EstimatesDrawing(),
    PValues: PValuesDrawing(),
    Worlds: WorldsDrawing(),
    BySize: BySizeDrawing(),
    OneStudy: OneStudyDrawing(),
}

__all__ = [
    "DRAWINGS",
    "Drawing",
    "Look",
    "Picture",
    "boxes_of_texts",
    "draw",
    "draw_frame",
    "draw_sheet",
    "drawing_of",
    "new_figure",
    "nice_ticks",
    "prepare",
]


def drawing_of(picture: Picture) -> Drawing[Any]:
    """How a picture is drawn."""
    return next(DRAWINGS[kind] for kind in type(picture).__mro__ if kind in DRAWINGS)


def draw_sheet(axes: Axes, picture: Picture, look: Look) -> list[Artist]:
    """Of the frame, what stays at any limits: titles, and a scale that is always the same.

    Drawn by us: matplotlib's own axis makes some thirty objects anew each time, which costs five times as much.
    """
    kind = drawing_of(picture)
    axes.set_axis_off()
    axes.set_position(place_of_axes(axes.figure, look, kind.width_share, kind.left, bool(picture.words_for("title"))))
    words = [picture.words_for(part) for part in ("x", "y")]
    return [*kind.sheet(axes, picture, look), *titles(axes, look, *words), *heading(axes, look, picture)]


def boxes_of_texts(marks: list[Artist]) -> list[Box]:
    """Where the texts among marks stand, in pixels of the figure."""
    from matplotlib.text import Text

    return [box_of(mark) for mark in marks if isinstance(mark, Text) and mark.get_visible()]


def draw_frame(axes: Axes, picture: Picture, look: Look) -> list[Artist]:
    """Grid, scales and titles of a picture."""
    return [*draw_sheet(axes, picture, look), *drawing_of(picture).scale(axes, picture, look)]


def draw(
    picture: Picture, look: Look, width: float, height: float, dpi: float = 100.0, used: Figure | None = None
) -> Figure:
    """A whole picture, `width` x `height` inches; on a sheet that was `used` before, of this size and look."""
    figure = used or new_figure(width, height, look, dpi)[0]
    axes = figure.axes[0]
    for mark in (*axes.lines, *axes.patches, *axes.texts, *axes.collections, *axes.images, *axes.artists):
        mark.remove()
    draw_frame(axes, picture, look)
    drawing_of(picture).marks(axes, picture, look)
    return figure
