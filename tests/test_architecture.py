"""What the page on the architecture tells of files is so."""

from __future__ import annotations

import re
from pathlib import Path

ROOT = Path(__file__).parents[1]
FOLDERS = (ROOT, ROOT / "src" / "ragwort", ROOT / "src" / "ragwort" / "app")
PAGE = (ROOT / "docs" / "architecture.md").read_text()


def test_the_way_of_one_value_is_short() -> None:
    """From the keystroke to the PDF: under 25 files, each of which is there, none visited twice."""
    way = PAGE.partition("## One value, from the keystroke to the PDF")[2].partition("\n## ")[0]
    files = re.findall(r"^\d+\. `([\w/]+\.py)`", way, re.MULTILINE)
    assert 15 < len(files) < 25
    assert len(set(files)) == len(files)
    assert not [each for each in files if not (ROOT / "src" / "ragwort" / each).is_file()]


def test_files_that_the_pages_name_are_there() -> None:
    """Whatever stands in backquotes with a folder is found under `src/ragwort`, or from the root of the project."""
    for page in (PAGE, (ROOT / "CONTRIBUTING.md").read_text()):
        named = set(re.findall(r"`((?:[\w.]+/)+[\w.]+\.(?:py|md|typ|json|svg|toml))`", page))
        gone = [
            each
            for each in named
            if not any(
                (folder / each).exists() for folder in (ROOT, ROOT / "src" / "ragwort", ROOT / "src/ragwort/app")
            )
        ]
        assert not gone
