"""No process that we start takes a file of the working folder for one of its modules."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import zipfile
from pathlib import Path

import pytest

from ragwort.demo import sampler_study
from ragwort.study.document.files import write_study

PLANTED = (
    "typst.py",
    "python_calamine.py",
    "multiprocessing.py",
    "pickle.py",
    "concurrent/__init__.py",
    "ragwort/__init__.py",
    "sitecustomize.py",
    "usercustomize.py",
    "encodings/__init__.py",
    "numpy.py",
    "json.py",
    "zipfile.py",
)
REQUEST = {"design": "two-means", "find": "n", "assumptions": {"difference": 12, "sd": 24}}
RAGWORT = Path(sys.executable).with_name("ragwort")
MATPLOTLIBRC = "lines.linewidth: 30\ntext.color: red\nfont.size: 40\n"


def _in_hostile_folder(folder: Path, *arguments: str) -> subprocess.CompletedProcess[str]:
    for name in PLANTED:
        (folder / name).parent.mkdir(exist_ok=True)
        (folder / name).write_text('open("PWNED", "a").write(__file__)')
    (folder / "matplotlibrc").write_text(MATPLOTLIBRC)
    done = subprocess.run([RAGWORT, *arguments], cwd=folder, capture_output=True, text=True, timeout=120, check=False)
    assert not (folder / "PWNED").exists(), (folder / "PWNED").read_text()
    assert (done.returncode, "fault of ours" in done.stderr) == (0, False), done.stderr
    return done


def test_a_report_is_set_by_our_modules(tmp_path: Path) -> None:
    """The process that sets PDFs."""
    write_study(sampler_study(), tmp_path / "night.ragwort")
    _in_hostile_folder(tmp_path, "report", "night.ragwort", "--aim", "1", "-o", "out.pdf")
    assert (tmp_path / "out.pdf").read_bytes().startswith(b"%PDF")


def test_envelopes_are_set_by_our_modules(tmp_path: Path) -> None:
    """The same process, for labels."""
    (tmp_path / "r.request").write_text(json.dumps(REQUEST))
    _in_hostile_folder(tmp_path, "sheet", "r.request", "-o", "out.csv", "--labels", "out.pdf")
    assert (tmp_path / "out.pdf").read_bytes().startswith(b"%PDF")


def test_a_workbook_is_read_by_our_modules(tmp_path: Path) -> None:
    """The process that reads workbooks."""
    import xlsxwriter

    with xlsxwriter.Workbook(str(tmp_path / "rows.xlsx")) as book:
        book.add_worksheet().write_column(0, 0, ["difference", 8, 9])
    assert zipfile.is_zipfile(tmp_path / "rows.xlsx")
    (tmp_path / "r.request").write_text(json.dumps(REQUEST))
    _in_hostile_folder(tmp_path, "grid", "r.request", "--table", "rows.xlsx", "-o", "out.csv")


def test_helpers_of_a_grid_run_our_modules(tmp_path: Path) -> None:
    """Those that the standard library starts, and the one that it starts to look after them."""
    program = (
        "import sys; sys.path = [p for p in sys.path if p]; from ragwort.grid.cores import in_order;"
        "print(list(in_order(abs, [-1, 2, -3])))"
    )
    folder = tmp_path / "hostile"
    folder.mkdir()
    for name in PLANTED:
        (folder / name).parent.mkdir(exist_ok=True)
        (folder / name).write_text('open("PWNED", "a").write(__file__)')
    command = [sys.executable, "-P", "-c", program]
    environment = {name: text for name, text in os.environ.items() if name != "PYTHONSAFEPATH"}
    done = subprocess.run(command, cwd=folder, env=environment, capture_output=True, text=True, check=True)
    assert done.stdout == "[1, 2, 3]\n"
    assert not (folder / "PWNED").exists(), (folder / "PWNED").read_text()


@pytest.mark.parametrize("kind", ["svg", "png"])
def test_pictures_take_no_settings_of_the_folder(tmp_path: Path, kind: str) -> None:
    """The same bytes with a matplotlibrc that changes all letters and lines."""
    (tmp_path / "r.request").write_text(json.dumps(REQUEST))
    plain = [RAGWORT, "picture", "r.request", "-o", f"plain.{kind}"]
    subprocess.run(plain, cwd=tmp_path, capture_output=True, check=True)
    _in_hostile_folder(tmp_path, "picture", "r.request", "-o", f"out.{kind}")
    assert (tmp_path / f"out.{kind}").read_bytes() == (tmp_path / f"plain.{kind}").read_bytes()
