"""The panel that finds an effect from what is known, in the window."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLabel, QLineEdit, QPushButton

from ragwort.app.kit.cells import Cells
from ragwort.app.shell.window import Window
from ragwort.app.sources.evidence_panel import SAME_DATA, EvidencePanel
from ragwort.app.sources.pilot_page import PilotPage
from ragwort.demo import sampler_study
from ragwort.demo.pilot import pilot_csv
from ragwort.designs import all_designs, design_named
from ragwort.study import edits
from ragwort.study.document.files import read_study, write_study

from .conftest import MakeWindow, retype, settle, wait_until, without_pictures


def opened(window: Window) -> EvidencePanel:
    """The panel, opened by its link in the ledger."""
    links = window.bench.ledger.findChildren(QPushButton)
    QTest.mouseClick(
        next(each for each in links if each.text() == "from evidence" and each.isVisible()), Qt.MouseButton.LeftButton
    )
    return window.bench.right.of(EvidencePanel)


def fill(panel: EvidencePanel, route: str, **texts: str) -> None:
    """Choose a route and type its inputs."""
    QTest.mouseClick(panel.buttons[route], Qt.MouseButton.LeftButton)
    for name, text in texts.items():
        editor = panel.editors[name]
        assert isinstance(editor, QLineEdit)
        retype(editor, text, enter=False)


def wait_for(panel: EvidencePanel) -> None:
    """Until the pilot file is read and summarised."""
    wait_until(lambda: not panel.busy)


DATA = {"mean1": "412", "mean2": "396", "sd1": "24", "sd2": "26", "n1": "30", "n2": "30"}


def test_clusters_of_a_stratum_are_typed_in_place_of_its_share(window: Window) -> None:
    """Begun with those of the answer; shares, breakdown and source follow; undone at once; typed wrongly it says so."""
    window.session.select("errors")
    settle(window)
    before = window.session.aim
    ledger = window.bench.ledger
    link = next(each for each in ledger.findChildren(QPushButton) if each.text() == "type the clusters")
    ledger.ensureWidgetVisible(link)
    QTest.mouseClick(link, Qt.MouseButton.LeftButton)
    panel = window.bench.right.of(EvidencePanel)
    cells = panel.editors["kinds"]
    assert isinstance(cells, Cells)
    assert [[cells.text_at(row, column) for column in range(3)] for row in range(3)] == [
        ["2", "8", "2"],
        ["2", "18", "4"],
        ["1", "34", "9"],
    ]
    cells.table.setCurrentCell(0, 0)
    cells.paste("none")
    assert "not a number" in panel.fault.text()
    cells.paste("4\t8\t2\n1\t18\t4\n0\t34\t9")
    assert "Row 3 must have at least one cluster" in panel.fault.text()
    cells.paste("4\t8\t2\n1\t18\t4\n1\t34\t9")
    QTest.mouseClick(panel.use, Qt.MouseButton.LeftButton)
    settle(window)
    strata = window.session.aim.values()["strata"]
    assert [each["share"] for each in strata] == pytest.approx([32 / 84, 18 / 84, 34 / 84], abs=1e-6)
    answer = window.session.outcome(window.session.aim)
    small, medium, large = answer.details["strata"][0]
    assert small == 4 * medium == 4 * large
    assert "clusters of each kind" in window.session.aim.entry("strata").source
    window.session.undo()
    assert window.session.aim == before


def test_data_of_an_earlier_study_become_the_effect(window: Window) -> None:
    """Live result with interval; taken over with its source; opened again as it was; undone at once."""
    before = window.session.aim
    panel = opened(window)
    assert window.bench.right.currentWidget() is panel
    fill(panel, "means", **DATA)
    assert "difference \u221216 ms, standard deviation 25.02 ms (d = \u22120.64)" in panel.result.text().replace(
        "\u00a0", " "
    )
    assert "95% interval of d: \u22121.16 to \u22120.12" in panel.interval.text()
    assert SAME_DATA in panel.interval.text()
    QTest.mouseClick(panel.use, Qt.MouseButton.LeftButton)
    assert window.bench.right.currentWidget() is not panel
    assert "a mean 16 ms lower with usual lighting than with brighter" in window.bench.sentence.text()
    entry = window.session.aim.entry("difference")
    assert entry.source.startswith("means and SDs of two groups (Mean of group 1 412")
    assert (entry.low, entry.high) == (8, 16)  # what was thought plausible stays
    assert opened(window).editors["mean1"].text() == "412"
    assert panel.route.name == "means"
    window.session.undo()
    assert window.session.aim == before


def test_planning_on_the_lower_limit(window: Window) -> None:
    """The limit nearer to none takes the effect's place, and the source says so; without one it is not offered."""
    panel = opened(window)
    fill(panel, "means", **DATA)
    QTest.mouseClick(panel.on_lower, Qt.MouseButton.LeftButton)
    assert window.session.aim.values()["difference"] == -2.944
    assert window.session.aim.entry("difference").source.endswith("lower limit")
    fill(opened(window), "means", **{**DATA, "mean2": "411"})
    assert not panel.on_lower.isVisible()
    assert "no lower limit" in panel.interval.text()


