"""What the drawing of any picture is: layers, from what seldom changes to what an edit moves."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, ClassVar, Generic, TypeVar

from ragwort.figures.shown.shown import Shown

if TYPE_CHECKING:
    from matplotlib.artist import Artist
    from matplotlib.axes import Axes

    from ragwort.figures.drawing.pencil import Look
    from ragwort.figures.labels import Box


P = TypeVar("P", bound=Shown)


class Drawing(Generic[P]):
    """How pictures of one kind are drawn. Say what the scale and the marks are; the rest follows.

    Each method draws on `axes` and returns what it drew, back to front.
    """

    width_share: ClassVar[float] = 1.0  # of the figure, for the axes
    left: ClassVar[float] = 0.72  # inches left of the axes, at letters of 9 points

    def sheet(self, axes: Axes, picture: P, look: Look) -> list[Artist]:
        """What stays at any limits, beside the titles."""
        return []

    def scale(self, axes: Axes, picture: P, look: Look) -> list[Artist]:
        """What goes with the limits, which it sets: the numbers below."""
        raise NotImplementedError

    def marks(self, axes: Axes, picture: P, look: Look) -> list[Artist]:
        """Curves, areas and labels."""
        raise NotImplementedError

    def kept(self, axes: Axes, picture: P, look: Look) -> list[Artist]:
        """Of the marks, those that no edit of the aim moves."""
        return []

    def kept_and_named(self, axes: Axes, picture: P, look: Look) -> list[Artist]:
        """The same, with their names where `marks` has them."""
        return []

    def live(self, axes: Axes, picture: P, look: Look, names: Sequence[Box] = ()) -> list[Artist]:
        """Of the marks, those that an edit moves, quick enough for every frame of a drag; `names` are not covered."""
        return self.marks(axes, picture, look)
