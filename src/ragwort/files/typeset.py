"""Plain data, set as PDF by a Typst template; drawings in dots.

Documents are set in a process of its own, of which this module is both ends: what Typst remembers of each, some 20 MB
of a long one, it never lets go.
"""

from __future__ import annotations

import json
import pickle
import re
import subprocess
import sys
from collections.abc import Container, Mapping
from functools import lru_cache
from pathlib import Path
from typing import Any

from ragwort.files.children import python_running

FONTS = Path(__file__).parents[1] / "figures" / "fonts"  # Inter


def pdf_of(template: Path, files: Mapping[str, bytes]) -> bytes:
    """What the template makes of these files, by the names it reads them under: tagged PDF with its fonts inside.

    The same input gives the same bytes. What Inter lacks is taken from fonts that come with matplotlib, or from the
    machine's own; a character that none has is a box. Raises `RuntimeError` where it cannot be set, which is a
    fault of ours.
    """
    given = {"main": template.read_bytes(), **files}
    options = {"format": "pdf", "font_paths": _font_folders(), "pdf_standards": "ua-1", "timestamp": 0}
    command = python_running("ragwort.files.typeset")
    done = subprocess.run(command, input=pickle.dumps((given, options)), capture_output=True, check=False)
    if done.returncode:
        raise RuntimeError(f"The document could not be set: {done.stderr.decode(errors='replace').strip()}")
    return done.stdout


def main() -> None:
    """The process: set what comes on standard input, our own pickle, and write it to standard output."""
    given, options = pickle.load(sys.stdin.buffer)
    sys.stdout.buffer.write(_set(given, options))


_NO_GLYPH = re.compile(r"the text (.*) could not be displayed", re.DOTALL)  # a tagged PDF has a shape for everything
_TRIES = 8  # texts that are named one by one, before all that our own fonts lack is taken for lacking


def _set(given: dict[str, bytes], options: dict[str, Any]) -> bytes:
    """Typst's document, with a box in place of what no font has: only Typst knows the fonts of the machine."""
    for left in reversed(range(_TRIES)):
        try:
            return bytes(_compiler()(given, **options))
        except RuntimeError as error:
            named = _NO_GLYPH.search(str(error))
            if named is None:
                raise
        lacking = {ord(c) for c in named[1]} if left else range(sys.maxunicode + 1)
        known = _characters(tuple(options["font_paths"]))
        given = {name: _boxed(data, lacking, known) for name, data in given.items()}
    return bytes(_compiler()(given, **options))


@lru_cache(maxsize=1)
def _characters(folders: tuple[str, ...]) -> frozenset[int]:
    """Those that our own fonts and matplotlib's have."""
    from fontTools.ttLib import TTFont

    paths = [path for folder in folders for pattern in _OF_OURS for path in Path(folder).glob(pattern)]
    return frozenset(code for path in paths for code in TTFont(path).getBestCmap())


_OF_OURS = ("Inter-Regular.ttf", "DejaVuSans.ttf")


def _boxed(data: bytes, lacking: Container[int], known: Container[int]) -> bytes:
    """The texts among the files with a box in place of each character that is lacking."""
    try:
        text = json.dumps(json.loads(data), ensure_ascii=False)
    except ValueError:  # a template or a drawing
        return data
    return "".join(c if ord(c) in known or ord(c) not in lacking or c.isspace() else "\u25af" for c in text).encode()


_ON_A_PAGE = b'#set page(width: auto, height: auto, margin: 0pt)\n#image("drawing.svg")'


def dots_of(svg: bytes, dpi: float) -> bytes:
    """A drawing as PNG with so many dots per inch."""
    return bytes(_compiler()({"main": _ON_A_PAGE, "drawing.svg": svg}, format="png", ppi=dpi))


def _compiler() -> Any:
    """Typst's, which takes files by name though its type stubs do not say so."""
    import typst

    return typst.compile


@lru_cache(maxsize=1)
def _font_folders() -> list[str]:
    from matplotlib import get_data_path

    return [str(FONTS), f"{get_data_path()}/fonts/ttf"]


if __name__ == "__main__":
    main()
