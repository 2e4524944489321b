"""What can be done to a single copy that is pointed at on the sheet."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QPoint, QTimer
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QMenu, QWidget

from under_lattice.rules import KINDS
from under_lattice.rules.base import Rule
from under_lattice.rules.shared.touches import Place, Touch
from under_lattice.ui.look.popup_menu import PopupMenu
from under_lattice.ui.look.words import on_button
from under_lattice.ui.window.studio import Studio
from under_lattice.work.edits import add_pick, by_hand

CHANGES, TAKES_AWAY = KINDS["touch-up"], KINDS["leave-out"]  # what takes single copies, by the commands that name them


class CopyActions:
    """Acts on the copy of a studio's sheet that was last pointed at."""

    def __init__(self, studio: Studio, window: QWidget) -> None:
        self.studio, self.window = studio, window
        studio.sheet.menu_wanted.connect(self.open_menu)

    def commands(self) -> dict[str, Callable[[], None]]:
        """Return the functions of the commands about single copies."""
        return {
            "touch_copy": partial(self.pick, CHANGES),
            "touch_alike": partial(self.pick, CHANGES, True),
            "leave_out_copy": partial(self.pick, TAKES_AWAY),
        }

    def pick(self, kind: type[Rule], everywhere: bool = False) -> None:
        """Add the copy to the rule by hand at the end of its layer, which is made where it is missing, and open that rule."""
        found = self.studio.under_pointer()
        if found is None or not found[1]:
            self.studio.facts_line.tell("point at a copy of a repeat on the sheet first")
            return
        layer, at = found
        touch = Touch(at=at[1:] if everywhere and len(at) > 1 else at)
        if layer != self.studio.layer:
            self.studio.choose_layer(layer)
        if self.studio.edit(kind.title, lambda design: add_pick(design, layer, kind, touch)):
            rule = by_hand(self.studio.document.design.chain(layer), kind)
            if rule is not None:
                self.studio.chain.open(rule.id)

    def open_menu(self, at: QPoint) -> None:
        """Open the menu of the copy that is pointed at."""
        found = self.studio.under_pointer()
        if found is None:
            return
        menu = PopupMenu(self.window)
        if self.studio.colour_under_pointer():
            self._offer_colour(menu, found[0], self.studio.colour_under_pointer())
        if found[1]:
            self._offer_touches(menu, found)
        menu.popup(at)

    def _offer_colour(self, menu: QMenu, layer: str, value: str) -> None:
        """Offer the colour of what is pointed at: where it is set, or as text."""
        for rule in reversed(self.studio.document.design.layer(layer).every_rule):
            for name, dial in rule.dials().items():
                held = {"palette": getattr(rule, name), "colour": (getattr(rule, name),)}.get(dial.kind, ())
                if value in held and rule.on:
                    menu.addAction(f"Colour {value}…", partial(self._open_colour, layer, rule.id, name, held.index(value)))
                    menu.addAction("Copy the colour", partial(QGuiApplication.clipboard().setText, value))
                    return
        menu.addAction(f"Copy the colour {value}", partial(QGuiApplication.clipboard().setText, value))

    def _open_colour(self, layer: str, rule: str, dial: str, at: int) -> None:
        if layer != self.studio.layer:
            self.studio.choose_layer(layer)
        self.studio.chain.open(rule)
        QTimer.singleShot(0, self.studio, lambda: self.studio.chain.open_colour(rule, dial, at))

    def _offer_touches(self, menu: QMenu, found: tuple[str, tuple[Place, ...]]) -> None:
        menu.addAction(CHANGES.pick_words, partial(self.pick, CHANGES))
        if len(found[1]) > 1:
            names = {rule.id: rule.shown_name() for rule in self.studio.document.design.chain(found[0]).rules}
            menu.addAction(on_button(f"Touch it up in every copy of {names[found[1][0][0]]}"), partial(self.pick, CHANGES, True))
        menu.addAction(TAKES_AWAY.pick_words, partial(self.pick, TAKES_AWAY))
