"""The page Grid in the real window: asked in its sentence, sorted, filtered, kept, taken, exported, reopened."""

from __future__ import annotations

import csv
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit, QMenu

from ragwort.app.grid import page as grid_page
from ragwort.app.grid.page import GridPage
from ragwort.app.session.token import Token
from ragwort.app.shell.window import Window
from ragwort.demo import sampler_study
from ragwort.designs import answer_request
from ragwort.study.document.files import read_study, write_study
from ragwort.study.document.model import Study
from ragwort.study.document.pages import Grid, Varied
from tests.app.conftest import MakeWindow, retype, settle, wait_until

LEFT = Qt.MouseButton.LeftButton


def with_grid(*varied: tuple[str, str]) -> Study:
    """The demo study with a grid of its first aim."""
    study = sampler_study()
    grid = Grid(varied=tuple(Varied(name=name, text=text) for name, text in varied))
    return study.with_aim(study.aim("reaction").changed(grid=grid))


TWO = (("sd", "20, 24, 28"), ("difference", "8 to 16 by 2"))


def opened(window: Window) -> GridPage:
    """The page, at rest."""
    window.show_page("Grid")
    rest(window)
    return window.pages.of(GridPage)


def rest(window: Window) -> None:
    settle(window)
    wait_until(lambda: not window.pages.of(GridPage).busy)


def token(page: GridPage, name: str) -> Token:
    return next(each for each in page.sentence.tokens if each.piece.name == name)


def pick(window: Window, page: GridPage, name: str, words: str) -> None:
    """Choose for a word of the sentence from its list."""
    QTest.mouseClick(token(page, name), LEFT)
    menu = QApplication.activePopupWidget()
    assert isinstance(menu, QMenu)
    menu.setActiveAction(next(action for action in menu.actions() if action.text() == words))
    QTest.keyClick(menu, Qt.Key.Key_Return)
    rest(window)


def cells(page: GridPage, row: int) -> list[str]:
    """What is read in a row of the table."""
    model = page.table.model()
    return [str(model.index(row, at).data()).replace("\u00a0", " ") for at in range(model.columnCount())]


def test_a_grid_is_asked_in_its_sentence(open_window: MakeWindow) -> None:
    """From nothing: what differs, its values, one more; half typed it says what is missing; undone word by word."""
    window = open_window(with_grid())
    page = opened(window)
    assert page.sentence.text() == "Find the sample size for choose what differs."
    pick(window, page, "name_0", "difference")
    assert "for difference 8 to 16 ms in 5 steps; all else as in Reaction time." in page.sentence.text()
    assert "5 combinations, all answered. 1 of them exceeds the 240 available." in page.sentence.text()
    assert cells(page, 2) == ["12 ms", "0.5", "128", "64", "144", "80.1%", "+96", "8.4"]
    QTest.mouseClick(page.sentence.more, LEFT)
    rest(window)
    assert len(window.session.aim.grid.varied) == 2
    values = token(page, "values_0")
    QTest.mouseClick(values, LEFT)
    editor = page.sentence.findChild(QLineEdit, "tokenEditor")
    retype(editor, "8 to 10 by", enter=False)
    rest(window)
    assert "Say the step, as in “8 to 10 by 2”" in page.sentence.sentence.remark
    assert page.view.canvas.stale
    QTest.keyClicks(editor, " 2")
    rest(window)
    assert page.table.model().rowCount() == 2 * 5
    QTest.keyClick(editor, Qt.Key.Key_Return)
    rest(window)
    assert not page.view.canvas.stale
    window.session.undo()
    rest(window)
    assert window.session.aim.grid.varied[0].text == "8 to 16 in 5 steps"
    pick(window, page, "name_1", "leave it out")
    assert len(window.session.aim.grid.varied) == 1