def test_the_open_panel_follows_the_study_s_words(window: Window) -> None:
    """A unit that is changed, and taken back, while the panel is open."""
    panel = opened(window)
    fill(panel, "means", **DATA)
    for unit in ("s", "ms"):
        window.session.do(edits.set_words(window.session.study, "reaction", unit=unit))
        assert panel.units["mean1"].text() == unit
        assert f"16 {unit}" in plain(panel.result.text())


def test_what_is_wrong_is_said_and_nothing_typed_is_lost(window: Window) -> None:
    """Missing, unreadable, impossible; from route to route and back."""
    panel = opened(window)
    fill(panel, "t", t="2.5", n1="1")
    assert "People, brighter must be" in panel.fault.text()
    assert not panel.use.isEnabled()
    retype(panel.editors["n1"], "20", enter=False)
    assert "People, usual lighting is missing" in panel.fault.text()
    fill(panel, "worthwhile", difference="abc")
    assert "is not a number" in panel.fault.text()
    fill(panel, "t")
    assert panel.editors["t"].text() == "2.5"
    fill(panel, "t", n2="22", sd="24")
    assert panel.fault.text() == ""
    assert panel.use.isEnabled()


def test_a_table_of_counts_becomes_proportions(window: Window) -> None:
    """Typed in cells."""
    window.session.select("drinks")
    panel = opened(window)
    panel.editors["counts"].paste("10\t20\t20\n20\t20\t10")
    QTest.mouseClick(panel.use, Qt.MouseButton.LeftButton)
    assert window.session.aim.values()["table"] == [[0.1, 0.2, 0.2], [0.2, 0.2, 0.1]]
    assert window.session.aim.entry("table").source.startswith("a table of counts")


def test_evidence_is_saved_and_goes_into_the_report(window: Window, tmp_path: Path) -> None:
    """The study file keeps route and inputs; the report prints the source."""
    from ragwort.report import report_of
    from ragwort.report.writers.preview import write_preview

    panel = opened(window)
    fill(panel, "means", **DATA)
    QTest.mouseClick(panel.use, Qt.MouseButton.LeftButton)
    path = tmp_path / "evidence.ragwort"
    write_study(window.session.study, path)
    again = read_study(path)
    assert again.aims[0].entry("difference").evidence.inputs == DATA
    assert "means and SDs of two groups" in write_preview(report_of(again), 600)


def cut(panel: EvidencePanel) -> list[str]:
    """Inputs that reach beyond what is seen."""
    room, body = panel.entries.viewport().width(), panel.entries.widget()
    return [name for name, each in panel.editors.items() if each.mapTo(body, each.rect().topRight()).x() > room]


def test_every_design_with_evidence_opens_its_panel(open_window: MakeWindow) -> None:
    """Each route shows its inputs whole; a pilot file is offered where one can be read; a found effect has none."""
    window = without_pictures(open_window())
    for design in all_designs():
        window.aims.add(design)
        settle(window)
        names = [each.text() for each in window.bench.ledger.findChildren(QPushButton) if each.isVisible()]
        assert ("from evidence" in names) == bool(design.evidence)
        if design.evidence:
            panel = opened(window)
            assert ("pilot" in panel.buttons) == any(route.readings for route in design.evidence)
            for route in design.evidence:
                panel.choose(route)
                assert len(panel.editors) == len(route.inputs)
                settle(window)
                wait_until(lambda shown=panel: cut(shown) == [])
            window.session.do(edits.move_flower(window.session.study, window.session.aim_id, "effect"))
            settle(window)
            names = [each.text() for each in window.bench.ledger.findChildren(QPushButton) if each.isVisible()]
            assert "from evidence" not in names
    window.session.select("reaction")
    assert window.bench.right.currentIndex() == 0


