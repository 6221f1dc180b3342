"""What every picture is to those who show, export or steer it."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any, ClassVar, Self

from ragwort.study.words.numbers import MINUS

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    from ragwort.designs import Answer
    from ragwort.figures.scales.axes import Axis
    from ragwort.study.document.aim import Aim


@dataclass(frozen=True)
class Reading:
    """A place in a picture, in the units of its axes, and what is read there."""

    x: float
    y: float
    words: str


@dataclass(frozen=True)
class Pointer:
    """Where somebody points at, in the units of the axes, and how much of them one pixel is."""

    x: float
    y: float
    per_pixel: tuple[float, float]


@dataclass(frozen=True)
class Flag:
    """A pin in a picture: where it stands, in the units of the axes, and what is read there."""

    number: int  # of the pin
    x: float
    y: float  # NaN where there is nothing to read
    words: str
    name: str = ""


@dataclass(frozen=True)
class Beyond:
    """Where on an axis of sample sizes more begins than can be had."""

    axis: str  # `x` or `y`
    start: float
    words: str
    at_end: bool = True  # the words stand at the right, where they meet no line


Texts = tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class Moved:
    """Where the design goes as its point is moved: values of assumptions, a step of its sizes; nowhere if empty."""

    values: Mapping[str, Any] = field(default_factory=dict)
    step: int | None = None


@dataclass(frozen=True)
class SeenLine:
    """A line as the eye sees it: where it goes."""

    label: str
    x: NDArray[np.float64]
    y: NDArray[np.float64]


@dataclass(frozen=True)
class Seen:
    """What the eye sees of a picture: its lines, the height that is asked for, whatever else lies in it."""

    lines: Sequence[SeenLine] = ()
    target: float | None = None
    unit: str = ""
    others: Sequence[str] = ()


def number_seen(value: float) -> str:
    """A number as it is read off a picture."""
    rounded = f"{value:.3g}" if abs(value) < 1000 else f"{value:.0f}"
    return (rounded if math.isfinite(value) else "nothing").replace("-", MINUS)


class Shown:
    """A picture as plain data. Pictures with equal keys of a layer (see `Drawing`) look the same in it."""

    moves: ClassVar[str] = ""  # in which directions its handle can be dragged: "", "x" or "xy"
    zooms: ClassVar[str] = ""  # in which directions its axes can be zoomed and moved
    pinned: ClassVar[bool] = False  # whether it takes pins
    flags: tuple[Flag, ...] = ()
    texts: Texts = ()  # the user's own title, x, y and caption
    supposed: bool = False  # whether it rests on what is only supposed, as nobody has said what is plausible
    x_label: str  # what the scale below means
    says: str  # the picture in one line of text

    @property
    def y_label(self) -> str:
        """What the scale on the left means."""
        return ""

    @property
    def foot(self) -> str:
        """What stands below the picture in the window: its line of text, as far as nothing else there says it."""
        return self.says

    @property
    def handle(self) -> tuple[float, float] | None:
        """The design's own point, where it can be dragged."""
        return None

    @property
    def handles(self) -> tuple[tuple[float, float], ...]:
        """All points that can be dragged: usually the one."""
        return () if self.handle is None else (self.handle,)

    def holding(self, which: int) -> Self:
        """The picture with another of its points in hand."""
        return self

    def words_for(self, part: str) -> str:
        """What stands at `title`, `x`, `y` or as `caption`: the user's own words, else the picture's."""
        own = {"title": "", "x": self.x_label, "y": self.y_label, "caption": self.says}
        return dict(self.texts).get(part) or own[part]

    def frame(self) -> tuple[object, ...]:
        """What the axes depend on."""
        raise NotImplementedError

    def sheet(self) -> tuple[object, ...]:
        """What the fixed part of the frame depends on."""
        return (type(self).__name__, self.x_label, self.y_label, self.texts)

    def kept(self) -> tuple[object, ...]:
        """What the marks depend on that no edit of the aim moves."""
        return ()

    def reading(self, at: Pointer) -> Reading | None:
        """What is read where somebody points at; None where there is nothing."""
        return None

    def walk(self) -> list[Reading]:
        """What is read from left to right, for those who go by the keys."""
        return []

    def moved_to(self, aim: Aim, answer: Answer, to: tuple[float, float]) -> Moved:
        """The design with its point dragged there."""
        return Moved()

    def moved_by(self, aim: Aim, answer: Answer, by: tuple[int, int]) -> Moved:
        """The design with its point some steps across and up, by the arrow keys."""
        return Moved()

    def axes(self) -> dict[str, Axis]:
        """The axes that can be framed otherwise, by slot."""
        return {}

    def seen(self) -> Seen:
        """What the eye sees of it, for those who do not."""
        return Seen()

    def rows(self) -> list[list[object]]:
        """The data behind the picture: a heading row, and the rest."""
        raise NotImplementedError