def test_rows_are_the_cores_sorted_and_filtered(open_window: MakeWindow) -> None:
    """A click on a heading, a condition, a hidden column; a condition that cannot be read says what could."""
    window = open_window(with_grid(*TWO))
    page = opened(window)
    assert page.table.model().rowCount() == 15
    for row in range(15):
        sd, difference = (float(cell.removesuffix(" ms")) for cell in cells(page, row)[:2])
        given = {"difference": difference, "sd": sd}
        answer = answer_request({"design": "two-means", "find": "n", "assumptions": given})
        assert cells(page, row)[3] == str(answer["answer"])
    heading = page.table.horizontalHeader()
    at = heading.sectionViewportPosition(3) + heading.sectionSize(3) // 2
    QTest.mouseClick(
        heading.viewport(), LEFT, pos=heading.viewport().rect().center().__class__(at, heading.height() // 2)
    )
    assert [cells(page, row)[3] for row in (0, 14)] == ["52", "388"]
    retype(page.condition, "enrol <= 240 and SD > 20")
    rest(window)
    assert page.table.model().rowCount() == 7
    assert "7 of 15 rows." in page.note.whole()
    retype(page.condition, "joy > 3")
    rest(window)
    assert page.condition_fault.text().startswith("There is no column “joy”: there is SD, difference, d, staff")
    page.columns_link.menu().aboutToShow.emit()
    next(action for action in page.columns_link.menu().actions() if action.text() == "per group").trigger()
    rest(window)
    assert page.table.isColumnHidden(4)
    assert window.session.aim.grid.hidden == ("each",)


def test_a_row_is_kept_or_taken_to_the_bench(open_window: MakeWindow) -> None:
    """As a scenario, or put in force; the marked row is then another."""
    window = open_window(with_grid(*TWO))
    page = opened(window)
    page.table.selectRow(0)
    QTest.mouseClick(page.keep, LEFT)
    rest(window)
    kept = window.session.aim.scenarios[-1]
    assert (kept.name, kept.values()["sd"], kept.values()["difference"]) == ("SD 20 ms, difference 8 ms", 20.0, 8.0)
    assert page.table.current_row() == 0
    QTest.mouseClick(page.take, LEFT)
    rest(window)
    assert window.pages.name == "Bench"
    assert window.session.aim.values()["sd"] == 20.0
    opened(window)
    assert page.table.rows.place_of_own() == 0
    window.session.undo()
    rest(window)
    assert page.table.rows.place_of_own() == 7


@pytest.mark.parametrize("kind", ["csv", "xlsx", "ods", "md"])
def test_rows_are_exported(open_window: MakeWindow, answers: dict[str, object], tmp_path: Path, kind: str) -> None:
    """In every format, off the interface thread."""
    window = open_window(with_grid(*TWO))
    page = opened(window)
    answers["save"] = tmp_path / f"g.{kind}"
    page.rows_wanted.emit(kind)
    wait_until(lambda: not window.exports.jobs.busy)
    assert (tmp_path / f"g.{kind}").stat().st_size > 300
    if kind == "csv":
        head, first, *_ = csv.reader((tmp_path / "g.csv").read_text().splitlines())
        assert (head[:3], first[:3]) == (["sd", "difference", "d"], ["20", "8", "0.4"])


def test_the_chart_shows_what_its_sentence_says(
    open_window: MakeWindow, answers: dict[str, object], tmp_path: Path
) -> None:
    """A line for each of the shorter list; another column; exported with the numbers of the table."""
    window = open_window(with_grid(*TWO))
    page = opened(window)
    assert page.view.sentence.accessibleName() == "Staff against difference, a line for each SD."
    assert page.view.chart.point == (12.0, 128.0)
    word = next(each for each in page.view.sentence.tokens if each.piece.name == "y")
    word.chosen.emit("enrol")
    rest(window)
    assert page.view.chart.point == (12.0, 144.0)
    answers["save"] = tmp_path / "c.csv"
    page.chart_wanted.emit("csv")
    wait_until(lambda: not window.exports.jobs.busy)
    rows = list(csv.reader((tmp_path / "c.csv").read_text().splitlines()))
    assert ["24 ms", "12.0", "144.0", "144"] in [[cell.replace("\u00a0", " ") for cell in row] for row in rows]


def test_many_rows_wait_to_be_asked_stop_and_go_on(open_window: MakeWindow, monkeypatch: pytest.MonkeyPatch) -> None:
    """What is worked out stays; an edit of the aim marks it as old; the page can be left meanwhile."""
    monkeypatch.setattr(grid_page, "AT_ONCE", 100)
    window = open_window(with_grid(("difference", "8 to 16 in 90 steps"), ("sd", "20 to 28 in 60 steps")))
    page = opened(window)
    assert page.results is None
    assert "5400 combinations." in page.sentence.text()
    assert page.stop.text() == "Work them out"
    QTest.mouseClick(page.stop, LEFT)
    wait_until(lambda: page.results is not None)
    QTest.mouseClick(page.stop, LEFT)
    done = page.results.done
    if done < 5400:
        assert page.stop.text() == "Go on"
        QTest.mouseClick(page.stop, LEFT)
    wait_until(lambda: page.results.complete and not page.busy)
    assert "5400 combinations, all answered." in page.sentence.text()
    assert page.stop.isHidden()
    window.session.do(grid_page.take_values(window.session.study, "reaction", {"alpha": 0.01}, "n"))
    rest(window)
    assert "Out of date" in page.note.whole()
    assert page.stop.text() == "Work them out"
    QTest.mouseClick(page.stop, LEFT)
    window.show_page("Bench")
    assert not page.busy


def test_a_grid_is_there_again(open_window: MakeWindow, tmp_path: Path) -> None:
    """Saved as its sentence; each aim has its own."""
    write_study(with_grid(*TWO), tmp_path / "s.ragwort")
    window = open_window(read_study(tmp_path / "s.ragwort"))
    page = opened(window)
    assert page.table.model().rowCount() == 15
    window.session.select("sleepy")
    rest(window)
    assert page.sentence.text() == "Find the sample size for choose what differs."
    window.session.select("reaction")
    rest(window)
    assert page.table.model().rowCount() == 15


def test_rows_of_a_table_file_take_the_place_of_combinations(
    open_window: MakeWindow, answers: dict[str, object], tmp_path: Path
) -> None:
    """Matched by heading, corrected, with bad rows that say why; a file that cannot be read says so; given up again."""
    window = open_window(with_grid(*TWO))
    page = opened(window)
    sheet = tmp_path / "sheet.csv"
    sheet.write_text("Difference (ms),SD,other,site\n8,20,28,a\n12,24,20,b\nx,20,20,c\n", encoding="utf-8")
    answers["open"] = sheet
    QTest.mouseClick(page.sentence.from_file, LEFT)
    rest(window)
    assert page.sentence.text().startswith(
        "Find the sample size for the 3 rows of sheet.csv, with difference from Difference (ms) and standard deviation"
    )
    assert "3 rows; 1 without an answer. " in page.sentence.text()
    assert "site are not used" in page.sentence.text()
    assert cells(page, 0)[:3] == ["8 ms", "20 ms", "0.4"]
    assert cells(page, 2)[-1].startswith("Difference: “x” is not a number")
    pick(window, page, "column_sd", "other")
    assert cells(page, 0)[1] == "28 ms"
    answers["open"] = tmp_path / "gone.csv"
    page.file.ask()
    rest(window)
    assert "There is no file" in page.file_fault.text()
    assert cells(page, 0)[1] == "28 ms"
    QTest.mouseClick(page.sentence.from_file, LEFT)
    rest(window)
    assert page.table.model().rowCount() == 15


def test_rows_are_laid_out_as_a_cross_table(open_window: MakeWindow) -> None:
    """One link there and back, kept with the study; a cell is kept as a row is."""
    window = open_window(with_grid(*TWO))
    page = opened(window)
    QTest.mouseClick(page.laid_out, LEFT)
    rest(window)
    assert page.table.isHidden()
    assert [page.cross.horizontalHeaderItem(at).text().replace("\u00a0", " ") for at in (0, 4)] == ["8 ms", "16 ms"]
    assert page.cross.item(1, 2).text() == "128"
    assert page.note.whole().startswith("Staff: standard deviation runs down, difference across.")
    page.cross.setCurrentCell(2, 0)
    QTest.mouseClick(page.keep, LEFT)
    rest(window)
    assert window.session.aim.scenarios[-1].name == "SD 28 ms, difference 8 ms"
    assert page.cross.current_row() == 10
    QTest.mouseClick(page.laid_out, LEFT)
    rest(window)
    assert page.cross.isHidden()
    assert not page.table.isHidden()


def test_what_was_chosen_for_another_aim_is_no_choice(window: Window) -> None:
    """A menu that stayed open while another aim was picked names what that one may not have."""
    page = opened(window)
    differs = next(each for each in page.sentence.tokens if each.piece.name.startswith("name"))
    window.session.select("age")
    rest(window)
    before = window.session.study
    differs.chosen.emit("sd")
    assert window.session.study == before
