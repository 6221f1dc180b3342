"""Documents are set in a process of their own."""

from __future__ import annotations

import io
import json
import subprocess
import sys
from pathlib import Path

import pytest
from pypdf import PdfReader

from ragwort.files.typeset import pdf_of


def template(folder: Path, text: str) -> Path:
    """A template with this text."""
    made = folder / "template.typ"
    made.write_text(f'#set document(title: "A title")\n{text}')
    return made


def test_what_is_given_is_set_and_the_same_each_time(tmp_path: Path) -> None:
    """Data are read by their names."""
    made = template(tmp_path, '= Heading\n#json("given.json").words')
    files = {"given.json": json.dumps({"words": "nothing is lost"}).encode()}
    first = pdf_of(made, files)
    assert "nothing is lost" in PdfReader(io.BytesIO(first)).pages[0].extract_text()
    assert pdf_of(made, files) == first


def test_a_template_with_a_fault_is_said(tmp_path: Path) -> None:
    """In Typst's words, as a fault of ours."""
    with pytest.raises(RuntimeError, match=r"could not be set: (?s:.*)unknown variable: nobody"):
        pdf_of(template(tmp_path, "#nobody"), {})


def test_this_process_keeps_nothing_of_it(tmp_path: Path) -> None:
    """What Typst remembers would stay for good."""
    made = template(tmp_path, "= Heading")
    code = (
        "import sys; from pathlib import Path; from ragwort.files.typeset import pdf_of; "
        "pdf_of(Path(sys.argv[1]), {}); print('typst' in sys.modules)"
    )
    done = subprocess.run([sys.executable, "-c", code, str(made)], capture_output=True, check=True)
    assert done.stdout == b"False\n"
