"""The pictures of a document, each drawn once however many files it goes into."""

from __future__ import annotations

import pickle
from functools import lru_cache

from ragwort.figures.export import picture_bytes
from ragwort.figures.pictures import Picture
from ragwort.files.typeset import dots_of

_KEPT = 120  # drawings, of some 60 kB
_SHARP = 160.0  # dots per inch, on a screen and where a file cannot hold a drawing


def svg_of(picture: Picture) -> bytes:
    """The picture as SVG, as it stands in a document; one that was drawn lately is at hand."""
    return _drawn(pickle.dumps(picture))


@lru_cache(maxsize=_KEPT)
def _drawn(pickled: bytes) -> bytes:
    return picture_bytes(pickle.loads(pickled), "svg")


@lru_cache(maxsize=_KEPT)
def as_dots(svg: bytes) -> bytes:
    """A drawing as PNG; one that was asked for lately is at hand."""
    return dots_of(svg, _SHARP)
