"""The Bench as a user works it: type, click, drag, keep, undo; and read back what is on screen."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit, QMenu, QPushButton

from ragwort.app.choose.chooser import Chooser
from ragwort.app.kit.theme import Theme
from ragwort.app.session.live_text import SYMBOLS, LiveText
from ragwort.app.session.token import Token
from ragwort.app.shell.window import Window
from ragwort.designs import Answer, Design, all_designs, design_named
from ragwort.figures.shown.curve import Curve
from ragwort.figures.shown.error_rates import Errors
from ragwort.study import edits
from ragwort.study.document.model import Study
from ragwort.study.words.sentence import Piece

from .conftest import MakeWindow, retype, settle, type_into, wait_until, without_pictures


def sentence(window: Window) -> str:
    """What the sentence says."""
    return window.bench.sentence.text()


def token(window: Window, name: str) -> Token:
    """A value in the sentence."""
    return window.bench.sentence.findChild(Token, f"token-{name}")


def fault(window: Window, name: str) -> str:
    """The message in a row; empty where none is shown."""
    shown = window.bench.ledger.row(name).fault_line
    return shown.text() if shown.isVisible() else ""


def link(window: Window, text: str) -> QPushButton:
    """A link of the Bench by its words."""
    return next(b for b in window.bench.findChildren(QPushButton) if b.text() == text and b.isVisible())


def test_typing_a_value_moves_everything(window: Window) -> None:
    """Sentence, ledger, picture, aims panel and shelf show the new answer, without Enter."""
    type_into(window, "difference", "10", enter=False)
    settle(window)
    assert "so that 184 (92 per group) are analysed, to detect a difference of 10 ms" in sentence(window)
    assert window.bench.ledger.row("n").editor.text() == "184"
    assert window.bench.picture.canvas.picture.point[0] == 92
    assert "Power is 80.3% with 92 per group" in window.bench.picture.says.whole()
    assert window.aims.cards[0].number == "184"
    assert window.bench.shelf.cards[0].answer == "184"


@pytest.mark.parametrize(
    ("name", "text", "says"),
    [
        ("sd", "", "Standard deviation is empty"),
        ("sd", "abc", "is not a number"),
        ("sd", "-5", "above 0"),
        ("sd", "1e400", "too large"),
        ("alpha", "0", "above 0 and below 1"),
        ("alpha", "1", "above 0 and below 1"),
        ("power", "3", "Power must be above alpha"),
        ("ratio", "0", "above 0"),
        ("difference", "0", "no effect"),
        ("difference", "0.0001", "largest power reachable"),
    ],
)
def test_bad_input_is_said_in_its_row(window: Window, name: str, text: str, says: str) -> None:
    """A message in the row, a dash for the answer, the picture marked out of date; correcting it mends all."""
    good = window.bench.ledger.row(name).editor.text()
    type_into(window, name, text)
    assert says in fault(window, name)
    assert "Recruit — staff" in sentence(window)
    assert window.bench.ledger.row("n").editor.text() == "—"
    assert window.bench.picture.canvas.stale
    assert window.bench.ledger.row(name).editor.text() == text
    type_into(window, name, good)
    settle(window)
    assert fault(window, name) == ""
    assert "so that 128 (" in sentence(window)
    assert not window.bench.picture.canvas.stale


@pytest.mark.parametrize("text", ["24,0", "24.0", "24 ms"])
def test_both_decimal_signs_and_the_unit_are_understood(window: Window, text: str) -> None:
    """Each is the same SD."""
    type_into(window, "sd", text)
    assert fault(window, "sd") == ""
    assert "so that 128 (" in sentence(window)


def test_a_test_against_the_effect_has_no_size(window: Window) -> None:
    """One-sided downwards with a positive difference: said in the effect's row."""
    menu = window.bench.ledger.row("sides").editor.menu()
    next(action for action in menu.actions() if "downwards" in action.text()).trigger()
    assert "against the one-sided test" in fault(window, "difference")


