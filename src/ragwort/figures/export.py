"""A picture as a file: SVG, PDF, PNG, and its data as CSV."""

from __future__ import annotations

import io
from threading import local
from typing import Any

from ragwort.figures.drawing import Look, draw, new_figure
from ragwort.figures.drawing.pencil import with_caption
from ragwort.figures.palette import PRINT
from ragwort.figures.paper import SIZES, USUAL, Size
from ragwort.figures.pictures import PICTURE_FORMATS, Picture
from ragwort.files.texts import csv_bytes, legal

_PRINT_DPI = 220.0


def picture_bytes(
    picture: Picture, kind: str, look: Look | None = None, dpi: float = _PRINT_DPI, size: str = "", alone: bool = False
) -> bytes:
    """The picture in one of `PICTURE_FORMATS`, as PNG with `dpi` pixels per inch, in one of `SIZES`.

    What it shows stands in the file's own description; a caption of the user's is drawn below where the picture is
    taken out `alone`. Raises `ValueError` on another format.
    """
    if kind == "csv":
        return csv_bytes(picture.rows())
    if kind not in PICTURE_FORMATS:
        raise ValueError(f"A picture is exported as {', '.join(PICTURE_FORMATS)}, not {kind!r}.")
    buffer = io.BytesIO()
    title, caption = legal(picture.words_for("title") or "Picture"), legal(picture.words_for("caption"))
    stamps: dict[str, dict[str, Any]] = {
        "svg": {"Date": None, "Title": title, "Description": caption},
        "pdf": {"CreationDate": None, "Title": title, "Subject": caption},
        "png": {"Title": title, "Description": caption},
    }
    made = SIZES.get(size, SIZES[USUAL])
    quickly: dict[str, Any] = {"pil_kwargs": {"compress_level": 2}} if kind == "png" else {}
    dots = dpi if kind == "png" else 100.0
    look = look or Look(PRINT, made.text)
    used = None if alone else _used_sheet(look, made, dots)
    figure = draw(picture, look, made.width, made.height, dots, used)
    if alone and dict(picture.texts).get("caption"):
        quickly["bbox_inches"] = with_caption(figure, look, caption)
    figure.savefig(buffer, format=kind, facecolor=figure.get_facecolor(), metadata=stamps[kind], **quickly)
    return legal(buffer.getvalue().decode()).encode() if kind == "svg" else buffer.getvalue()


_SHEETS = local()  # a thread's own


def _used_sheet(look: Look, size: Size, dpi: float) -> Any:
    """The sheet on which this thread drew the picture before: making one takes a sixth of the time."""
    kept = getattr(_SHEETS, "kept", None)
    if kept is None or kept[0] != (look, size, dpi):
        kept = _SHEETS.kept = (look, size, dpi), new_figure(size.width, size.height, look, dpi)[0]
    return kept[1]
