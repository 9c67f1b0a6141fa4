"""Colours, fonts and the style sheet: paper where one plans, night where light is shown."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache, lru_cache
from importlib import resources
from pathlib import Path

from PySide6.QtGui import QColor, QFont, QFontDatabase, QFontMetrics, QIcon
from PySide6.QtWidgets import QApplication, QWidget

FAMILY, FIXED = "Lato", "Inconsolata"
MARGIN = 14
LEFT_PANEL = 212
GUTTER = 56
SNAGS = 250
TITLE_HEIGHT, RULER_HEIGHT, TRANSPORT_HEIGHT = 48, 76, 46
USUAL, SMALLEST = (1280, 800), (1000, 640)
LINE_LEFT = MARGIN + LEFT_PANEL + MARGIN + GUTTER
LINE_RIGHT = MARGIN + SNAGS + MARGIN


@dataclass(frozen=True)
class Palette:
    """The colours of one theme; text colours keep a contrast of at least 4.5 on their ground."""

    paper: str
    panel: str
    field: str
    rule: str
    ink: str
    faint: str
    amber: str
    amber_text: str
    teal: str
    danger: str
    copper: str


NIGHT_GROUND = "#11151c"
NIGHT_INK = "#ece6d8"
NIGHT_FAINT = "#a3abb3"
NIGHT_TEAL = "#5cc4bd"
AMBER = "#e8952a"
PAPER = Palette(
    paper="#f4eee1", panel="#fcf8ef", field="#fffdf8", rule="#ddd5c3", ink="#232d36", faint="#5a646d",
    amber="#cc7d15", amber_text="#8a4f05", teal="#17706f", danger="#ab2118", copper="#4a545d",
)  # fmt: skip
NIGHT = Palette(
    paper="#171c24", panel="#1e2530", field="#262e3a", rule="#39434f", ink="#ece6d8", faint="#a9b1b9",
    amber="#d98a1f", amber_text="#f2b455", teal="#5cc4bf", danger="#ff8d80", copper="#b9c1c9",
)  # fmt: skip
SEVERITY_FIELD = ("danger", "amber_text", "teal", "faint")


def load_fonts() -> None:
    """Make the shipped font known to Qt."""
    folder = resources.files("tiny_lantern.ui") / "assets" / "fonts"
    for name in ("Lato-Regular.ttf", "Lato-Semibold.ttf", "Lato-Bold.ttf", "Inconsolata.otf"):
        QFontDatabase.addApplicationFontFromData((folder / name).read_bytes())


def window_icon() -> QIcon:
    """The program's own icon."""
    return QIcon(_icon("lantern.svg"))


@cache
def font(size: float = 10.0, weight: QFont.Weight = QFont.Weight.Normal) -> QFont:
    """The window's font at a size in points, with tabular figures."""
    chosen = QFont(FAMILY)
    chosen.setPixelSize(round(size * 1.32))
    chosen.setWeight(weight)
    chosen.setFeature(QFont.Tag("tnum"), 1)
    return chosen


@cache
def fixed_font(size: float = 10.5) -> QFont:
    """The font of fixed pitch, for code, at a size in points."""
    chosen = QFont(FIXED)
    chosen.setPixelSize(round(size * 1.32))
    return chosen


@lru_cache(maxsize=20_000)
def text_width(text: str, size: float) -> int:
    """How wide a text is in the window's font at a size in points. [screen pixels]"""
    return QFontMetrics(font(size)).horizontalAdvance(text)


def with_alpha(colour: str, alpha: int) -> QColor:
    """A colour with an opacity of 0 to 255."""
    made = QColor(colour)
    made.setAlpha(alpha)
    return made


def use_fonts(application: QApplication) -> None:
    """Load the shipped font and write everything in it."""
    load_fonts()
    application.setFont(font())


def dress(window: QWidget, palette: Palette) -> None:
    """Dress a window and all that belongs to it; on the application the same sheet would take five times as long."""
    window.setStyleSheet(_sheet(palette))


def _marks(p: Palette) -> str:
    """The colour of each severity's word and sign, by number, the worst 0."""
    colours = (getattr(p, field) for field in SEVERITY_FIELD)
    return "\n".join(f'#mark[severity="{number}"] {{ color: {colour}; }}' for number, colour in enumerate(colours))