def test_escape_brings_the_last_good_value_back(window: Window) -> None:
    """Typed nonsense is left with one key."""
    editor = window.bench.ledger.row("sd").editor
    retype(editor, "abc", enter=False)
    QTest.keyPress(editor, Qt.Key.Key_Escape)
    assert editor.text() == "24"
    assert "so that 128 (" in sentence(window)


def test_extreme_sizes_and_long_names_freeze_nothing(window: Window) -> None:
    """Ten million participants; one participant; a name of 210 letters; an emoji for a unit."""
    link_power = window.bench.ledger.row("power")
    QTest.mouseClick(link_power.flower, Qt.MouseButton.LeftButton)
    type_into(window, "n", "10000000")
    assert "With 10\u2009000\u2009000 staff" in sentence(window)
    type_into(window, "n", "1")
    assert "4 or more" in fault(window, "n")
    type_into(window, "n", "128")
    window.aims.start_renaming("reaction")
    retype(window.aims.cards[0].findChild(QLineEdit, "nameEdit"), "x" * 210)
    assert len(window.session.aim.name) == 200
    window.bench.detail.show_words()
    retype(window.bench.detail.words["unit"], "🌙")
    assert "12 🌙" in sentence(window)


def test_the_flower_moves_by_click_in_the_ledger(window: Window) -> None:
    """The power is found, the size becomes given and can be typed."""
    row = window.bench.ledger.row("power")
    QTest.mouseClick(row.flower, Qt.MouseButton.LeftButton)
    assert window.session.aim.find == "power"
    assert row.editor.isReadOnly()
    assert row.editor.text() == "80.1"
    type_into(window, "n", "200")
    assert row.editor.text() == "94.0"
    assert token(window, "power").piece.found


def test_the_sentence_is_typed_over_nudged_and_scrubbed(window: Window) -> None:
    """Typing, arrow keys and dragging sideways change a value; a drag is undone as one."""
    value = token(window, "sd")
    QTest.keyClick(value, "3")
    editor = window.bench.sentence.findChild(QLineEdit, "tokenEditor")
    QTest.keyClicks(editor, "0")
    QTest.keyPress(editor, Qt.Key.Key_Return)
    assert "SD 30 ms" in sentence(window)
    QTest.keyClick(value, Qt.Key.Key_Up)
    QTest.keyClick(value, Qt.Key.Key_Up)
    assert "SD 32 ms" in sentence(window)
    middle = value.rect().center()
    QTest.mousePress(value, Qt.MouseButton.LeftButton, pos=middle)
    for pixels in (-6, -12, -24, -36):
        QTest.mouseMove(value, middle + QPoint(pixels, 0))
    QTest.mouseRelease(value, Qt.MouseButton.LeftButton, pos=middle)
    assert "SD 26 ms" in sentence(window)
    assert not window.session.scrubbing
    window.session.undo()
    assert "SD 32 ms" in sentence(window)


def test_a_value_is_left_unchanged_by_escape_in_the_sentence(window: Window) -> None:
    """Escape closes the editor."""
    value = token(window, "sd")
    QTest.keyClick(value, "9")
    QTest.keyPress(window.bench.sentence.findChild(QLineEdit, "tokenEditor"), Qt.Key.Key_Escape)
    assert "SD 24 ms" in sentence(window)


def test_choices_and_flower_of_the_sentence_have_menus(window: Window) -> None:
    """The test is chosen from a list; the found value offers what else could be found."""
    QTest.mouseClick(token(window, "variance"), Qt.MouseButton.LeftButton)
    menu = window.bench.sentence.findChild(QMenu, "tokenMenu")
    next(action for action in menu.actions() if "Welch" in action.text()).trigger()
    menu.close()
    QApplication.sendPostedEvents(None, 0)
    assert "two-sided Welch t test" in sentence(window)
    QTest.mouseClick(token(window, "n"), Qt.MouseButton.LeftButton)
    menus = window.bench.sentence.findChildren(QMenu, "tokenMenu")
    next(action for action in menus[-1].actions() if action.text() == "Difference").trigger()
    menus[-1].close()
    assert token(window, "difference").piece.found