def open_pilot(panel: EvidencePanel, path: Path, answers: dict[str, object], text: str | None = None) -> PilotPage:
    """Choose the pilot file by clicks."""
    path.write_text(pilot_csv() if text is None else text)
    answers["open"] = path
    QTest.mouseClick(panel.buttons["pilot"], Qt.MouseButton.LeftButton)
    QTest.mouseClick(panel.pilot.file.open_link, Qt.MouseButton.LeftButton)
    wait_for(panel)
    return panel.pilot


def pick(panel: EvidencePanel, role: str, text: str) -> None:
    """Choose another column or value for a role, as by a click."""
    box = panel.pilot.roles.boxes[role]
    box.setCurrentIndex(box.findText(text))
    box.activated.emit(box.currentIndex())
    wait_for(panel)


def plain(text: str) -> str:
    """Text with ordinary spaces and signs."""
    return text.replace("\u00a0", " ").replace("\u2212", "-")


def test_a_pilot_file_gives_the_effect(window: Window, answers: dict[str, object], tmp_path: Path) -> None:
    """Read off the thread, columns told and guessed and changeable; the demo's file gives the demo's effect."""
    panel = opened(window)
    page = open_pilot(panel, tmp_path / "pilot.csv", answers)
    heads = [page.preview.horizontalHeaderItem(at).text() for at in range(page.preview.columnCount())]
    assert "reaction time\nnumbers" in heads
    assert "sleepy at 4 am\nyes or no" in heads
    assert page.roles.choices()["outcome"] == "reaction time"
    assert page.roles.choices()["group"] == "room"
    assert [(part.name, part.n, part.missing) for part in page.groups.parts] == [
        ("brighter", 30, 0),
        ("usual lighting", 30, 0),
    ]
    pick(panel, "outcome", "age")
    assert "difference 12" not in panel.result.text()
    pick(panel, "outcome", "reaction time")
    assert plain(panel.result.text()) == "difference 12 ms, standard deviation 24 ms (d = 0.50)"
    pick(panel, "first", "usual lighting")
    assert plain(panel.result.text()).startswith("difference -12 ms")
    pick(panel, "first", "brighter")
    QTest.mouseClick(panel.use, Qt.MouseButton.LeftButton)
    assert window.session.aim.values()["difference"] == 12
    source = window.session.aim.entry("sd").source
    assert source.startswith("pilot file pilot.csv, reaction time by room, brighter and usual lighting, SHA-256 ")
    assert "so that 128 (" in window.bench.sentence.text()
    assert opened(window).editors["sd1"].text() == "24.0001"  # the numbers stay; the file is not asked for
    names = [each.text() for each in panel.findChildren(QLabel) if each.text().startswith("From pilot.csv")]
    assert len(names) == 1


def test_a_file_that_has_changed_says_so(window: Window, answers: dict[str, object], tmp_path: Path) -> None:
    """The digest that the source keeps tells it; the same file, opened again, says nothing."""
    panel = opened(window)
    page = open_pilot(panel, tmp_path / "pilot.csv", answers)
    QTest.mouseClick(panel.use, Qt.MouseButton.LeftButton)
    page = open_pilot(opened(window), tmp_path / "pilot.csv", answers)
    assert page.file.state.whole().startswith("pilot.csv: 60 rows")
    page = open_pilot(
        opened(window), tmp_path / "pilot.csv", answers, pilot_csv() + "61,linden,usual lighting,400,no,30\n"
    )
    assert page.file.state.whole().startswith("Changed since its numbers were taken. pilot.csv: 61 rows")


def test_the_demo_file_is_there_to_try(window: Window) -> None:
    """A newcomer without data sees what the page does."""
    panel = opened(window)
    QTest.mouseClick(panel.buttons["pilot"], Qt.MouseButton.LeftButton)
    QTest.mouseClick(panel.pilot.try_demo, Qt.MouseButton.LeftButton)
    wait_for(panel)
    wait_for(panel)
    assert "pilot-of-60-nights.csv: 60 rows" in panel.pilot.file.state.whole()
    assert plain(panel.result.text()) == "difference 12 ms, standard deviation 24 ms (d = 0.50)"


