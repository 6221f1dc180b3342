"""The pictures of a document, each drawn once however many files it goes into."""

from __future__ import annotations

import pickle
from functools import lru_cache

from ragwort.figures.export import picture_bytes
from ragwort.figures.pictures import Picture

_KEPT = 120  # drawings, of some 60 kB


def svg_of(picture: Picture) -> bytes:
    """The picture as SVG, as it stands in a document; one that was drawn lately is at hand."""
    return _drawn(pickle.dumps(picture))


@lru_cache(maxsize=_KEPT)
def _drawn(pickled: bytes) -> bytes:
    return picture_bytes(pickle.loads(pickled), "svg")