def test_groups_are_renamed_in_the_sentence(window: Window) -> None:
    """A click on a name, and the ledger follows."""
    QTest.mouseClick(token(window, "groups.0"), Qt.MouseButton.LeftButton)
    retype(window.bench.sentence.findChild(QLineEdit, "tokenEditor"), "daylight lamps")
    assert "between daylight lamps and usual lighting" in sentence(window)
    link(window, "as an SD for each group").click()
    assert window.bench.ledger.row("sd1").label.whole() == "SD, daylight lamps"


def test_stating_it_another_way_keeps_the_answer(window: Window) -> None:
    """Two means for a difference; back again."""
    link(window, "as two means").click()
    assert "a mean of 0 ms with brighter against 12 ms with usual lighting" in sentence(window)
    assert "so that 128 (" in sentence(window)
    link(window, "as one difference").click()
    assert "a difference of 12 ms" in sentence(window)


def test_the_point_is_dragged(window: Window) -> None:
    """To 90 per group: the target follows, exactly that size is found, and one undo takes it back."""
    canvas = window.bench.picture.canvas
    start = canvas.point_at().toPoint()
    per_pixel = canvas.data_at(QPointF(start.x() + 1, 0))[0] - canvas.data_at(QPointF(start.x(), 0))[0]
    QTest.mousePress(canvas, Qt.MouseButton.LeftButton, pos=start)
    for target in (70, 80, 90):
        QTest.mouseMove(canvas, start + QPoint(round((target - 64) / per_pixel), 0))
    QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=start)
    settle(window)
    assert window.session.outcome(window.session.aim).groups[0] == pytest.approx(90, abs=1)
    window.session.undo()
    settle(window)
    assert "so that 128 (" in sentence(window)
    QTest.keyClick(canvas, Qt.Key.Key_Right)
    settle(window)
    assert "65 per group" in sentence(window)


def test_pictures_change_by_tab_and_read_under_the_pointer(window: Window) -> None:
    """Curve and Errors; hovering a curve reads its values."""
    canvas = window.bench.picture.canvas
    point = canvas.point_at()
    QTest.mouseMove(canvas, QPoint(round(point.x()) - 60, round(point.y()) + 40))
    reading = canvas.reading_at(point)
    assert "64 per group, 80.1" in reading.words
    next(b for b in window.bench.picture.tabs.buttons() if b.text() == "Errors").click()
    settle(window)
    assert isinstance(canvas.picture, Errors)
    assert "Values beyond ±1.98" in window.bench.picture.says.whole()
    window.bench.picture.show_tab("Curve")
    settle(window)
    assert isinstance(canvas.picture, Curve)
    window.bench.picture.copy()
    assert not QApplication.clipboard().pixmap().isNull()


def test_scenarios_are_kept_renamed_returned_to_and_deleted(window: Window) -> None:
    """On the shelf, and as further curves."""
    shelf = window.bench.shelf
    type_into(window, "sd", "30")
    link(window, "+ Keep this").click()
    retype(shelf.cards[-1].findChild(QLineEdit, "nameEdit"), "Wide")
    settle(window)
    assert [card.title for card in shelf.cards] == ["Now", "Cautious SD", "Difference 10 ms", "Power 90%", "Wide"]
    assert "Wide" in [series.label for series in window.bench.picture.canvas.picture.series]
    shelf.cards[1].click()
    assert "SD 28 ms" in sentence(window)
    QTest.keyClick(shelf.cards[-1], Qt.Key.Key_Delete)
    assert shelf.cards[-1].title == "Power 90%"
    window.session.undo()
    assert shelf.cards[-1].title == "Wide"