def test_another_file_that_cannot_be_read_leaves_the_one_that_is_open(window: Window, tmp_path: Path) -> None:
    """With what was found in it, which can still be used."""
    panel = opened(window)
    QTest.mouseClick(panel.buttons["pilot"], Qt.MouseButton.LeftButton)
    QTest.mouseClick(panel.pilot.try_demo, Qt.MouseButton.LeftButton)
    wait_for(panel)
    wait_for(panel)
    panel.pilot.file.read(tmp_path / "gone.csv")
    wait_for(panel)
    assert "There is no file" in panel.pilot.fault.text()
    assert "pilot-of-60-nights.csv: 60 rows" in panel.pilot.file.state.whole()
    assert plain(panel.result.text()) == "difference 12 ms, standard deviation 24 ms (d = 0.50)"
    assert panel.use.isEnabled()


def test_what_was_said_of_a_file_that_cannot_be_read_is_gone_with_the_study(window: Window, tmp_path: Path) -> None:
    panel = opened(window)
    QTest.mouseClick(panel.buttons["pilot"], Qt.MouseButton.LeftButton)
    panel.pilot.file.read(tmp_path / "gone.csv")
    wait_for(panel)
    assert "There is no file" in panel.pilot.fault.text()
    assert not panel.pilot.fault.isHidden()
    window.bench.show_panel("evidence")
    assert panel.pilot.fault.isHidden()
    assert "no file" not in panel.pilot.file.state.whole()


def test_conditions_keep_only_some_rows(window: Window, answers: dict[str, object], tmp_path: Path) -> None:
    """Added, typed, combined, removed; the source repeats them; one that leaves nothing says so."""
    panel = opened(window)
    page = open_pilot(panel, tmp_path / "pilot.csv", answers)
    for at, (column, relation, value) in enumerate((("age", "≥", "30"), ("ward", "is not", "quarry"))):
        QTest.mouseClick(page.conditions.add_link, Qt.MouseButton.LeftButton)
        _, columns, relations, typed = page.conditions.lines[at]
        columns.setCurrentText(column)
        relations.setCurrentText(relation)
        relations.activated.emit(relations.currentIndex())
        QTest.keyClicks(typed, value)
        wait_for(panel)
    kept = page.last.kept
    assert kept < 60
    assert f"{kept} of 60 rows" in page.file.state.whole()
    assert sum(part.n for part in page.groups.parts) == kept
    QTest.mouseClick(panel.use, Qt.MouseButton.LeftButton)
    assert "where age ≥ 30 and ward is not quarry" in window.session.aim.entry("sd").source
    panel = opened(window)
    QTest.mouseClick(panel.buttons["pilot"], Qt.MouseButton.LeftButton)
    wait_for(panel)
    retype(page.conditions.lines[0][3], "300", enter=False)
    wait_for(panel)
    assert "No row is left with age ≥ 300" in page.fault.text()
    assert not panel.use.isEnabled()
    for line in list(page.conditions.lines):
        remove = next(each for each in line[0].findChildren(QPushButton) if each.text() == "remove")
        QTest.mouseClick(remove, Qt.MouseButton.LeftButton)
        wait_for(panel)
    assert page.last.kept == 60
    assert panel.use.isEnabled()


def test_a_condition_half_typed_may_lose_its_design(window: Window, answers: dict[str, object], tmp_path: Path) -> None:
    """The design that comes into view reads no files: the condition is not looked at, and nothing falls over."""
    panel = opened(window)
    page = open_pilot(panel, tmp_path / "pilot.csv", answers)
    QTest.mouseClick(page.conditions.add_link, Qt.MouseButton.LeftButton)
    QTest.keyClicks(page.conditions.lines[0][3], "3")
    assert page.conditions.pause.isActive()
    window.session.select(next(aim.id for aim in window.session.study.aims if aim.design == "regression-added"))
    opened(window)
    assert not page.ways
    wait_for(panel)


def test_what_a_file_cannot_say_is_asked_for(window: Window, answers: dict[str, object], tmp_path: Path) -> None:
    """A reference proportion; the question of repeated measurements; typed ones stay when columns change."""
    window.session.select("awake")
    settle(window)
    panel = opened(window)
    open_pilot(panel, tmp_path / "pilot.csv", answers)
    assert "Reference proportion is missing" in panel.fault.text()
    retype(panel.editors["null_proportion"], "20", enter=False)
    assert "(h = 0." in plain(panel.result.text())
    pick(panel, "yes", "no")
    assert panel.editors["null_proportion"].text() == "20"
    QTest.mouseClick(panel.use, Qt.MouseButton.LeftButton)
    assert window.session.aim.values()["null_proportion"] == 0.2
    assert window.session.aim.entry("proportion").source.startswith("pilot file pilot.csv, sleepy at 4 am “no”")


