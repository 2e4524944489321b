"""Colours and sizes of the interface, light and dark, said once."""

from __future__ import annotations

from dataclasses import dataclass, replace

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QGuiApplication


@dataclass(frozen=True)
class Tokens:
    """Greys are exactly neutral so that nothing tints the artwork; verdigris is structure, saffron is "varies"."""

    surround: str
    ground: str
    panel: str
    card: str
    open: str
    field: str
    hover: str
    line: str
    strong: str
    text: str
    text2: str
    dis: str
    ver: str
    verink: str
    tint: str
    saf: str
    safg: str
    saft: str
    err: str
    tag: str
    edge: str


LIGHT = Tokens(
    surround="#CBCBCB",
    ground="#E3E3E3",
    panel="#F0F0F0",
    card="#F8F8F8",
    open="#FFFFFF",
    field="#FFFFFF",
    hover="#E6E6E6",
    line="#D5D5D5",
    strong="#6E6E6E",
    text="#1C1C1C",
    text2="#565656",
    dis="#666666",
    ver="#166B5D",
    verink="#FFFFFF",
    tint="#DCEBE7",
    saf="#8F5200",
    safg="#B96F00",
    saft="#F7EBD8",
    err="#B3261E",
    tag="#FFFFFF",
    edge="#8E8E8E",
)
DARK = Tokens(
    surround="#2A2A2A",
    ground="#161616",
    panel="#1F1F1F",
    card="#292929",
    open="#313131",
    field="#1C1C1C",
    hover="#383838",
    line="#3F3F3F",
    strong="#868686",
    text="#EDEDED",
    text2="#B4B4B4",
    dis="#A2A2A2",
    ver="#5CC3A8",
    verink="#0D211C",
    tint="#1E3E36",
    saf="#F2B555",
    safg="#F2B555",
    saft="#3D3019",
    err="#FF8B80",
    tag="#1C1C1C",
    edge="#000000",
)
HIGH_LIGHT = replace(
    LIGHT,
    panel="#FFFFFF",
    card="#FFFFFF",
    line="#3C3C3C",
    strong="#000000",
    text="#000000",
    text2="#1C1C1C",
    dis="#4A4A4A",
    ver="#004C40",
    saf="#5C3400",
    safg="#7A4800",
    err="#8C0000",
    edge="#000000",
)
HIGH_DARK = replace(
    DARK,
    ground="#000000",
    panel="#000000",
    card="#000000",
    open="#0A0A0A",
    field="#000000",
    line="#C4C4C4",
    strong="#FFFFFF",
    text="#FFFFFF",
    text2="#EDEDED",
    dis="#BEBEBE",
    ver="#7FE6CC",
    verink="#000000",
    saf="#FFD080",
    safg="#FFD080",
    err="#FFB0A8",
    tag="#000000",
    edge="#FFFFFF",
)

CHAIN_WIDTH = 320
TRAY_WIDTH = 264
STRIP_HEIGHT = 48
FACTS_HEIGHT = 32
CARD_LEFT = 32
THREAD_X = 16
CARD_WIDTH = 280


class _Look:
    """The theme in force: light, dark, or as the desktop has it; of high contrast where the desktop asks for that."""

    def __init__(self) -> None:
        self.wish = "desktop"
        self.tokens = LIGHT
        self.text = 1.0  # size of the desktop's text, over the common one

    @property
    def dark(self) -> bool:
        """Whether the dark colours are in force."""
        if self.wish != "desktop":
            return self.wish == "dark"
        return QGuiApplication.styleHints().colorScheme() == Qt.ColorScheme.Dark

    @property
    def high(self) -> bool:
        """Whether the desktop asks for high contrast."""
        hints = QGuiApplication.styleHints()  # which owns what it gives, and must outlive it
        return hints.accessibility().contrastPreference() == Qt.ContrastPreference.HighContrast

    def read(self) -> None:
        """Take the colours that the wish and the desktop ask for now."""
        light, dark = (HIGH_LIGHT, HIGH_DARK) if self.high else (LIGHT, DARK)
        self.tokens = dark if self.dark else light


LOOK = _Look()


def colour(name: str, alpha: int = 255) -> QColor:
    """Return a token of the theme in force."""
    made = QColor(getattr(LOOK.tokens, name))
    made.setAlpha(alpha)
    return made


def px(size: float) -> int:
    """Return a size in px as it is with the desktop's size of text."""
    return round(size * LOOK.text)
