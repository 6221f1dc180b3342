"""The page for choosing a design, worked by clicks: study ideas in plain words lead to their design."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QScrollArea

from ragwort.app.choose.chooser import Chooser, Entry
from ragwort.app.shell.window import Window

from .conftest import MakeWindow, retype, settle, wait_until, without_pictures

# A study idea, the answers its designer would click, words typed into the search (or none), and its design.
IDEAS = [
    ("Do nurses with plants at their desk report less stress (score) than nurses without?",
     {"measured": "number", "compared": "two", "same": "once", "whole": "no"}, "", "two-means"),
    ("Is the mean sleep of our porters below the eight hours that the guideline names?",
     {"measured": "number", "compared": "known", "same": "once"}, "", "one-mean"),
    ("Does each cook's knife hold its edge longer after the new whetstone than after the old one?",
     {"measured": "number", "compared": "two", "same": "twice"}, "pairs", "paired-means"),
    ("Do more than 70% of bus drivers pass the new eye test?",
     {"measured": "yes-no", "compared": "known"}, "binomial", "one-proportion"),
    ("Do fewer hikers get blisters with liner socks than without?",
     {"measured": "yes-no", "compared": "two", "whole": "no"}, "risk", "two-proportions"),
    ("Do three kinds of compost give tomatoes of different weight?",
     {"measured": "number", "compared": "several", "same": "once"}, "", "anova-one-way"),
    ("Do music and lighting together change how long shoppers stay?",
     {"measured": "number", "compared": "factors"}, "", "anova-factorial"),
    ("Does grip strength rise over six weekly climbing lessons?",
     {"measured": "number", "same": "often"}, "", "anova-repeated"),
    ("Does a breathing course change resting pulse more than a leaflet, measured before and after?",
     {"measured": "number", "compared": "two", "same": "twice", "whole": "no"}, "mixed", "anova-repeated"),
    ("Do choirs that rehearse longer also sing more in tune?",
     {"measured": "number", "compared": "relation"}, "pearson", "correlation"),
    ("Do age, height and training together explain rowing times?",
     {"measured": "number", "compared": "relation"}, "predictors together", "regression-overall"),
    ("Does adding three diet questions to age and sex explain more of blood pressure?",
     {"measured": "number", "compared": "relation"}, "incremental", "regression-added"),
    ("Does the effect of practice on typing speed depend on age?",
     {"measured": "number", "compared": "relation"}, "product term", "regression-coefficient"),
    ("Do visitors spread over the four museum doors as the architect expected?",
     {"measured": "category", "compared": "known"}, "", "chi-square-fit"),
    ("Is the choice of main dish related to the day of the week?",
     {"measured": "category", "compared": "relation"}, "", "chi-square-table"),
    ("Do swimming clubs given a new warm-up have faster swimmers than clubs without?",
     {"measured": "number", "whole": "yes"}, "", "cluster-means"),
    ("Are fewer pupils late in schools that start half an hour later?",
     {"measured": "yes-no", "whole": "yes"}, "", "cluster-proportions"),
    ("Do orchards with hives count more bees per tree than orchards without, orchard by orchard?",
     {"measured": "count", "whole": "yes"}, "", "cluster-means"),
    ("Do car, tram and bicycle commuters differ in which newspaper they read?",
     {"measured": "category", "compared": "several"}, "", "chi-square-table"),
    ("Do two brands of bread rise to different heights?",
     {"measured": "number", "compared": "two", "same": "once", "whole": "no"}, "studnet", "two-means"),
]  # fmt: skip


def entries(window: Window) -> list[Entry]:
    """The designs listed, in order."""
    return [entry for entry in window.pages.of(Chooser).entries if entry.isVisible()]


def click(window: Window, question: str, value: str) -> None:
    """Click an answer."""
    QTest.mouseClick(window.pages.of(Chooser).options[question, value], Qt.MouseButton.LeftButton)


@pytest.fixture
def choosing(open_window: MakeWindow) -> Window:
    """A window with the page open for a new aim."""
    window = open_window()
    window.resize(1280, 800)
    window.aims.choose_asked.emit()
    return window


def test_twenty_ideas_are_led_to_their_design(choosing: Window) -> None:
    """By clicks, and a word where several designs answer the same; the first that fits is added as an aim."""
    assert len(IDEAS) == 20
    without_pictures(choosing)
    for idea, answers, words, design in IDEAS:
        choosing.choose()
        for question, value in answers.items():
            click(choosing, question, value)
        if words:
            retype(choosing.pages.of(Chooser).search, words, enter=False)
        settle(choosing)
        first = entries(choosing)[0]
        assert first.reason.text().startswith("Fits: "), idea
        assert first.id == design, (idea, first.id)
        QTest.mouseClick(first.use, Qt.MouseButton.LeftButton)
        assert choosing.session.aim.design == design
        assert choosing.pages.currentWidget() is choosing.bench
        settle(choosing)


def test_an_answer_is_taken_back_by_a_second_click(choosing: Window) -> None:
    """The list narrows and widens at once; one answer a question."""
    everything = len(entries(choosing))
    assert choosing.pages.of(Chooser).count.text() == f"{everything} designs fit."
    click(choosing, "whole", "yes")
    assert choosing.pages.of(Chooser).count.text() == "2 designs fit."
    assert "Ruled out" in entries(choosing)[2].reason.text()
    click(choosing, "whole", "no")
    assert not choosing.pages.of(Chooser).options["whole", "yes"].isChecked()
    click(choosing, "whole", "no")
    assert choosing.pages.of(Chooser).answers == {}
    assert choosing.pages.of(Chooser).count.text() == f"{everything} designs fit."


def test_guards_and_empty_searches_say_what_to_do(choosing: Window) -> None:
    """Said only where pointed to; a name that nothing has is answered with what to try."""
    assert not choosing.pages.of(Chooser).guard.isVisible()
    click(choosing, "compared", "known")
    click(choosing, "same", "once")
    assert "estimate with an error of its own" in choosing.pages.of(Chooser).guard.text()
    retype(choosing.pages.of(Chooser).search, "zebra", enter=False)
    assert entries(choosing) == []
    assert "try another word" in choosing.pages.of(Chooser).count.text()
    choosing.pages.of(Chooser).start_over()
    assert not choosing.pages.of(Chooser).guard.isVisible()


def compared(window: Window) -> str:
    """What is said of two designs, once it is there."""
    wait_until(lambda: not window.pages.of(Chooser).jobs.busy)
    return str(window.pages.of(Chooser).compared.text())


def test_two_designs_side_by_side(choosing: Window) -> None:
    """The n of each on the aim's assumptions, what it buys, and what was taken beside them."""
    chooser = choosing.pages.of(Chooser)
    for name in ("two-means", "paired-means"):
        entry = next(entry for entry in entries(choosing) if entry.id == name)
        QTest.mouseClick(entry.beside, Qt.MouseButton.LeftButton)
    words = compared(choosing)
    assert "Two independent means: t test\n128 participants\nOther tests: Welch t test 128, z test 126." in words
    assert (
        "Paired means: paired t test\n34 pairs\nwith SD of the first 24, SD of the second 24, correlation within "
        "pairs 0.5" in words
    )
    assert "Two independent means asks for 128 participants; paired means asks for 34 pairs." in words
    chooser.pair_up("correlation")
    assert chooser.pair == ["paired-means", "correlation"]
    chooser.pair_up("correlation")
    assert "choose a second design" in chooser.compared.text()


