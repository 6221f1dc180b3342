"""Nothing of the user's is lost: recovery, two programs on one file, half-typed values, files of all kinds."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from PySide6.QtCore import QEvent, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit, QPushButton
from pytestqt.qtbot import QtBot

from ragwort.app.shell.window import Window
from ragwort.demo import sampler_study
from ragwort.study.document.files import read_study, study_text, write_study
from ragwort.study.document.model import Study
from ragwort.study.document.recovery import Recovered, Recovery

from .conftest import MakeWindow, type_into


def offer(window: Window, words: str) -> None:
    """Click what the notice offers."""
    [b for b in window.notice.findChildren(QPushButton) if b.text() == words][-1].click()  # others are going


def left_behind(folder: Path, study: Study, path: Path | None = None) -> Recovered:
    """What a window that is gone left, as the next one finds it."""
    gone = Recovery(folder)
    gone.keep(study, path)
    gone.release()
    return next(found for found in Recovery(folder).left_behind())


@pytest.mark.own_window
def test_work_recovered_is_kept_until_it_is_saved(
    window: Window, tmp_path: Path, answers: dict[str, object], qtbot: QtBot
) -> None:
    """A copy exists two seconds after an edit; opening what was left writes a new copy before the old one goes."""
    type_into(window, "sd", "31")
    qtbot.waitUntil(lambda: len(list((tmp_path / "recovery").glob("*.ragwort"))) == 1, timeout=5000)
    recovered = left_behind(tmp_path / "left", window.session.study)
    window.session.save(tmp_path / "saved.ragwort")
    assert list((tmp_path / "recovery").glob("*.ragwort")) == []
    window.studies.offer_recovered(recovered)
    assert "stopped unexpectedly" in window.notice.text.text()
    offer(window, "Open it")
    assert not recovered.copy.exists()
    (copy,) = (tmp_path / "recovery").glob("*.ragwort")
    assert json.loads(copy.read_text())["study"]["aims"][0]["entries"]["sd"]["value"] == 31
    assert window.session.unsaved
    answers["save"] = tmp_path / "again.ragwort"
    window.studies.save()
    assert not copy.exists()


def test_recovered_work_does_not_push_out_unsaved_work(
    window: Window, tmp_path: Path, answers: dict[str, object]
) -> None:
    """A question first; staying leaves both, and the offer stands."""
    recovered = left_behind(tmp_path / "left", sampler_study().changed(title="Lost"))
    type_into(window, "sd", "31")
    window.studies.offer_recovered(recovered)
    offer(window, "Open it")
    assert "SD 31 ms" in window.bench.sentence.text()
    assert recovered.copy.exists()
    answers["unsaved"] = "discard"
    offer(window, "Open it")
    assert window.session.study.title == "Lost"


def test_two_windows_that_crashed_are_both_offered(window: Window, tmp_path: Path) -> None:
    """One after the other; what is said meanwhile pushes no offer out."""
    for title in ("First", "Second"):
        window.studies.offer_recovered(left_behind(tmp_path / title, sampler_study().changed(title=title)))
    assert "“First”" in window.notice.text.text()
    window.notice.say("Something else.")
    offer(window, "Close")
    offer(window, "Open it")
    assert window.session.study.title == "First"
    assert "“Second”" in window.notice.text.text()
    offer(window, "Discard it")
    assert window.notice.isHidden()
    assert list((tmp_path / "Second").glob("*.ragwort")) == []


@pytest.mark.own_window
@pytest.mark.parametrize("moment", ["before", "after"])
def test_a_window_killed_while_saving_knows_its_own_file(
    window: Window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, moment: str
) -> None:
    """Killed before the file is there: unsaved work on the old one. After: all is saved, and nothing is offered."""
    from ragwort.app.session import session

    path = tmp_path / "night.ragwort"
    window.session.save(path)
    type_into(window, "sd", "31")

    def killed(study: Study, place: Path) -> str:
        if moment == "after":
            write_study(study, place)
        (copy,) = (tmp_path / "recovery").glob("*.ragwort")
        (tmp_path / "left").mkdir()
        (tmp_path / "left" / copy.name).write_bytes(copy.read_bytes())
        return write_study(study, place)

    monkeypatch.setattr(session, "write_study", killed)
    before = path.read_bytes()
    window.session.save(path)
    path.write_bytes(before if moment == "before" else path.read_bytes())
    found = Recovery(tmp_path / "left").left_behind()
    assert len(found) == (moment == "before")
    for each in found:
        window.session.restore(each)
        assert not window.session.differs_on_disk
        assert "SD 31 ms" in window.bench.sentence.text()


def test_a_copy_that_cannot_be_written_costs_nothing(
    window: Window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A full disk at the moment of opening: the old copy stays."""
    from ragwort.files import FileError

    recovered = left_behind(tmp_path / "left", sampler_study().changed(title="Lost"))

    def full(*_: object) -> None:
        raise FileError("the disk is full")

    monkeypatch.setattr(Recovery, "keep", full)
    window.session.restore(recovered)
    assert window.session.study.title == "Lost"
    assert recovered.copy.exists()
    assert "the disk is full" in window.notice.text.text()


