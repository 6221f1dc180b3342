"""Plain data, set as PDF by a Typst template; drawings in dots.

Documents are set in a process of its own, of which this module is both ends: what Typst remembers of each, some 20 MB
of a long one, it never lets go.
"""

from __future__ import annotations

import pickle
import subprocess
import sys
from collections.abc import Mapping
from functools import lru_cache
from pathlib import Path
from typing import Any

FONTS = Path(__file__).parents[1] / "figures" / "fonts"  # Inter


def pdf_of(template: Path, files: Mapping[str, bytes]) -> bytes:
    """What the template makes of these files, by the names it reads them under: tagged PDF with its fonts inside.

    The same input gives the same bytes. What Inter lacks is taken from fonts that come with matplotlib, or from the
    machine's own. Raises `RuntimeError` where it cannot be set, which is a fault of ours.
    """
    given = {"main": template.read_bytes(), **files}
    options = {"format": "pdf", "font_paths": _font_folders(), "pdf_standards": "ua-1", "timestamp": 0}
    command = [sys.executable, "-m", "ragwort.files.typeset"]
    done = subprocess.run(command, input=pickle.dumps((given, options)), capture_output=True, check=False)
    if done.returncode:
        raise RuntimeError(f"The document could not be set: {done.stderr.decode(errors='replace').strip()}")
    return done.stdout


def main() -> None:
    """The process: set what comes on standard input, our own pickle, and write it to standard output."""
    given, options = pickle.load(sys.stdin.buffer)
    sys.stdout.buffer.write(_compiler()(given, **options))


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