def test_clusters_of_a_pilot_file(window: Window, answers: dict[str, object], tmp_path: Path) -> None:
    """ICC and sizes go into the structure, beside the difference that stays; opened again they are there to change."""
    window.session.select("errors")
    settle(window)
    before = window.session.aim.values()["difference"]
    panel = opened(window)
    page = open_pilot(panel, tmp_path / "pilot.csv", answers)
    page.way.setCurrentIndex(1)
    page.way.activated.emit(1)
    wait_for(panel)
    assert page.roles.choices()["cluster"] == "ward"
    pick(panel, "group", "room")
    assert [part.name for part in page.groups.parts] == ["brighter", "usual lighting", "cluster size"]
    QTest.mouseClick(panel.use, Qt.MouseButton.LeftButton)
    values = window.session.aim.values()
    assert values["difference"] == before
    assert values["cluster_size"] == 10
    assert 0 < values["icc"] < 1
    assert "strata" not in values
    assert float(opened(window).editors["icc"].text()) == pytest.approx(values["icc"], rel=1e-3)


@pytest.mark.parametrize("aim", [aim.id for aim in sampler_study().aims])
def test_every_aim_reads_the_pilot_file_or_says_why_not(
    window: Window, answers: dict[str, object], tmp_path: Path, aim: str
) -> None:
    """All designs that take a file: a result, a question that is left, or a fault; nothing falls over."""
    window.session.select(aim)
    settle(window)
    panel = opened(window)
    if "pilot" not in panel.buttons:
        assert not any(route.readings for route in design_named(window.session.aim.design).evidence)
        return
    page = open_pilot(panel, tmp_path / "pilot.csv", answers)
    for at in range(page.way.count()):
        page.way.setCurrentIndex(at)
        page.way.activated.emit(at)
        wait_for(panel)
        assert panel.result.text() or panel.fault.text() or page.fault.text()
        assert panel.use.isEnabled() == bool(panel.result.text())


def test_a_bad_pilot_file_says_why_and_typing_on_is_possible(
    window: Window, answers: dict[str, object], tmp_path: Path
) -> None:
    """Nothing typed is lost; a number typed over is no longer the file's."""
    panel = opened(window)
    fill(panel, "means", **DATA)
    page = open_pilot(panel, tmp_path / "pilot.csv", answers, "room,score\na,1\na,2\na,4\n")
    assert "only one group" in page.fault.text()
    assert panel.result.text() == ""
    (tmp_path / "gone.csv").unlink(missing_ok=True)
    page.file.read(tmp_path / "gone.csv")
    wait_for(panel)
    assert "There is no file" in page.fault.text()
    QTest.mouseClick(panel.box, Qt.MouseButton.LeftButton)
    panel.box.hidePopup()
    panel.box.setCurrentIndex(panel.box.findData("means"))
    panel.box.activated.emit(panel.box.currentIndex())
    assert panel.editors["mean1"].text() == "412"
    panel.choose_pilot()
    open_pilot(panel, tmp_path / "pilot.csv", answers)
    panel.choose_named("means")
    assert panel.editors["sd1"].text() == "24.0001"
    retype(panel.editors["sd1"], "30", enter=False)
    QTest.mouseClick(panel.use, Qt.MouseButton.LeftButton)
    assert not window.session.aim.entry("difference").source.startswith("pilot file")


def test_raw_values_are_pasted(window: Window) -> None:
    """Apart by lines or spaces; a word among them is named; a long list is not repeated in the source."""
    panel = opened(window)
    QTest.mouseClick(panel.buttons["raw"], Qt.MouseButton.LeftButton)
    panel.editors["values1"].setPlainText("398 412 405\n377 431")
    panel.editors["values2"].setPlainText("\n".join(str(410 + 3 * at) for at in range(14)) + "\nx")
    assert "“x” is not a number" in panel.fault.text()
    panel.editors["values2"].setPlainText("\n".join(str(410 + 3 * at) for at in range(14)))
    assert panel.fault.text() == ""
    QTest.mouseClick(panel.use, Qt.MouseButton.LeftButton)
    source = window.session.aim.entry("difference").source
    assert source == "raw values of two groups (Values of group 1 398 412 405 377 431, Values of group 2 (14 numbers))"
