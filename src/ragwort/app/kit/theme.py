"""All sizes, colours and fonts of the window, the style sheet, and the flower."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from math import cos, pi, sin
from string import Template

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QFontDatabase, QFontMetricsF, QPainter, QPainterPath, QPalette
from PySide6.QtWidgets import QApplication

from ragwort.figures.palette import DARK, FONT_FOLDER, LIGHT, Palette

RAYS = 13
DESIGNED_FOR = 13.0  # px: the desktop's text size at which our sizes are used as they are


@dataclass
class Theme:
    """Colours and a scale; sizes are asked for in the pixels of the drawing board and scaled here.

    The colours may change while the window is open: they are asked for when something is painted, and not kept.
    """

    colours: Palette
    scale: float = 1.0

    def px(self, size: float) -> int:
        """A length of the drawing board on this screen."""
        return max(1, round(size * self.scale))

    def font(self, size: float, weight: int = 400, tabular: bool = False) -> QFont:
        """Inter (or the system's font) at a pixel size and weight; `tabular` gives all digits one width."""
        return _font(self.px(size), weight, tabular)

    def width(self, words: str, size: float, weight: int = 400, tabular: bool = False) -> float:
        """How wide words are on one line, in pixels."""
        return _width(words, self.px(size), weight, tabular)

    @property
    def body(self) -> QFont:
        return self.font(14)

    @property
    def quiet(self) -> QFont:
        return self.font(12.5)

    def colour(self, role: str) -> QColor:
        """The colour of a role of the palette."""
        return QColor(getattr(self.colours, role))


@lru_cache(maxsize=256)
def _font(pixels: int, weight: int, tabular: bool) -> QFont:
    font = QFont(_family())
    font.setPixelSize(pixels)
    font.setWeight(QFont.Weight(weight))
    if tabular:
        font.setFeature(QFont.Tag("tnum"), 1)
    return font


@lru_cache(maxsize=4096)
def _width(words: str, pixels: int, weight: int, tabular: bool) -> float:
    return QFontMetricsF(_font(pixels, weight, tabular)).horizontalAdvance(words)


@lru_cache(maxsize=1)
def _family() -> str:
    """Inter, from the files that pictures and reports use; the system's family where they cannot be loaded."""
    loaded = [QFontDatabase.addApplicationFont(str(file)) for file in sorted(FONT_FOLDER.glob("Inter-*.ttf"))]
    families = [name for number in loaded if number >= 0 for name in QFontDatabase.applicationFontFamilies(number)]
    return families[0] if families else QApplication.font().family()


def make_theme(dark: bool) -> Theme:
    """The theme at the desktop's text size."""
    pixels = QApplication.font().pixelSize()
    if pixels <= 0:
        pixels = round(QApplication.font().pointSizeF() * 96 / 72)
    return Theme(DARK if dark else LIGHT, max(1.0, min(pixels / DESIGNED_FOR if pixels > 15 else 1.0, 2.0)))


def desktop_is_dark() -> bool:
    """Whether the desktop asks for dark windows."""
    return QApplication.styleHints().colorScheme() == Qt.ColorScheme.Dark


def the_application() -> QApplication:
    """The one that runs. Raises `AssertionError` where there is none."""
    application = QApplication.instance()
    assert isinstance(application, QApplication)
    return application


def put_on(theme: Theme, dark: bool, application: QApplication) -> None:
    """Put the theme on the whole application, light or dark; what it has on already is not put on again."""
    theme.colours = DARK if dark else LIGHT
    name = f"{theme.colours.name} {theme.scale}"
    if application.property("ragwortTheme") == name:
        return
    application.setProperty("ragwortTheme", name)
    colours = theme.colours
    palette = QPalette()
    roles = {
        QPalette.ColorRole.Window: colours.paper,
        QPalette.ColorRole.Base: colours.raised,
        QPalette.ColorRole.AlternateBase: colours.panel,
        QPalette.ColorRole.Text: colours.ink,
        QPalette.ColorRole.WindowText: colours.ink,
        QPalette.ColorRole.Button: colours.panel,
        QPalette.ColorRole.ButtonText: colours.ink,
        QPalette.ColorRole.Highlight: colours.leaf,
        QPalette.ColorRole.HighlightedText: colours.paper,
        QPalette.ColorRole.PlaceholderText: colours.quiet,
        QPalette.ColorRole.ToolTipBase: colours.raised,
        QPalette.ColorRole.ToolTipText: colours.ink,
        QPalette.ColorRole.Link: colours.leaf,
    }
    for role, colour in roles.items():
        palette.setColor(role, QColor(colour))
    application.setPalette(palette)
    application.setFont(theme.body)
    application.setStyleSheet(_style_sheet(theme))


_SHEET = Template("""
QMainWindow, #root { background: $paper; }
#top { background: $paper; border-bottom: 1px solid $hairline; }
QMenuBar { background: transparent; padding: 0 ${p8}px; }
QMenuBar::item { padding: ${p6}px ${p10}px; background: transparent; border-radius: ${p6}px; }
QMenuBar::item:selected { background: $panel; }
QMenu { background: $raised; border: 1px solid $hairline; padding: ${p6}px 0; }
QMenu::item { padding: ${p6}px ${p24}px; }
QMenu::item:selected { background: $found_wash; color: $ink; }
QMenu::item:disabled { color: $quiet; }
QMenu::separator { height: 1px; background: $hairline; margin: ${p6}px 0; }
#finderButton { background: $raised; border: 1px solid $hairline; border-radius: ${p6}px; color: $quiet;
  font-size: ${f13}px; padding: ${p4}px ${p10}px; text-align: left; }
#finderButton:hover, #finderButton:focus { border-color: $leaf; }
#aims { background: $panel; border-right: 1px solid $hairline; }
#bottom { background: $panel; border-top: 1px solid $hairline; }
#heading { color: $quiet; font-size: ${f11}px; font-weight: 600; letter-spacing: 1px; }
#quiet { color: $quiet; font-size: ${f12}px; }
#fault { color: $brick; font-size: ${f12}px; }
#quiet[over="true"] { color: $brick; }
#needs[tight="true"] { font-size: ${f20}px; }
#needs { color: $found_text; font-size: ${f26}px; font-weight: 700; }
#strong { font-weight: 600; }
#hairline { background: $hairline; }
#link { color: $leaf; background: transparent; border: 1px solid transparent; font-weight: 600; padding: 1px 3px;
  text-align: left; border-radius: ${p4}px; }
#link:hover { text-decoration: underline; }
#link:focus { border: 1px solid $leaf; }
#link:disabled { color: $quiet; }
#smallLink { color: $leaf; background: transparent; border: 1px solid transparent; font-size: ${f12}px;
  font-weight: 600; padding: 0 ${p2}px; text-align: left; border-radius: ${p4}px; }
#smallLink:hover { text-decoration: underline; }
#smallLink:focus { border: 1px solid $leaf; }
#smallLink[flush="true"] { padding-left: 0; border-left: none; border-radius: 0; }
#smallLink[flush="true"]:focus { border-color: transparent; border-bottom-color: $leaf; }
#pageTab { background: transparent; border: 1px solid transparent; border-radius: ${p8}px; color: $quiet;
  padding: ${p6}px ${p16}px; font-size: ${f14}px; }
#pageTab:hover { color: $ink; }
#pageTab:checked { background: $raised; border-color: $hairline; color: $ink; font-weight: 700; }
#pageTab:focus { border-color: $leaf; }
#pictureTab { background: transparent; border: none; border-radius: 0; border-bottom: 2px solid transparent; color: $quiet;
  padding: ${p6}px 0 ${p4}px 0; font-size: ${f14}px; }
#pictureTab[narrow="true"] { font-size: ${f12}px; }
#pictureTab:hover { color: $ink; }
#pictureTab:checked { color: $ink; font-weight: 700; border-bottom-color: $leaf; }
#pictureTab:focus { color: $leaf; border-bottom-color: $hairline; }
#pictureTab:checked:focus { border-bottom-color: $leaf; }
QScrollArea { background: transparent; border: none; }
QScrollArea > QWidget > QWidget { background: transparent; }
QScrollBar:vertical { background: transparent; width: ${p10}px; margin: 0; }
QScrollBar::handle:vertical { background: $hairline; border-radius: ${p4}px; min-height: ${p24}px; margin: 1px ${p2}px; }
QScrollBar::handle:vertical:hover { background: $quiet; }
QScrollBar::handle:vertical:disabled { background: transparent; }
QScrollBar:horizontal { background: transparent; height: ${p10}px; margin: 0; }
QScrollBar::handle:horizontal { background: $hairline; border-radius: ${p4}px; min-width: ${p24}px; margin: ${p2}px 1px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
QTableView { background: transparent; color: $ink; outline: none; selection-background-color: transparent; }
QAbstractScrollArea::corner { background: transparent; border: none; }
QHeaderView { background: transparent; }
QHeaderView::section { background: transparent; color: $quiet; border: none; border-bottom: 1px solid $ink;
  font-size: ${f12}px; font-weight: 600; padding: ${p6}px ${p8}px; }
QHeaderView::section:vertical { color: $ink; border-bottom: 1px solid $hairline; font-weight: 400; }
#compareTable::item { border-bottom: 1px solid $hairline; padding: 0 ${p8}px; }
QHeaderView::up-arrow, QHeaderView::down-arrow { width: ${p8}px; height: ${p8}px; }
QTableCornerButton::section { background: transparent; border: none; }
QLineEdit { background: $raised; border: 1px solid $hairline; border-radius: ${p6}px; padding: ${p4}px ${p8}px;
  selection-background-color: $leaf; selection-color: $paper; }
QLineEdit:focus { border-color: $leaf; }
Row { background: transparent; border-radius: ${p6}px; }
Row[found="true"] { background: $found_wash; }
#value { background: transparent; border: 1px solid transparent; color: $leaf; font-weight: 600; padding: ${p2}px ${p4}px; }
#value:hover { border-color: $hairline; background: $raised; }
#value:focus { border-color: $leaf; background: $raised; }
#value[settled="true"] { color: $ink; font-weight: 400; }
#value[found="true"] { color: $found_text; font-weight: 700; }
#value[example="true"], #choice[example="true"] { color: $quiet; }
#value[fault="true"] { color: $brick; border-color: $brick; background: $raised; }
#range { background: transparent; border: 1px solid transparent; color: $quiet; font-size: ${f12}px; padding: ${p2}px ${p4}px; }
#range:hover { border-color: $hairline; background: $raised; }
#range:focus { border-color: $leaf; background: $raised; color: $ink; }
#breakdown { color: $quiet; font-size: ${f12}px; }
#pageTitle { font-size: ${f20}px; font-weight: 600; }
#questions, #entries { border: none; background: transparent; }
#answer { background: transparent; border: 1px solid transparent; border-radius: ${p6}px; color: $ink; text-align: left;
         padding: ${p4}px ${p10}px; }
#answer:hover { border-color: $hairline; background: $raised; }
#answer:focus { border-color: $leaf; }
#answer:checked { background: $raised; border-color: $leaf; color: $leaf; font-weight: 600; }
#entry { background: $raised; border: 1px solid $hairline; border-radius: ${p8}px; }
#entry[fits="false"] { background: transparent; }
#entry QLabel[fits="false"] { color: $quiet; }
#reason { color: $leaf; }
#guard { background: $panel; border-left: 3px solid $slate; padding: ${p8}px ${p10}px; }
QComboBox { background: $raised; border: 1px solid $hairline; border-radius: ${p6}px; padding: ${p4}px ${p10}px; color: $ink; }
QComboBox:focus { border-color: $leaf; }
QComboBox::drop-down { border: none; width: ${p20}px; }
QComboBox QAbstractItemView { background: $raised; border: 1px solid $hairline; color: $ink;
         selection-background-color: $found_wash; selection-color: $ink; }
#found { color: $found_text; font-size: ${f14}px; font-weight: 600; }
#bigNumber { color: $found_text; font-size: ${f20}px; font-weight: 700; }
#compared { background: $found_wash; border-radius: ${p6}px; padding: ${p8}px ${p10}px; color: $ink; }
#chapters { background: $panel; border: none; border-right: 1px solid $hairline; padding: ${p10}px ${p6}px; outline: 0; }
#chapters::item { padding: 0 ${p10}px; border-radius: ${p6}px; color: $ink; }
#chapters::item:hover { background: $raised; }
#chapters::item:selected { background: $raised; color: $leaf; font-weight: 600; }
#cells { background: $raised; border: 1px solid $hairline; border-radius: ${p4}px; gridline-color: $hairline;
         color: $leaf; font-weight: 600; selection-background-color: $found_wash; selection-color: $ink; }
#cells:focus { border-color: $leaf; }
#cells QHeaderView { background: $panel; }
#cells QHeaderView::section { background: $panel; color: $quiet; border: none; border-right: 1px solid $hairline;
         border-bottom: 1px solid $hairline; padding: ${p2}px ${p6}px; font-weight: 400; }
#cells QTableCornerButton::section { background: $panel; border: none; }
#cells QLineEdit { border: none; border-radius: 0; padding: 0; color: $leaf; }
#cells #nameEdit { border: 1px solid $leaf; border-radius: ${p4}px; padding: 0 ${p4}px; }
#firstRows { background: transparent; border: none; color: $ink; font-size: ${f12}px; }
#firstRows QHeaderView { background: transparent; }
#firstRows QHeaderView::section { background: transparent; color: $quiet; border: none; font-size: ${f12}px;
         border-bottom: 1px solid $hairline; padding: 0 ${p6}px ${p2}px ${p4}px; }
#ticks { background: $raised; border: 1px solid $hairline; border-radius: ${p6}px; color: $ink; }
#ticks::item { padding: ${p2}px ${p8}px; }
#sections { background: $raised; border: 1px solid $hairline; border-radius: ${p6}px; color: $ink; outline: 0; }
#sections:focus { border-color: $leaf; }
#sections::item { padding: ${p2}px ${p6}px; color: $ink; border-radius: ${p4}px; }
#sections::item:disabled { color: $quiet; }
#sections::item:hover:enabled { background: $panel; }
#sections::item:selected, #sections::item:selected:hover { background: $found_wash; color: $ink; }
#choice { background: transparent; border: 1px solid transparent; border-radius: ${p6}px; color: $leaf;
  font-weight: 600; padding: ${p2}px ${p6}px; }
#choice:hover { border-color: $hairline; background: $raised; }
#choice:focus { border-color: $leaf; background: $raised; }
#choice::menu-indicator { image: none; width: 0; }
#remark[fault="true"] { color: $brick; border-color: $brick; }
#remark { font-size: ${f12}px; padding: ${p2}px ${p6}px; }
#detail { border-top: 1px solid $hairline; }
QToolTip { background: $raised; color: $ink; border: 1px solid $hairline; padding: ${p4}px ${p6}px; }
#notice { background: $found_wash; border-bottom: 1px solid $hairline; }
#finder { background: $raised; border: 1px solid $hairline; border-radius: ${p10}px; }
#finder QListWidget { background: $raised; border: none; outline: none; }
#finder QListWidget::item { padding: ${p6}px ${p10}px; border-radius: ${p6}px; color: $ink; }
#finder QListWidget::item:selected { background: $found_wash; color: $ink; }
QTextBrowser { background: $sheet; color: $sheetInk; border: 1px solid $hairline; border-radius: ${p4}px;
  selection-background-color: $leaf; selection-color: $paper; }
PlainText { background: $raised; border: 1px solid $hairline; border-radius: ${p6}px; padding: ${p4}px; }
PlainText:focus { border-color: $leaf; }
QProgressBar { background: $hairline; border: none; border-radius: ${p2}px; max-height: ${p6}px; text-align: center; }
QProgressBar::chunk { background: $leaf; border-radius: ${p2}px; }
QMessageBox, QDialog { background: $paper; }
QPushButton { background: $raised; border: 1px solid $hairline; border-radius: ${p6}px; padding: ${p6}px ${p14}px;
  outline: none; }
QPushButton:hover, QPushButton:focus { border-color: $leaf; }
QPushButton:disabled { color: $quiet; }
""")


def _style_sheet(theme: Theme) -> str:
    sizes = {f"p{size}": str(theme.px(size)) for size in (2, 4, 6, 8, 10, 14, 16, 20, 24)}
    fonts = {f"f{int(size)}": str(theme.px(size)) for size in (11, 12.5, 13, 14, 20, 26)}
    report = {"sheet": "#FFFFFF", "sheetInk": LIGHT.ink}
    return _SHEET.substitute(**vars(theme.colours), **sizes, **fonts, **report)


def paint_flower(painter: QPainter, centre: QPointF, size: float, theme: Theme) -> None:
    """The sign for "found, not given": thirteen rays round a darker disc."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colour("found"))
    radius = size / 2
    ray = QPainterPath()
    ray.addEllipse(QRectF(-radius * 0.13, -radius, radius * 0.26, radius * 0.72))
    painter.translate(centre)
    for _ in range(RAYS):
        painter.drawPath(ray)
        painter.rotate(360 / RAYS)
    painter.setBrush(QColor("#B5730B") if theme.colours.name == "light" else QColor("#A86C10"))
    painter.drawEllipse(QPointF(0, 0), radius * 0.4, radius * 0.4)
    painter.restore()


def flower_svg(size: int = 64) -> str:
    """The flower as SVG, for the application's icon and the documents."""
    radius = size / 2
    rays = "".join(
        f'<ellipse cx="{radius + radius * 0.64 * sin(2 * pi * i / RAYS):.2f}" '
        f'cy="{radius - radius * 0.64 * cos(2 * pi * i / RAYS):.2f}" rx="{radius * 0.13:.2f}" ry="{radius * 0.36:.2f}" '
        f'transform="rotate({360 * i / RAYS:.2f} {radius + radius * 0.64 * sin(2 * pi * i / RAYS):.2f} '
        f'{radius - radius * 0.64 * cos(2 * pi * i / RAYS):.2f})"/>'
        for i in range(RAYS)
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {size} {size}"><g fill="{LIGHT.found}">{rays}</g>'
        f'<circle cx="{radius}" cy="{radius}" r="{radius * 0.4:.2f}" fill="#B5730B"/></svg>\n'
    )