def test_range_source_and_note_are_kept(window: Window) -> None:
    """Typed in row and strip, shown there, refused with a message where they cannot be read."""
    row = window.bench.ledger.row("sd")
    row.editor.setFocus()
    detail = window.bench.detail
    assert detail.title.whole() == "Standard deviation  σ"
    assert "vary around their group's mean" in detail.help.text()
    retype(detail.source, "register of 2025")
    retype(row.range_line, "18 - 30")
    entry = window.session.aim.entry("sd")
    assert (entry.low, entry.high, entry.source) == (18, 30, "register of 2025")
    assert row.remark_line.whole() == "from register of 2025"
    retype(row.range_line, "30 to 18")
    assert "from the lower to the higher" in fault(window, "sd")
    assert window.session.aim.entry("sd").low == 18


def test_an_empty_study_invites_an_aim(open_window: MakeWindow) -> None:
    """Nothing to compute, nothing broken; adding an aim fills the Bench."""
    window = open_window(Study())
    assert "no aim yet" in sentence(window)
    assert not window.bench.ledger.isVisible()
    window.aims.add()
    settle(window)
    assert "Recruit 128 participants" in sentence(window)
    assert window.bench.ledger.isVisible()
    window.session.undo()
    assert "no aim yet" in sentence(window)


def test_an_empty_study_says_where_to_start(open_window: MakeWindow) -> None:
    """By choosing a design, or with the demo; gone once there is an aim."""
    window = open_window(Study())
    ways = {each.text(): each for each in window.bench.invitation.findChildren(QPushButton)}
    assert all(each.isVisible() for each in ways.values())
    QTest.mouseClick(ways["Choose a design"], Qt.MouseButton.LeftButton)
    assert window.pages.currentWidget() is window.pages.of(Chooser)
    window.show_page("Bench")
    QTest.mouseClick(ways["Open the demo study"], Qt.MouseButton.LeftButton)
    assert len(window.aims.cards) == 4
    assert not window.bench.invitation.isVisible()
    assert window.bench.picture.isVisible()


def test_aims_are_moved_by_key_and_by_drop(window: Window) -> None:
    """Alt and an arrow, or dragging below the other."""
    QTest.keyClick(window.aims.cards[0], Qt.Key.Key_Down, Qt.KeyboardModifier.AltModifier)
    assert [card.aim.id for card in window.aims.cards][:2] == ["alertness", "reaction"]
    window.aims.drop("reaction", 0.0)
    assert [card.aim.id for card in window.aims.cards][:2] == ["reaction", "alertness"]
    QTest.mouseClick(window.aims.cards[1], Qt.MouseButton.LeftButton)
    assert "so that 204 (" in sentence(window)
    QTest.keyClick(window.aims.cards[1], Qt.Key.Key_Delete)
    assert "alertness" not in [card.aim.id for card in window.aims.cards]


def test_the_limit_is_compared_with_the_enrolment(window: Window) -> None:
    """To spare, exceeded, taken away; nonsense is refused with a message."""
    assert window.aims.study_needs.total.whole() == "5 recruitments"
    assert window.aims.study_needs.set_by.whole().startswith("228 staff, 2 groups: 8 aims\n100 pairs of shifts")
    assert "wards to 2 arms: Errors logged by ward and Near misses" in window.aims.study_needs.set_by.toolTip()
    assert window.aims.study_needs.spare.whole() == "12 to spare"
    retype(window.aims.study_needs.limit, "200")
    assert window.aims.study_needs.spare.whole() == "28 too many"
    retype(window.aims.study_needs.limit, "many")
    assert "is not a number" in window.notice.text.text()
    retype(window.aims.study_needs.limit, "")
    assert window.session.study.limit is None


