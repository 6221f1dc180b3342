"""A picture as a file: SVG, PDF, PNG, and its data as CSV."""

from __future__ import annotations

import io
from typing import Any

from ragwort.figures.drawing import Look, draw
from ragwort.figures.palette import PRINT
from ragwort.figures.pictures import FORMATS, Picture
from ragwort.files.texts import csv_bytes, legal

WIDTH, HEIGHT = 6.4, 3.9  # inches
_PRINT_DPI = 220.0


def picture_bytes(picture: Picture, kind: str, look: Look | None = None, dpi: float = _PRINT_DPI) -> bytes:
    """The picture in one of `FORMATS`, as PNG with `dpi` pixels per inch. Raises `ValueError` on another format."""
    if kind == "csv":
        return csv_bytes(picture.rows())
    if kind not in FORMATS:
        raise ValueError(f"A picture is exported as {', '.join(FORMATS)}, not {kind!r}.")
    buffer = io.BytesIO()
    stamp = {"svg": {"Date": None}, "pdf": {"CreationDate": None}, "png": {}}[kind]
    quickly: dict[str, Any] = {"pil_kwargs": {"compress_level": 2}} if kind == "png" else {}
    figure = draw(picture, look or Look(PRINT), WIDTH, HEIGHT, dpi if kind == "png" else 100.0)
    figure.savefig(buffer, format=kind, facecolor=figure.get_facecolor(), metadata=stamp, **quickly)
    return legal(buffer.getvalue().decode()).encode() if kind == "svg" else buffer.getvalue()