def test_a_slow_exact_test_stands_beside_the_others_when_it_is_there(choosing: Window) -> None:
    """Worked out off the interface thread; what each test of a design needs; a second choice gives up the first."""
    choosing.session.select("sleepy")
    settle(choosing)
    for name in ("two-proportions", "one-proportion"):
        choosing.pages.of(Chooser).pair_up(name)
    assert choosing.pages.of(Chooser).compared.text() == "Working out both …"
    words = compared(choosing)
    assert "Two independent proportions\n186 participants\n" in words
    assert "Fisher's exact test 204." in words
    assert "Other tests: score test 47, test on the arcsine scale 47." in words


def test_an_aim_is_doubted_and_changed(choosing: Window) -> None:
    """Its own design is marked; what both share is carried over with its source; undo brings all back."""
    choosing.choose("reaction")
    assert "Is this the right design for “Reaction time”?" in choosing.pages.of(Chooser).heading.text()
    own = next(entry for entry in entries(choosing) if entry.id == "two-means")
    assert own.use.text() == "in use"
    assert not own.use.isEnabled()
    before = choosing.session.aim
    cluster = next(entry for entry in entries(choosing) if entry.id == "cluster-means")
    QTest.mouseClick(cluster.use, Qt.MouseButton.LeftButton)
    aim = choosing.session.study.aim("reaction")
    assert aim.design == "cluster-means"
    assert (aim.values()["difference"], aim.values()["sd"]) == (12, 24)
    assert aim.entry("sd").source == "pilot of 60 nights"
    assert "between brighter and usual lighting" in choosing.bench.sentence.text()
    choosing.session.undo()
    assert choosing.session.study.aim("reaction") == before


def test_a_changed_design_always_has_an_answer(choosing: Window) -> None:
    """From every demo aim to every design: rows, sentence and answer are there."""
    from ragwort.designs import Answer, all_designs
    from ragwort.study import edits
    from ragwort.study.results.outcome import outcome_of

    study = choosing.session.study
    for aim in study.aims:
        for design in all_designs():
            changed = edits.change_design(study, aim.id, design).study.aim(aim.id)
            assert isinstance(outcome_of(changed), Answer), (aim.id, design.id, outcome_of(changed))


def test_words_keep_their_width_whether_or_not_they_can_be_scrolled(window: Window) -> None:
    """Otherwise a question breaks into one line more because of the bar that is there because of that line."""
    window.choose()
    for area in window.pages.of(Chooser).findChildren(QScrollArea):
        assert area.verticalScrollBarPolicy() == Qt.ScrollBarPolicy.ScrollBarAlwaysOn
        assert area.verticalScrollBar().isVisible()
