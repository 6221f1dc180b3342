"""The panel of what guidelines ask for, in the window."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton

from ragwort.app.kit.widgets import Standing
from ragwort.app.shell.window import Window
from ragwort.app.sources.coverage_panel import CoveragePanel
from ragwort.app.sources.protocol_panel import ProtocolPanel
from ragwort.study import edits

from .conftest import settle, type_into, wait_until


def missing(window: Window) -> list[QPushButton]:
    """What can be clicked to be mended."""
    found = window.bench.right.of(CoveragePanel).findChildren(QPushButton, "smallLink")
    return [
        each
        for each in found
        if each.text() == "Go to the field" and each.isVisibleTo(window.bench.right.of(CoveragePanel))
    ]


def test_a_click_on_what_is_missing_goes_to_its_field(window: Window) -> None:
    """Dropout of 0 is missing; mended in the ledger it is not any more; a name is asked for in the aim's words."""
    window.session.do(edits.state(window.session.study, "interim", "none planned"))
    type_into(window, "dropout", "0")
    window.bench.show_panel("coverage")
    settle(window)
    (link,) = missing(window)
    assert "Nothing allows for those who withdraw" in link.accessibleName()
    QTest.mouseClick(link, Qt.MouseButton.LeftButton)
    assert QApplication.focusWidget() is window.bench.ledger.row("dropout").editor
    type_into(window, "dropout", "10%")
    settle(window)
    assert not missing(window)
    window.session.do(edits.set_words(window.session.study, window.session.aim_id, outcome=""))
    settle(window)
    (link,) = missing(window)
    QTest.mouseClick(link, Qt.MouseButton.LeftButton)
    assert QApplication.focusWidget() is window.bench.detail.words["outcome"]


def test_what_the_protocol_does_not_say_is_stated_beside(window: Window) -> None:
    """The click opens the panel of the protocol at its field; once stated there, nothing is missing."""
    window.bench.show_panel("coverage")
    settle(window)
    link, *others = missing(window)  # SPIRIT, CONSORT and ICH E9 ask for the same
    assert all("Nothing is stated on interim analyses" in each.accessibleName() for each in (link, *others))
    QTest.mouseClick(link, Qt.MouseButton.LeftButton)
    field = window.bench.right.of(ProtocolPanel).fields["interim"]
    assert QApplication.focusWidget() is field
    QTest.keyClicks(field, "none planned")
    QTest.keyClick(field, Qt.Key.Key_Return)
    window.bench.show_panel("coverage")
    settle(window)
    assert not missing(window)


def test_every_line_is_seen_whole_however_wide_the_window_is(window: Window) -> None:
    """What is asked and what stands there, also after the window was wider and narrower."""
    window.bench.show_panel("coverage")
    for width, height in ((1280, 800), (1024, 640), (1500, 600)):
        window.resize(width, height)
        settle(window)
        texts = [each for each in window.bench.right.of(CoveragePanel).findChildren(Standing) if each.isVisible()]
        assert len(texts) > 10
        wait_until(lambda shown=texts: all(each.height() >= each.heightForWidth(each.width()) for each in shown))
        assert all(each.width() > 200 for each in texts)