@pytest.mark.parametrize("design", all_designs(), ids=lambda design: design.id)
def test_every_design_opens_in_the_window(window: Window, design: Design) -> None:
    """A new aim of each: its rows, its sentence, its pictures, every unknown and every other way to state it."""
    window.session.open(Study(), None)
    window.aims.add(design)
    for picture in ("Steps", "Errors", "Curve"):
        window.bench.picture.show_tab(picture)
        settle(window)
        assert window.bench.picture.says.whole().endswith(".")
    for find in design.finds_with(design.starting):
        window.session.do(edits.move_flower(window.session.study, window.session.aim_id, find))
        settle(window)
        assert "—" not in sentence(window).replace("f² —", ""), (find, sentence(window))
    window.session.do(edits.move_flower(window.session.study, window.session.aim_id, "n"))
    idle = design.idle_for(window.session.study.aims[0].values(), "n")  # no link offers what has no say
    without_pictures(window)
    for way in [way for ways in design.ways for way in reversed(ways)]:
        if not idle & set(way.names) and all(design.assumption(name).in_ledger for name in way.names):
            window.session.do(edits.choose_way(window.session.study, window.session.aim_id, way))
            settle(window)
            assert isinstance(window.session.outcome(window.session.aim), Answer), way.label


def test_lists_and_tables_are_typed(window: Window) -> None:
    """Numbers apart by commas or spaces; a table row by row; what does not add up is said by how much."""
    window.aims.add(design_named("chi-square-table"))
    type_into(window, "table", "0.3 0.2; 0.2 0.2")
    assert "add up to 0.9, 0.1 under" in fault(window, "table")
    type_into(window, "table", "0.3 0.2; 0.2 0.1 0.2")
    assert "equally long" in fault(window, "table")
    type_into(window, "table", "25% 25%; 10% 40%")
    assert fault(window, "table") == ""
    window.aims.add(design_named("anova-factorial"))
    type_into(window, "levels", "2 x 3")
    type_into(window, "term", "1")
    assert "the effect of factor 1 in a 2 × 3 design" in sentence(window)
    type_into(window, "term", "3")
    assert "the factors are 1 to 2" in fault(window, "term")


def test_an_optional_list_can_be_left_out_again(window: Window) -> None:
    """Weights typed and cleared: no fault, equal groups again."""
    window.aims.add(design_named("anova-one-way"))
    equal = sentence(window)
    type_into(window, "weights", "1 1.5 2")
    assert sentence(window) != equal
    type_into(window, "weights", "")
    assert sentence(window) == equal


def test_what_is_approximate_says_so_on_screen(window: Window) -> None:
    """Welch's test and the conditional power of a regression: in the quiet line below the sentence."""
    window.session.select("alertness")
    assert "the degrees of freedom are approximate" in sentence(window)
    window.session.select("chronotype")
    assert "conditional on the predictors' values" in sentence(window)


def test_an_example_is_kept_by_enter_or_a_click(open_window: MakeWindow) -> None:
    """Marked in sentence, ledger and aims panel until somebody decides; Enter in sentence or ledger decides."""
    window = open_window(Study())
    window.aims.add()
    settle(window)
    row = window.bench.ledger.row("difference")
    assert row.example_link.isVisible()
    assert "Difference and standard deviation are examples" in sentence(window)
    assert "example values are not confirmed" in window.aims.study_needs.set_by.text()
    row.editor.setFocus()
    QTest.keyClick(row.editor, Qt.Key.Key_Return)
    assert not row.example_link.isVisible()
    assert "Standard deviation is an example" in sentence(window)
    QTest.mouseClick(token(window, "sd"), Qt.MouseButton.LeftButton)
    QTest.keyClick(window.bench.sentence.findChild(QLineEdit, "tokenEditor"), Qt.Key.Key_Return)
    assert "example" not in sentence(window)
    assert "example" not in window.aims.study_needs.set_by.text()
    window.session.undo()
    link(window, "example · keep it").click()
    assert "example" not in sentence(window)


def test_a_finished_study_is_spoken_of_in_the_past(window: Window) -> None:
    """By a command; with what its power does not tell, and what to ask instead."""
    window.by_id["study.find-power"].trigger()
    window.by_id["study.finished"].trigger()
    settle(window)
    assert "had 80.1% power to detect" in sentence(window)
    assert "says nothing new about its own power: ask instead what effect these 128 staff" in sentence(window)
    QTest.mouseClick(window.bench.sentence.instead, Qt.MouseButton.LeftButton)
    settle(window)
    assert not window.bench.sentence.instead.isVisible()
    assert sentence(window).startswith("128 staff (64 per group) could have shown a difference of 12.1 ms or more")
    assert "In full 12.0" in token(window, "difference").toolTip()
    window.by_id["study.finished"].trigger()
    assert "can show a difference" in sentence(window)


