"""One style sheet and palette, made from the tokens: the palette for the application, the sheet for each of its windows."""

from __future__ import annotations

from importlib.resources import as_file, files

from PySide6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PySide6.QtWidgets import QApplication, QWidget

from under_lattice.ui.look.tokens import LOOK, Tokens, px

FACE = "Clear Sans"
SIGNS = ("arrow", "check")  # drawings a sheet names
SHEET = """
* {{ font-family: "{face}"; font-size: {body}px; color: {text}; }}
QMainWindow, QDialog, QMessageBox, #panel, #strip, #facts, QScrollArea, #scrolled {{ background: {panel}; border: none; }}
#strip {{ border-bottom: 1px solid {line}; }}
#stripPage {{ background: {surround}; }}
#onSurround {{ font-size: {small}px; background: {surround}; padding: 2px 24px 8px 24px; }}
#bar {{ background: {panel}; border-bottom: 1px solid {line}; }}
#facts {{ border-top: 1px solid {line}; }}
#chain {{ background: {panel}; border-right: 1px solid {line}; }}
#start, #book, #book QScrollArea {{ background: {ground}; border: none; }}
#tray {{ background: {panel}; border-left: 1px solid {line}; }}
#heading {{ font-size: {heading}px; font-weight: bold; }}
#rule, #divider {{ background: {line}; }}
#popup {{ background: {open}; border: 1px solid {strong}; }}
#card {{ background: {card}; border: 1px solid {line}; border-radius: 4px; }}
#cardOpen {{ background: {open}; border: 1px solid {ver}; border-radius: 4px; }}
#small, #key {{ font-size: {small}px; color: {text2}; }}
#hint {{ font-size: {small}px; color: {text2}; padding-left: {under}px; }}
#hintSaf {{ font-size: {small}px; color: {saf}; padding-left: {under}px; }}
#group {{ font-size: {small}px; font-weight: bold; color: {text2}; padding-top: 6px; border-bottom: 1px solid {line}; }}
#quiet, #derived {{ color: {text2}; }}
#bold {{ font-weight: bold; }}
QLabel[moves="moves"] {{ color: {saf}; text-decoration: underline; }}
#string {{ background: {panel}; border-top: 1px solid {line}; }}
#varied {{ font-weight: bold; color: {saf}; }}
#title {{ font-size: {title}px; font-weight: bold; }}
#error {{ font-size: {small}px; color: {err}; }}
#good {{ font-size: {small}px; color: {ver}; font-weight: bold; }}
#fact {{ font-size: {small}px; }}
QLabel#warn {{ font-size: {small}px; font-weight: bold; }}
QPushButton {{ background: {field}; border: 1px solid {strong}; border-radius: 4px; padding: 3px 10px; }}
QPushButton:hover {{ background: {hover}; }}
QPushButton:checked, QToolButton:checked {{ background: {tint}; border: 1px solid {ver}; border-bottom: 3px solid {ver}; }}
QPushButton:checked {{ padding-bottom: 1px; }}
QToolButton:checked {{ padding-bottom: 1px; }}
QPushButton:focus {{ border: 2px solid {ver}; padding: 2px 9px; }}
QPushButton:checked:focus {{ border-bottom: 4px solid {ver}; padding-bottom: 0; }}
QPushButton:disabled, QToolButton:disabled {{ color: {dis}; border: none; background: transparent; }}
QPushButton#primary {{ background: {ver}; color: {verink}; border: 1px solid {ver}; }}
QPushButton#primary:hover {{ border: 1px solid {text}; }}
QPushButton#primary:focus {{ border: 2px solid {text}; }}
QPushButton#primary:disabled {{ background: {tint}; color: {dis}; border: none; }}
QPushButton#cure, QPushButton#link, QPushButton#plain, QPushButton#warn, QPushButton#linkSaf, QPushButton#more {{
  background: transparent; border: none; padding: 2px; font-size: {small}px; }}
QPushButton#cure, QPushButton#link {{ color: {ver}; text-decoration: underline; min-height: {line_high}px; }}
QPushButton#warn {{ font-weight: bold; }}
QPushButton#linkSaf {{ color: {saf}; text-align: left; padding-left: {under}px; }}
QPushButton#more {{ text-align: left; }}
QPushButton#cure:focus, QPushButton#link:focus, QPushButton#plain:focus, QPushButton#warn:focus, QPushButton#more:focus {{
  border: 2px solid {ver}; padding: 0; }}
QPushButton#linkSaf:focus {{ border: 2px solid {ver}; padding: 0 0 0 {under}px; }}
QPushButton#plain:hover, QPushButton#warn:hover, QPushButton#more:hover, QPushButton#linkSaf:hover {{ background: {hover}; }}
QPushButton#nudge {{ padding: 0; border-radius: 3px; }}
QPushButton#nudge:checked {{ background: {ver}; color: {verink}; border: 1px solid {ver}; padding: 0; }}
QToolButton {{ background: transparent; border: 1px solid transparent; border-radius: 4px; padding: 3px 9px; }}
QToolButton#step {{ padding: 1px 4px; }}
QToolButton#step:focus {{ padding: 0 3px; }}
QFileDialog QToolButton {{ padding: 1px; }}
QFileDialog QToolButton:focus {{ padding: 0; }}
QToolButton:hover {{ background: {hover}; }}
QToolButton:focus {{ border: 2px solid {ver}; padding: 2px 8px; }}
QToolButton:checked:focus {{ border-bottom: 4px solid {ver}; padding-bottom: 0; }}
QToolButton::menu-indicator {{ image: none; width: 0; }}
QLineEdit, QComboBox {{
  background: {field}; border: 1px solid {strong}; border-radius: 3px; padding: 1px 4px; min-height: {line_high}px;
  selection-background-color: {ver}; selection-color: {verink}; }}
QLineEdit:focus, QComboBox:focus {{ border: 2px solid {ver}; padding: 0 3px; }}
QLineEdit[derived="true"] {{ background: transparent; border: 1px solid transparent; color: {text2}; }}
QLineEdit[derived="true"]:hover {{ border: 1px solid {line}; }}
QLineEdit[derived="true"]:focus {{ background: {field}; border: 2px solid {ver}; color: {text}; }}
QLineEdit[strip="true"] {{ background: {tint}; border: 1px solid {ver}; }}
QLineEdit[varied="true"] {{ border: 1px solid {safg}; }}
QLineEdit[varied="true"]:focus {{ border: 2px solid {ver}; }}
QLineEdit[wrong="true"], QLineEdit[wrong="true"]:focus {{ border: 2px solid {err}; padding: 0 3px; }}
QLineEdit:disabled, QComboBox:disabled {{ color: {dis}; border-color: {line}; background: transparent; }}
QComboBox {{ combobox-popup: 0; }}
QComboBox::drop-down {{ border: none; width: 18px; }}
QComboBox::down-arrow {{ image: url({arrow}); width: 10px; height: 10px; }}
QComboBox QAbstractItemView {{
  background: {open}; border: 1px solid {strong}; selection-background-color: {tint}; selection-color: {text}; outline: none; }}
QComboBox QAbstractItemView::item {{ min-height: {line_high}px; padding: 2px 6px; border: 1px solid transparent; }}
QComboBox QAbstractItemView::item:selected {{ background: {tint}; color: {text}; border: 1px solid {ver}; }}
QDialogButtonBox {{ dialogbuttonbox-buttons-have-icons: 0; }}
QMenu {{ background: {open}; border: 1px solid {strong}; }}
QMenu::item {{ padding: 3px 23px 3px 23px; border: 1px solid transparent; }}
QMenu::item:selected {{ background: {tint}; color: {text}; border: 1px solid {ver}; }}
QMenu::item:disabled {{ color: {dis}; }}
QMenu::separator {{ height: 1px; background: {line}; margin: 4px 8px; }}
QToolTip {{ background: {open}; color: {text}; border: 1px solid {strong}; padding: 3px; }}
QScrollBar:vertical {{ background: transparent; width: 8px; margin: 0; }}
QScrollBar::handle:vertical {{ background: {strong}; min-height: 24px; border-radius: 4px; }}
QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; width: 0; }}
QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
QTreeWidget {{ background: {field}; border: 1px solid {strong}; outline: none; }}
QTreeWidget::item {{ border: 1px solid transparent; }}
QTreeWidget::item:selected {{ background: {tint}; color: {text}; }}
QTreeWidget::branch:selected {{ background: {tint}; }}
QTreeWidget:focus {{ border: 2px solid {ver}; }}
QListWidget {{ background: {field}; border: 1px solid {strong}; outline: none; }}
QListWidget::item {{ padding: 4px; }}
QListWidget::item:selected {{ background: {tint}; color: {text}; border: 1px solid {ver}; }}
QCheckBox {{ spacing: 6px; border: 2px solid transparent; border-radius: 3px; }}
QCheckBox::indicator {{ width: 14px; height: 14px; border: 1px solid {strong}; border-radius: 3px; background: {field}; }}
QCheckBox::indicator:checked {{ border-color: {ver}; background: {ver}; image: url({check}); }}
QCheckBox::indicator:disabled {{ border-color: {line}; }}
QCheckBox:focus {{ border: 2px solid {ver}; }}
QProgressBar {{ border: 1px solid {strong}; border-radius: 3px; background: {field}; text-align: center; }}
QProgressBar::chunk {{ background: {tint}; }}
"""


