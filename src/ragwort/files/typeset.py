"""Plain data, set as PDF by a Typst template."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from pathlib import Path

FONTS = Path(__file__).parents[1] / "figures" / "fonts"  # Inter


def pdf_of(template: Path, files: Mapping[str, bytes]) -> bytes:
    """What the template makes of these files, by the names it reads them under: tagged PDF with its fonts inside.

    The same input gives the same bytes. What Inter lacks is taken from fonts that come with matplotlib, or from the
    machine's own.
    """
    import typst

    given = {"main": template.read_bytes(), **files}
    made = typst.compile(given, format="pdf", font_paths=_font_folders(), pdf_standards="ua-1", timestamp=0)
    return bytes(made)


@lru_cache(maxsize=1)
def _font_folders() -> list[str]:
    from matplotlib import get_data_path

    return [str(FONTS), f"{get_data_path()}/fonts/ttf"]
