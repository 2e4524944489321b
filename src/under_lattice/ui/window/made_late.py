"""What a studio shows only now and then, each part loaded and made when it is first asked for: most works need none of it."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from under_lattice.ui.look.dressing import Bare

if TYPE_CHECKING:
    from under_lattice.ui.loop.player import Player
    from under_lattice.ui.loop.string_panel import StringPanel
    from under_lattice.ui.sheet.mix_bar import MixBar
    from under_lattice.ui.sheet.repeat_bar import RepeatBar
    from under_lattice.ui.sheet.sheet_view import SheetView
    from under_lattice.ui.state.desk import Desk
    from under_lattice.ui.strips.strip_page import StripPage
    from under_lattice.ui.tray.tray import Tray


class MadeLate(Bare, QWidget):
    """The parts, each in its place beside the sheet."""

    film_wanted = Signal()
    made = Signal(str)  # the name of a part that has just been made

    desk: Desk
    sheet: SheetView
    player: Player
    beside: QVBoxLayout  # what stands above, in place of and below the sheet
    tray_room: QHBoxLayout

    def has(self, part: str) -> bool:
        """Tell whether a part is there, without making it."""
        return part in self.__dict__

    def _told(self, name: str, part: QWidget) -> None:
        self.__dict__[name] = part  # whoever hears of it asks for it
        self.made.emit(name)

    @cached_property
    def tray(self) -> Tray:
        """Siblings and kept versions."""
        from under_lattice.ui.tray.tray import Tray

        tray = Tray(self.desk)
        self.tray_room.addWidget(tray)
        self._told("tray", tray)
        return tray

    @cached_property
    def strips(self) -> StripPage:
        """The test strip, in place of the sheet, and what is picked on it, in place of the siblings."""
        from under_lattice.ui.strips.picked_panel import PickedPanel
        from under_lattice.ui.strips.strip_page import StripPage  # loads what writes files

        strips = StripPage(self.desk)
        self.tray.put_above(PickedPanel(strips))
        self.beside.insertWidget(self.beside.indexOf(self.sheet), strips, 1)
        self._told("strips", strips)
        return strips

    @property
    def strip_shown(self) -> bool:
        """Whether a test strip stands in place of the sheet."""
        return self.has("strips") and self.strips.strip is not None

    @cached_property
    def mix_bar(self) -> MixBar:
        """The bead between the work and a kept version."""
        from under_lattice.ui.sheet.mix_bar import MixBar

        bar = MixBar(self.desk)
        self.beside.insertWidget(0, bar)
        self._told("mix_bar", bar)
        return bar

    @cached_property
    def repeat_bar(self) -> RepeatBar:
        """What repeats and with which seams."""
        from under_lattice.ui.sheet.repeat_bar import RepeatBar

        bar = RepeatBar(self.desk, self.sheet)
        self.beside.insertWidget(int(self.has("mix_bar")), bar)
        self._told("repeat_bar", bar)
        return bar

    @cached_property
    def string(self) -> StringPanel:
        """What plays the loop, at the foot of the sheet."""
        from under_lattice.ui.loop.string_panel import StringPanel  # loads what writes films

        string = StringPanel(self.desk, self.player)
        string.film_wanted.connect(self.film_wanted)
        self.beside.insertWidget(self.beside.count() - 1, string)
        string.refresh()  # it is shown from now on, if anything moves
        self._told("string", string)
        return string
