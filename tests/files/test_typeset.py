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


def test_what_no_font_has_is_a_box(tmp_path: Path) -> None:
    """One such character, or more kinds of them than are asked for one by one: the rest is there.

    On a machine that happens to have them they stand as they are.
    """
    made = template(tmp_path, '= Heading\n#for each in json("given.json") [#par(each)]')
    for odd in (["\u0608"], list("\u0608\u1200\u1300\u1780\u1f050\u3042\u4e00\ua015\uac00\u0e01\u0c05\u0d05")):
        files = {"given.json": json.dumps([f"an odd {each} one" for each in odd] + ["Grün 12 µg"]).encode()}
        text = PdfReader(io.BytesIO(pdf_of(made, files))).pages[0].extract_text()
        assert [any(f"an odd {shown} one" in text for shown in (each, "\u25af")) for each in odd] == [True] * len(odd)
        assert "Grün 12 µg" in text
