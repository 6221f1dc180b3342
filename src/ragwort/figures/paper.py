"""How large a picture is taken out, by what it is for."""

from __future__ import annotations

from dataclasses import dataclass

WIDTH, HEIGHT = 6.4, 3.9  # inches


@dataclass(frozen=True)
class Size:
    """For what a picture is taken out: its size in inches, and that of its letters in points."""

    words: str
    width: float
    height: float
    text: float


SIZES = {
    "column": Size("column of a journal, 85 mm wide", 3.35, 2.6, 7.0),
    "page": Size("page, 163 mm wide", WIDTH, HEIGHT, 9.0),
    "slide": Size("slide, 254 mm wide", 10.0, 5.6, 15.0),
}
USUAL = "page"
