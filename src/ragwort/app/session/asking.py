"""Every dialog of the window in one place, so that tests can answer for the user."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QMessageBox, QWidget

from ragwort.files import short
from ragwort.study.document.files import SUFFIX

_STUDIES = f"Ragwort studies (*{SUFFIX})"


def study_to_open(parent: QWidget, folder: Path) -> Path | None:
    """Which study to open; None where the user thinks better of it."""
    name, _ = QFileDialog.getOpenFileName(parent, "Open a study", str(folder), f"{_STUDIES};;All files (*)")
    return Path(name) if name else None


def pilot_to_open(parent: QWidget, folder: Path, title: str = "Open a pilot file") -> Path | None:
    """Which file of data to read; None where the user thinks better of it."""
    kinds = "Data (*.csv *.tsv *.txt *.xlsx *.ods);;All files (*)"
    name, _ = QFileDialog.getOpenFileName(parent, title, str(folder), kinds)
    return Path(name) if name else None


def place_to_save(parent: QWidget, title: str, suggestion: Path, suffix: str) -> Path | None:
    """Where to save; the suffix is added where it is missing. None where the user thinks better of it."""
    name, _ = QFileDialog.getSaveFileName(parent, title, str(suggestion), f"*{suffix}")
    if not name:
        return None
    path = Path(name)
    return path if path.suffix == suffix else path.with_name(path.name + suffix)


def about_unsaved(parent: QWidget, title: str) -> str:
    """What to do with unsaved work: `save`, `discard` or `stay`."""
    box = QMessageBox(parent)
    box.setWindowTitle("Unsaved changes")
    box.setText(f"“{short(title, 80)}” has changes that are not saved.")
    save = box.addButton("Save", QMessageBox.ButtonRole.AcceptRole)
    discard = box.addButton("Discard the changes", QMessageBox.ButtonRole.DestructiveRole)
    box.addButton("Stay", QMessageBox.ButtonRole.RejectRole)
    box.exec()
    chosen = box.clickedButton()
    return "save" if chosen is save else "discard" if chosen is discard else "stay"


def about_other_contents(parent: QWidget, path: Path, differences: list[str]) -> str:
    """What to do where a file has been changed by another program: `beside`, `replace` or `stay`."""
    box = QMessageBox(parent)
    box.setWindowTitle("The file has changed")
    box.setText(f"{short(path.name)} was changed by another program since it was opened or saved here.")
    box.setInformativeText("\n".join(f"In the file: {each}." for each in differences) or "Only its layout differs.")
    beside = box.addButton("Keep both: save mine beside it…", QMessageBox.ButtonRole.AcceptRole)
    replace = box.addButton("Replace it by mine", QMessageBox.ButtonRole.DestructiveRole)
    box.addButton("Stay", QMessageBox.ButtonRole.RejectRole)
    box.exec()
    chosen = box.clickedButton()
    return "beside" if chosen is beside else "replace" if chosen is replace else "stay"


def tell(parent: QWidget, title: str, text: str) -> None:
    """Something to read and close."""
    box = QMessageBox(parent)
    box.setWindowTitle(title)
    box.setText(text)
    box.addButton("Close", QMessageBox.ButtonRole.AcceptRole)
    box.exec()