def load_face() -> None:
    """Make the shipped face known."""
    for name in ("ClearSans-Regular.ttf", "ClearSans-Bold.ttf"):
        with as_file(files("under_lattice") / "fonts" / name) as path:
            QFontDatabase.addApplicationFont(str(path))


def dress(app: QApplication) -> None:
    """Put the palette of the theme in force and the face of type on the application; text scales with the desktop's size."""
    LOOK.read()
    LOOK.text = _text_scale()
    font = QFont(FACE)
    font.setPixelSize(px(13))
    app.setFont(font)
    app.setPalette(_palette(LOOK.tokens))


def wear(part: QWidget) -> None:
    """Put the style sheet of the theme in force on a part of a window, and so on all that belongs to it.

    A sheet of the whole application costs several times as much: the toolkit goes over each part once for each part it lies in.
    """
    theme = "dark" if LOOK.dark else "light"
    with as_file(files("under_lattice") / "fonts") as fonts:
        values = LOOK.tokens.__dict__ | {"face": FACE, **{sign: (fonts / f"{sign}-{theme}.svg").as_posix() for sign in SIGNS}}
        sizes = {"body": px(13), "small": px(12), "title": px(22), "heading": px(14), "under": px(77), "line_high": px(20)}
        part.setStyleSheet(SHEET.format(**values, **sizes))


def _text_scale() -> float:
    """Size of the desktop's text over the common 10 points, within reason."""
    points = QFontDatabase.systemFont(QFontDatabase.SystemFont.GeneralFont).pointSizeF()
    return min(max(points / 10.0, 1.0), 2.0) if points > 0 else 1.0


def _palette(t: Tokens) -> QPalette:
    palette = QPalette()
    roles = QPalette.ColorRole
    for role, name in (
        (roles.Window, t.panel),
        (roles.WindowText, t.text),
        (roles.Base, t.field),
        (roles.AlternateBase, t.card),
        (roles.Text, t.text),
        (roles.Button, t.field),
        (roles.ButtonText, t.text),
        (roles.Highlight, t.ver),
        (roles.HighlightedText, t.verink),
        (roles.ToolTipBase, t.open),
        (roles.ToolTipText, t.text),
        (roles.PlaceholderText, t.dis),
    ):
        palette.setColor(role, QColor(name))
    return palette