def test_no_line_of_the_sentence_ends_in_a_symbol_whose_value_goes_after_it(window: Window) -> None:
    """Of every aim of the demo study, at any width of the window."""
    view = window.bench.sentence
    for aim in window.session.study.aims:
        window.session.select(aim.id)
        for width in range(560, 1300, 37):
            view.resize(width, view.height())
            for line in view.lines_of(view.letter_size)[:-1]:
                assert line[-1].text.lstrip("(") not in SYMBOLS, (aim.name, width)


def test_what_follows_from_a_margin_stands_in_the_ledger(window: Window) -> None:
    """The level of one one-sided test, as the sentence says; it is nudged from there."""
    aim = edits.new_aim(design_named("two-means"), "Not worse", claim="not-worse")
    window.session.do(edits.add_aim(window.session.study, aim), then_show=aim.id)
    settle(window)
    editor = window.bench.ledger.row("alpha").editor
    assert editor.text() == "0.025"
    assert "at alpha 0.025" in window.bench.sentence.text()
    QTest.keyClick(editor, Qt.Key.Key_Up)
    assert editor.text() == "0.03"
    assert window.session.aim.values()["alpha"] == 0.03


def test_the_chance_of_the_larger_is_seen_beside_its_help(open_window: MakeWindow) -> None:
    """In the aim's own names; as the value moves; gone with another assumption, and without explanations."""
    window = open_window(Study(aims=(edits.new_aim(design_named("rank-sum"), "Sleepiness"),)))
    detail, row = window.bench.detail, window.bench.ledger.row("difference")
    row.editor.setFocus()
    settle(window)
    assert detail.illustrated.isVisible()
    assert "63.8% of all pairs" in detail.help.text()
    before = detail.illustrated.grab().toImage()
    retype(row.editor, "20")
    settle(window)
    assert "92.1% of all pairs" in detail.illustrated.accessibleName()
    assert detail.illustrated.grab().toImage() != before
    window.bench.ledger.row("alpha").editor.setFocus()
    assert not detail.illustrated.isVisible()
    detail.show_assumption("difference")
    detail.set_explaining(False)
    assert not detail.illustrated.isVisible()


def test_the_margins_of_ratios_that_nobody_typed_stand_in_the_ledger(open_window: MakeWindow) -> None:
    """0.8 and 1.25, as the sentence has them; typed over they are the study's own."""
    aim = edits.new_aim(design_named("crossover-means"), "Alike")
    study = Study(aims=(aim,))
    for name, value in (("scale", "log"), ("hypothesis", "equivalence"), ("mean_ratio", 0.95), ("cv", 0.25)):
        study = edits.set_value(study, aim.id, name, value).study
    window = open_window(study)
    ledger = window.bench.ledger
    assert [ledger.row(name).editor.text() for name in ("margin_low", "margin_high")] == ["0.8", "1.25"]
    assert "lies between 80.00 and 125.00%" in window.bench.sentence.text()
    assert "example" not in window.bench.sentence.text()  # what they were of has no say any more
    retype(ledger.row("margin_high").editor, "1.3")
    settle(window)
    values = window.session.aim.values()
    assert (values["margin_low"], values["margin_high"]) == (0.8, 1.3)
    assert ledger.row("margin_low").editor.text() == "0.8"
    window.session.undo()
    assert ledger.row("margin_high").editor.text() == "1.25"
    assert "margin_low" not in window.session.aim.values()


