"""Labels for sealed envelopes: the outside says whom it is for, the card inside what was allocated."""

from __future__ import annotations

import json
from pathlib import Path

from ragwort.files.texts import legal
from ragwort.files.typeset import pdf_of
from ragwort.sheet.allocation import SheetError
from ragwort.sheet.parts import Listed, Sheet

COLUMNS, ROWS = 3, 8  # of labels on a page
_LONGEST = 60  # characters of a line


def labels_bytes(sheet: Sheet, masked: bool = False) -> bytes:
    """A PDF of A4 pages: the outsides of all envelopes, then the cards in the same order. Raises `SheetError`."""
    if not sheet.list:
        raise SheetError("method", "Nobody is allocated, so there is nothing to seal.")
    listed = list(enumerate(sheet.list, start=1))
    outsides = [_lines(f"Envelope {place}", each.id, each.stratum) for place, each in listed]
    cards = [_lines(_arm(each, masked), each.id, f"envelope {place}") for place, each in listed]
    given = {
        "title": legal(f"Envelopes: {sheet.title}"),
        "columns": COLUMNS,
        "rows": ROWS,
        "parts": [outsides, cards],
    }
    return pdf_of(Path(__file__).parent / "labels.typ", {"labels.json": json.dumps(given).encode()})


def _arm(each: Listed, masked: bool) -> str:
    return each.code if masked else each.arm


def _lines(*texts: str) -> list[str]:
    """As much of each as there is room for."""
    return [legal(text if len(text) <= _LONGEST else f"{text[: _LONGEST - 1]}…") for text in texts]