def _sheet(p: Palette) -> str:
    return f"""
QWidget {{ color: {p.ink}; }}
#shell, #surface {{ background: {p.paper}; }}
#titleRow {{ background: {p.paper}; }}
#panel {{ background: {p.panel}; border: 1px solid {p.rule}; border-radius: 6px; }}
#panel QLabel, #card QLabel {{ background: transparent; }}
#card {{ border-top: 1px solid {p.rule}; background: transparent; }}
#card:focus {{ border-top: 2px solid {p.amber}; }}
#cardTitle {{ font-weight: 600; }}
#mark {{ font-size: 12px; font-weight: 600; }}
{_marks(p)}
#probeCard {{ background: {p.field}; color: {p.ink}; border: 1px solid {p.ink}; border-radius: 4px;
    padding: 5px 8px; }}
#heading {{ font-size: 15px; font-weight: 600; }}
#groupHead {{ font-size: 13px; font-weight: 600; border-top: 1px solid {p.rule}; padding-top: 3px; }}
#pieceForm QLineEdit, #pieceForm QComboBox {{ min-height: 17px; }}
#pieceForm #title {{ font-size: 15px; font-weight: 600; min-height: 20px; padding: 1px 4px; }}
#buildName {{ font-size: 18px; font-weight: 600; }}
#faint {{ color: {p.faint}; font-size: 12px; }}
#transport {{ background: {NIGHT_GROUND}; }}
#transport QLabel {{ color: {NIGHT_INK}; background: transparent; }}
#transport #statusLine {{ color: {NIGHT_FAINT}; }}
QScrollArea, #scrolled, #pieceForm {{ background: transparent; border: none; }}
QLineEdit, QSpinBox, QComboBox, QPlainTextEdit {{
    background: {p.field}; color: {p.ink}; border: 1px solid {p.rule}; border-radius: 4px; padding: 2px 6px;
    selection-background-color: {p.amber}; selection-color: #ffffff; min-height: 20px; }}
QLineEdit:focus, QComboBox:focus, QSpinBox:focus, QPlainTextEdit:focus {{ border: 1px solid {p.amber}; }}
QLineEdit[fault="true"] {{ border: 1px solid {p.danger}; }}
QLineEdit:disabled, QComboBox:disabled {{ color: {p.faint}; }}
QComboBox::drop-down {{ border: none; width: 18px; }}
QComboBox::down-arrow {{ image: url({_icon("down-paper.svg" if p is PAPER else "down-night.svg")});
    width: 12px; height: 12px; }}
#transport QComboBox::down-arrow {{ image: url({_icon("down-night.svg")}); width: 12px; height: 12px; }}
QComboBox QAbstractItemView {{ background: {p.field}; color: {p.ink}; selection-background-color: {p.amber};
    selection-color: #ffffff; border: 1px solid {p.rule}; outline: none; }}
QPushButton {{ background: {p.panel}; color: {p.amber_text}; border: 1px solid {p.amber}; border-radius: 5px;
    padding: 4px 10px; }}
QPushButton:hover {{ background: {p.field}; }}
QPushButton:focus {{ border: 2px solid {p.amber}; padding: 3px 9px; }}
QPushButton:disabled {{ color: {p.faint}; border-color: {p.rule}; }}
QPushButton#primary {{ background: {p.amber_text if p is PAPER else p.amber}; color: #ffffff; font-weight: 600; }}
QPushButton#primary:disabled {{ background: {p.rule}; color: {p.faint}; }}
QPushButton#small {{ padding: 3px 4px; }}
QPushButton#small:checked {{ background: {p.amber}; color: #ffffff; }}
QPushButton#small:focus {{ border: 2px solid {p.amber}; padding: 2px 3px; }}
QPushButton#link {{ background: transparent; border: none; color: {p.teal}; padding: 2px 2px; text-align: left; }}
QPushButton#link:focus {{ border-bottom: 1px solid {p.teal}; }}
QPushButton#station {{ background: transparent; border: none; border-bottom: 3px solid transparent; border-radius: 0;
    color: {p.faint}; font-size: 15px; padding: 6px 8px 4px 8px; }}
QPushButton#station:checked {{ color: {p.ink}; font-weight: 600; border-bottom: 3px solid {p.amber}; }}
QPushButton#station:focus {{ border-bottom: 3px solid {p.teal}; padding: 6px 8px 4px 8px; }}
#transport QPushButton {{ background: transparent; border: 1px solid #39434f; color: {NIGHT_INK}; }}
#transport QProgressBar {{ background: #1d2430; border: 1px solid #39434f; color: {NIGHT_INK}; }}
#transport QPushButton:focus {{ border: 1px solid {AMBER}; }}
#transport QComboBox {{ background: #1d2430; color: {NIGHT_INK}; border: 1px solid #39434f; }}
QToolButton {{ background: transparent; border: 1px solid transparent; border-radius: 4px; padding: 3px 6px; }}
QToolButton:hover, QToolButton:focus {{ border: 1px solid {p.amber}; }}
QToolButton::menu-indicator {{ image: none; }}
QMenu {{ background: {p.panel}; color: {p.ink}; border: 1px solid {p.rule}; padding: 4px; }}
QMenu::item {{ padding: 4px 28px 4px 14px; }}
QMenu::item:selected {{ background: {p.amber}; color: #ffffff; }}
QMenu::item:disabled {{ color: {p.faint}; }}
QMenu::separator {{ height: 1px; background: {p.rule}; margin: 4px 8px; }}
QTableWidget, QListWidget, QTextBrowser {{ background: {p.panel}; alternate-background-color: {p.paper};
    border: 1px solid {p.rule}; border-radius: 4px; gridline-color: {p.rule};
    selection-background-color: {with_alpha_css(p.amber, 60)}; selection-color: {p.ink}; }}
QTableWidget::item, QListWidget::item {{ padding: 2px 4px; }}
QTableWidget QLineEdit {{ min-height: 14px; padding: 0 3px; border-radius: 0; }}
QHeaderView {{ background: {p.panel}; border: none; }}
QHeaderView::section {{ background: {p.panel}; color: {p.faint}; border: none; border-bottom: 1px solid {p.rule};
    padding: 2px 4px; font-size: 12px; }}
QTableCornerButton::section {{ background: {p.panel}; border: none; }}
QSlider::groove:horizontal {{ height: 4px; background: #39434f; border-radius: 2px; }}
QSlider::sub-page:horizontal {{ background: {AMBER}; border-radius: 2px; }}
QSlider::handle:horizontal {{ width: 14px; margin: -6px 0; border-radius: 7px; background: {AMBER}; }}
QSlider::handle:horizontal:focus {{ background: #ffffff; }}
QCheckBox {{ spacing: 6px; background: transparent; }}
QCheckBox::indicator {{ width: 14px; height: 14px; border: 1px solid {p.faint}; border-radius: 3px;
    background: {p.field}; }}
QCheckBox::indicator:checked {{ background: {p.amber}; border-color: {p.amber}; image: url({_icon("check.svg")}); }}
QCheckBox::indicator:focus {{ border: 2px solid {p.amber}; }}
QScrollBar:vertical {{ background: transparent; width: 9px; }}
QScrollBar::handle:vertical {{ background: {p.rule}; border-radius: 4px; min-height: 24px; }}
QScrollBar:horizontal {{ background: transparent; height: 9px; }}
QScrollBar::handle:horizontal {{ background: {p.rule}; border-radius: 4px; min-width: 24px; }}
QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
QToolTip {{ background: {p.panel}; color: {p.ink}; border: 1px solid {p.rule}; padding: 3px; }}
QTabWidget::pane {{ border: 1px solid {p.rule}; border-radius: 4px; background: {p.panel}; top: -1px; }}
QTabWidget > QWidget > QWidget {{ background: transparent; }}
QTabBar::tab {{ background: transparent; color: {p.faint}; border: none; border-bottom: 3px solid transparent;
    padding: 6px 10px 4px 10px; }}
QTabBar::tab:selected {{ color: {p.ink}; font-weight: 600; border-bottom: 3px solid {p.amber}; }}
QTabBar::tab:focus {{ border-bottom: 3px solid {p.teal}; }}
QSplitter::handle {{ background: transparent; }}
QSplitter::handle:hover {{ background: {p.rule}; }}
QProgressBar {{ background: {p.field}; border: 1px solid {p.rule}; border-radius: 4px; text-align: center; }}
QProgressBar::chunk {{ background: {p.amber}; border-radius: 3px; }}
#banner {{ background: {p.panel}; border: 1px solid {p.amber}; border-radius: 6px; }}
"""


def _icon(name: str) -> str:
    """Path of a shipped icon, as a style sheet takes it."""
    return (Path(str(resources.files("tiny_lantern.ui"))) / "assets" / "icons" / name).as_posix()


def with_alpha_css(colour: str, alpha: int) -> str:
    """A colour with an opacity, as a style sheet writes it."""
    made = QColor(colour)
    return f"rgba({made.red()}, {made.green()}, {made.blue()}, {alpha})"