@pytest.mark.parametrize("choice", ["stay", "beside", "replace"])
def test_a_file_changed_by_another_program_is_not_overwritten_in_silence(
    open_window: MakeWindow, tmp_path: Path, answers: dict[str, object], choice: str
) -> None:
    """What differs is said; both can be kept; replacing is a choice."""
    path = tmp_path / "night.ragwort"
    write_study(sampler_study(), path)
    one, two = (open_window(read_study(path), path) for _ in range(2))
    type_into(one, "sd", "28")
    one.studies.save()
    type_into(two, "sd", "30")
    QApplication.sendEvent(two, QEvent(QEvent.Type.ActivationChange))
    answers.update(other=choice, save=tmp_path / "mine.ragwort")
    assert two.studies.save() is (choice != "stay")
    assert "standard deviation 28" in answers["told"].replace("\u00a0", " ")
    assert read_study(path).aims[0].values()["sd"] == (30 if choice == "replace" else 28)
    assert (tmp_path / "mine.ragwort").exists() is (choice == "beside")
    if choice == "beside":
        assert read_study(tmp_path / "mine.ragwort").aims[0].values()["sd"] == 30
    type_into(one, "sd", "29")
    assert one.session.differs_on_disk is (choice == "replace")


def test_a_change_on_disk_is_told_when_the_window_comes_back(
    open_window: MakeWindow, tmp_path: Path, qtbot: QtBot
) -> None:
    """Once, with what differs, and a way to see it."""
    path = tmp_path / "night.ragwort"
    write_study(sampler_study(), path)
    window = open_window(read_study(path), path)
    write_study(sampler_study().changed(title="Brighter nights"), path)
    window.studies.look_at_disk()
    assert "the title is “Brighter nights”" in window.notice.text.text()
    offer(window, "Open what the file holds")
    assert window.session.study.title == "Brighter nights"
    window.studies.look_at_disk()
    assert window.notice.isHidden()


def test_half_typed_values_are_in_the_study_at_every_moment(window: Window) -> None:
    """Ledger, sentence, range, limit, names, title: whatever happens next, the keystrokes so far are kept."""
    row = window.bench.ledger.row("sd")
    for field, text in ((row.editor, "x2"), (row.range_line, "20 to"), (window.aims.study_needs.limit, "o24")):
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, text)
    window.aims.start_renaming("reaction")
    QTest.keyClicks(window.aims.cards[0].findChild(QLineEdit, "nameEdit"), "Rea")
    study = window.session.study
    entry = study.aims[0].entry("sd")
    assert (entry.draft, entry.draft_of("range"), study.draft_of("limit"), study.aims[0].name) == (
        "x2",
        "20 to",
        "o24",
        "Rea",
    )
    assert study.limit == 240


def test_a_draft_comes_back_after_a_crash(window: Window, open_window: MakeWindow, tmp_path: Path) -> None:
    """Shown where it was typed, with its fault; the last good value is still there."""
    row = window.bench.ledger.row("sd")
    for field, text in ((row.editor, "x2"), (row.range_line, "20 to")):
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, text)
    again = open_window(left_behind(tmp_path / "left", window.session.study).study)
    row = again.bench.ledger.row("sd")
    assert (row.editor.text(), row.range_line.text()) == ("x2", "20 to")
    assert "is not a number" in row.fault_line.text()
    QTest.keyPress(row.editor, Qt.Key.Key_Escape)
    assert row.editor.text() == "24"
    assert "two numbers" in row.fault_line.text()


def test_each_keystroke_in_the_sentence_counts_and_all_are_undone_at_once(window: Window) -> None:
    """As in the ledger: answer, ledger, picture; Escape brings back what stood there."""
    token = window.bench.sentence.findChild(QLineEdit, "tokenEditor")
    assert token is None
    value = next(t for t in window.bench.sentence.tokens if t.piece.name == "difference")
    value.setFocus()
    QTest.keyClicks(value, "1")
    editor = window.bench.sentence.findChild(QLineEdit, "tokenEditor")
    QTest.keyClicks(editor, "6")
    assert window.bench.ledger.row("difference").editor.text() == "16"
    assert "so that 74 (" in window.bench.sentence.text()
    QTest.keyPress(editor, Qt.Key.Key_Return)
    window.by_id["edit.undo"].trigger()
    assert "difference of 12 ms" in window.bench.sentence.text()
    value.setFocus()
    QTest.keyClicks(value, "9")
    QTest.keyPress(value.editor, Qt.Key.Key_Escape)
    assert "difference of 12 ms" in window.bench.sentence.text()
    assert window.session.history.undo_label == ""


def test_an_aim_that_nothing_can_be_made_of_is_told_and_the_rest_works(open_window: MakeWindow, qtbot: QtBot) -> None:
    """Its card, its sentence; it can be renamed and deleted; reports and other aims do not mind."""
    from ragwort.report import report_bytes
    from ragwort.study.document.files import study_from_text

    content = json.loads(study_text(sampler_study()))
    content["aims"][0]["design"] = "seven-means"
    content["aims"][1]["find"] = "happiness"
    content["aims"][2]["entries"]["alpha"] = {"value": "tiny"}
    content["aims"][2]["scenarios"] = [{"find": "luck", "entries": {}}]
    window = open_window(study_from_text(json.dumps(content), "odd"))
    for aim, says in zip(window.session.study.aims, ("no design", "asks to find", "must be a number"), strict=False):
        window.session.select(aim.id)
        for page in ("Choose", "Report", "Bench"):
            window.show_page(page)
        assert says in window.bench.sentence.text()
    window.session.select(window.session.study.aims[0].id)
    assert not window.by_id["study.keep"].isEnabled()
    report_bytes(window.session.study, "html")
    window.by_id["study.delete-aim"].trigger()
    assert len(window.session.study.aims) == len(sampler_study().aims) - 1


def test_pasting_what_a_note_was_of_once_it_is_left_changes_nothing(window: Window) -> None:
    """A menu of the field outlives the assumption in hand."""
    window.bench.detail.show_assumption("sd")
    before = window.session.study
    window.bench.detail.name = ""
    window.bench.detail.source.textEdited.emit("pasted")
    assert window.session.study == before
