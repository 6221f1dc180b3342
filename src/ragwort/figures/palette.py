"""The colours and font files of Ragwort: for pictures, reports and the window."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

FONT_FOLDER = Path(__file__).parent / "fonts"  # Inter, still weights; made by tools/make_fonts.py


@dataclass(frozen=True)
class Palette:
    """One colour for each role."""

    name: str
    paper: str
    panel: str
    raised: str
    ink: str
    quiet: str
    hairline: str
    leaf: str  # a given value
    found: str  # the found value: fill
    found_text: str
    found_wash: str
    slate: str  # comparison
    brick: str  # error

    @property
    def target(self) -> str:
        """The line of the power asked for, which is a given value."""
        return self.leaf


LIGHT = Palette(
    "light",
    paper="#FBF9F2",
    panel="#F4F0E4",
    raised="#FFFFFF",
    ink="#1F2E27",
    quiet="#5B6B62",
    hairline="#DDD6C3",
    leaf="#2B6A4C",
    found="#E3A712",
    found_text="#825B00",
    found_wash="#FBEFCB",
    slate="#44607A",
    brick="#A8432B",
)
DARK = Palette(
    "dark",
    paper="#17201C",
    panel="#111915",
    raised="#1E2924",
    ink="#EDEBDF",
    quiet="#9FB0A6",
    hairline="#33413A",
    leaf="#84C9A2",
    found="#F0BE3C",
    found_text="#F3C95A",
    found_wash="#3A3116",
    slate="#9DB9D3",
    brick="#F08C70",
)
# Pictures in reports stand on white paper.
PRINT = Palette(**{**LIGHT.__dict__, "name": "print", "paper": "#FFFFFF"})
