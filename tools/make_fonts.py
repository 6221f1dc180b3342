"""Make the still fonts of window, pictures and reports from the variable Inter of the package fontpkg-inter.

Matplotlib and ReportLab read one weight a file only. Run once, after an update of fontpkg-inter:
    .venv/bin/python tools/make_fonts.py
"""

from __future__ import annotations

import io
from pathlib import Path

import fontpkg_inter
from fontTools import subset
from fontTools.ttLib import TTFont
from fontTools.varLib import instancer

TARGET = Path(__file__).parents[1] / "src" / "ragwort" / "figures" / "fonts"
WEIGHTS = {"Regular": 400, "SemiBold": 600, "Bold": 700}
LAST_CHARACTER = 0x2300  # Latin, Greek, Cyrillic, punctuation, arrows, mathematics


def still_font(weight: int) -> TTFont:
    """Inter at one weight, cut down to the characters up to `LAST_CHARACTER`."""
    font = TTFont(fontpkg_inter.ROOT / "files" / "Inter[opsz,wght].ttf")
    options = subset.Options()
    options.layout_features = ["kern", "tnum", "ccmp", "locl", "mark", "mkmk"]
    options.name_IDs = ["*"]
    cutter = subset.Subsetter(options)
    cutter.populate(unicodes=[code for code in font.getBestCmap() if code < LAST_CHARACTER])
    cutter.subset(font)
    # Saved and read again: the instancer wants a font in which nothing is left half cut.
    buffer = io.BytesIO()
    font.save(buffer)
    return instancer.instantiateVariableFont(
        TTFont(io.BytesIO(buffer.getvalue())), {"wght": weight, "opsz": 14}, updateFontNames=True
    )


if __name__ == "__main__":
    for name, weight in WEIGHTS.items():
        still_font(weight).save(TARGET / f"Inter-{name}.ttf")
    (TARGET / "OFL.txt").write_text((fontpkg_inter.ROOT / "LICENSE").read_text())