@pytest.mark.parametrize("design", ["survival", "chi-square-fit", "cluster-proportions"])
def test_the_whole_picture_is_seen_in_a_small_window(open_window: MakeWindow, design: str) -> None:
    """Under a sentence of three lines with a field in hand, too, whose notes take some of the room."""
    aim = edits.new_aim(design_named(design), "Aim 1")
    window = open_window(Study(aims=(aim,)))
    window.resize(1014, 600)
    for row in window.bench.ledger.rows[:4]:
        row.editor.setFocus()
        QApplication.processEvents()
        canvas = window.bench.picture.canvas
        assert canvas.visibleRegion().boundingRect() == canvas.rect()


class _Nested(LiveText):
    """A sentence that shows another one while its tokens are made ready, as an edit that ends then does."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme)
        self.then: list[Piece] = []

    def wire(self, token: Token) -> None:
        """Nothing to connect."""

    def dress(self, token: Token, piece: Piece) -> None:
        """The newer sentence comes in the middle of this."""
        then, self.then = self.then, []
        if then:
            self.show_pieces(then)
        token.show_piece(piece, piece.name)


@pytest.mark.parametrize(("first", "newer"), [(2, 4), (4, 2), (3, 3), (2, 1)])
def test_a_sentence_shown_while_another_is_being_shown_is_the_one_that_stays(
    window: Window, first: int, newer: int
) -> None:
    """With as many tokens as it has, and their words."""
    text = _Nested(window.theme)
    text.resize(600, 200)
    made = lambda word, count: [Piece("value", f"{word}{at}", f"{word}{at}") for at in range(count)]  # noqa: E731
    text.then = made("newer", newer)
    text.show_pieces(made("old", first))
    assert [token.piece.text for token in text.tokens] == [f"newer{at}" for at in range(newer)]
    assert [piece.text for piece in text.pieces] == [f"newer{at}" for at in range(newer)]
    text.deleteLater()


@pytest.mark.parametrize(("design", "known"), [("chi-square-fit", "null_proportions"), ("chi-square-table", "table")])
def test_what_stays_known_while_the_effect_is_found_has_its_row(window: Window, design: str, known: str) -> None:
    """The known shares, or the table, which say how many categories there are; no empty row for degrees of freedom."""
    window.aims.add(design_named(design))
    window.session.do(edits.move_flower(window.session.study, window.session.aim_id, "effect"))
    settle(window)
    rows = {row.assumption.name: row for row in window.bench.ledger.rows}
    assert {"w", known} <= rows.keys()
    assert "df" not in rows
    assert rows[known].editor.text()


def test_a_picture_fills_the_page_and_goes_back(window: Window) -> None:
    """By its key, and by pressing its tab twice; nothing else is in view meanwhile, and all of it comes back."""
    bench = window.bench
    before = bench.picture.canvas.size()
    tab = next(each for each in bench.picture.findChildren(QPushButton, "pictureTab") if each.text() == "Map")
    QTest.mouseDClick(tab, Qt.MouseButton.LeftButton)
    settle(window)
    assert bench.is_filled
    assert not any(view.isVisible() for view in (bench.ledger, bench.sentence, bench.shelf, bench.detail))
    assert bench.picture.canvas.width() > 1.4 * before.width()
    QTest.keyClick(window, Qt.Key.Key_F9)
    settle(window)
    assert not bench.is_filled
    assert all(view.isVisible() for view in (bench.ledger, bench.sentence, bench.shelf, bench.detail))
    QTest.keyClick(window, Qt.Key.Key_F9)
    bench.show_panel("ways")
    settle(window)
    assert bench.ledger.isVisible()


def test_what_an_aim_calls_things_is_one_line_until_it_is_wanted(window: Window) -> None:
    """It says the words; opening it shows the fields, and the picture has the room otherwise."""
    detail = window.bench.detail
    assert not detail.words["unit"].isVisible()
    folded = detail.height()
    assert "reaction time at 4 am (ms) · staff" in detail.title.text()
    detail.open_row("Words")
    settle(window)
    assert detail.words["unit"].isVisible()
    assert detail.height() > folded
    detail.open_row("Words")
    settle(window)
    wait_until(lambda: detail.height() == folded)
