"""All that moves, each on its thread, and what is set of the one in hand."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PySide6.QtCore import QPoint, Qt, QTimer, Signal
from PySide6.QtGui import QColor
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from under_lattice.core.errors import InputError
from under_lattice.core.units import short
from under_lattice.declare.frozen import edited
from under_lattice.explore.words import said
from under_lattice.frames.closing import Closing, closing_of
from under_lattice.loop.hanging import (
    as_one_with,
    begin_motion,
    copy_beads,
    drop_beads,
    hang,
    link,
    remove_motion,
    set_bead,
    stretch,
    title_of,
    told,
)
from under_lattice.loop.moment import motion_at, value_at
from under_lattice.ui.dials.move_actions import AS_ONE
from under_lattice.ui.look.layouts import emptied
from under_lattice.ui.look.popup_menu import PopupMenu
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Words, on_button, tip
from under_lattice.ui.loop.bead_line import BeadLine
from under_lattice.ui.loop.motion_thread import HIGH, MotionThread
from under_lattice.ui.state.desk import Desk
from under_lattice.ui.workers.worker import Job, Urgency, worker
from under_lattice.vary.motion import Motion, Place
from under_lattice.work.address import Address
from under_lattice.work.model import Design

NAMES, SAID, ROWS_SEEN = 208, 120, 4  # px of the names at the left and of the values at the right; threads seen at once
CLOSING_AFTER_MS = 300
NOTHING = "Nothing moves yet. Open the menu of a dial, or press B in it: Move this."


class MotionRows(QWidget):
    """A row for each thing that moves; pressing beads, dragging them and the line below edit it."""

    scrubbed = Signal(float)  # a time that is to be shown, 0..1

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.threads: dict[str, MotionThread] = {}
        self.values: dict[str, Words] = {}
        self.in_hand = ""
        self._drag: tuple[object, Design, tuple[int, ...]] | None = None
        self._names: tuple[object, ...] = ()
        self.line = BeadLine(desk)
        self.line.cured.connect(self._cure)
        self.line.rehung.connect(self._choose_at)
        self._looking = QTimer(self, singleShot=True, interval=CLOSING_AFTER_MS)
        self._looking.timeout.connect(self._look_whether_it_closes)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.rows = QVBoxLayout()
        self.rows.setContentsMargins(0, 0, 0, 0)
        self.rows.setSpacing(0)
        held = QWidget()
        held.setObjectName("scrolled")
        held.setLayout(self.rows)
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setFrameShape(QScrollArea.Shape.NoFrame)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.area.setWidget(held)
        column.addWidget(self.area)
        column.addWidget(self.line)

    # -- showing ---------------------------------------------------------------------------------
    def refresh(self) -> None:
        """Show the work as it is now."""
        design = self.desk.document.design
        if not any(one.id == self.in_hand for one in design.motions):
            self.in_hand = design.motions[0].id if design.motions else ""
        self._show_rows(design)
        self.show_time()
        self._show_line()
        if self.in_hand and self.desk.looked.string:
            self._looking.start()

    def show_time(self) -> None:
        """Show the moment."""
        design, time = self.desk.document.design, self.desk.looked.moment
        for motion in design.motions:
            if motion.id in self.threads:
                self.threads[motion.id].show_motion(motion, design.loop, time, motion.id == self.in_hand)
                place = motion.places[0]
                self.values[motion.id].setText(_in_words(design, place, value_at(design, motion, place, time)))

    def _show_rows(self, design: Design) -> None:
        """A row for each motion; they are made anew only when other things move."""
        names = tuple((one.id, *(told(design, place).words for place in one.places)) for one in design.motions)
        if names != self._names or not self._names:
            self._names = names
            emptied(self.rows)
            self.threads, self.values = {}, {}
            for motion in design.motions:
                self.rows.addWidget(self._row(design, motion))
            if not design.motions:
                words = Words(NOTHING)
                words.setObjectName("small")
                words.setContentsMargins(24, 4, 24, 6)
                self.rows.addWidget(words)
            self.rows.addStretch(1)
        seen = min(max(len(design.motions), 1), ROWS_SEEN)
        self.area.setFixedHeight(px(HIGH) * seen + 2)

    def _row(self, design: Design, motion: Motion) -> QWidget:
        line = QWidget()
        row = QHBoxLayout(line)
        row.setContentsMargins(24, 0, 24, 0)
        row.setSpacing(6)
        words = title_of(design, motion)
        name = QPushButton("")
        name.setObjectName("more")
        name.setFixedWidth(px(NAMES) - 6)
        name.setText(on_button(name.fontMetrics().elidedText(words, Qt.TextElideMode.ElideMiddle, px(NAMES) - 20)))
        name.setToolTip(tip(f"{'; '.join(told(design, place).words for place in motion.places)}. Press to open its card."))
        name.setAccessibleName(words)
        name.clicked.connect(partial(self._go_to, motion.id))
        thread = MotionThread(motion, words, _ink_of)
        self.threads[motion.id] = thread
        key = motion.id
        thread.chose.connect(partial(self._chose, key))
        thread.moved.connect(partial(self._moved, key))
        thread.let_go.connect(self._let_go)
        thread.hung.connect(partial(self._hang_there, key))
        thread.dropped.connect(partial(self._drop, key))
        thread.opened.connect(self._to_value)
        thread.menu_wanted.connect(partial(self._menu, key))
        row.addWidget(name)
        row.addWidget(thread, 1)
        self.values[key] = value = Words("")
        value.setObjectName("small")
        value.setFixedWidth(px(SAID))
        row.addWidget(value)
        return line

    def _show_line(self) -> None:
        motion = next((one for one in self.desk.document.design.motions if one.id == self.in_hand), None)
        thread = self.threads.get(self.in_hand)
        chosen = min(thread.chosen, default=-1) if thread is not None else -1
        self.line.show_motion(motion, chosen)

    # -- changes ---------------------------------------------------------------------------------
    def _edit(
        self, words: str, change: Callable[[Design], Design], visit: object | None = None, design: Design | None = None
    ) -> bool:
        document = self.desk.document
        try:
            document.apply(words, change(design or document.design), visit, whole=True)
        except InputError as error:
            self.desk.told.emit(error.message)
            return False
        self.desk.told.emit("")
        return True

    def move_dial(self, address: Address, course: str) -> None:
        """Let a dial move from now on, and take it in hand."""
        place = Place.model_validate({"layer": address.layer, "rule": address.rule, "dial": address.dial, "end": address.end})
        motion = motion_at(self.desk.document.design, place)
        along = as_one_with(self.desk.document.design, place) if course.endswith(AS_ONE) else ()
        course = course.removesuffix(AS_ONE)
        if course == "stop":
            if motion is not None:
                self._stop(motion.id)
            return
        if course.startswith("with "):
            self._edit("Move along", lambda design: link(design, course.removeprefix("with "), place, *along))
            return
        if motion is None and not self._edit("Move", lambda design: begin_motion(design, place, course, along)):
            return
        motion = motion_at(self.desk.document.design, place)
        if motion is not None:
            self.in_hand = motion.id
            self.desk.looked.string = True
            self.refresh()
            thread = self.threads[motion.id]
            thread.choose(len(motion.beads) - 1)
            thread.setFocus(Qt.FocusReason.ShortcutFocusReason)
            self.area.ensureWidgetVisible(thread)

    def _chose(self, key: str) -> None:
        self.in_hand = key
        for name, thread in self.threads.items():
            if name != key:
                thread.chosen = set()
        self.show_time()
        self._show_line()
        self.line.show_closing(None)
        self._looking.start()

    def _choose_at(self, time: float) -> None:
        """Choose the bead in hand that hangs nearest to a time."""
        motion = next((one for one in self.desk.document.design.motions if one.id == self.in_hand), None)
        if motion is not None:
            near = min(range(len(motion.beads)), key=lambda k: abs(motion.beads[k].time - time))
            self.threads[motion.id].chosen = {near}
            self.show_time()
            self._show_line()

    def _moved(self, key: str, by: float, copy: bool, stretched: bool) -> None:
        thread = self.threads[key]
        if self._drag is None:
            self._drag = object(), self.desk.document.design, tuple(sorted(thread.chosen))
        visit, design, chosen = self._drag
        motion = next((one for one in design.motions if one.id == key), None)
        if motion is None or not chosen:
            return
        times = [motion.beads[k].time for k in chosen]
        if not stretched:
            by = min(max(by, -times[0]), 1.0 - times[-1])

        def change(now: Design) -> Design:
            if copy:
                return copy_beads(now, key, chosen, by) if by else now
            if stretched:
                span = times[-1] - times[0]
                return stretch(now, key, chosen, max(0.0, (span + by) / span) if span else 1.0)
            return stretch(now, key, chosen, 1.0, by)

        if self._edit("Copy values" if copy else "Move values", change, visit, design) and not stretched:
            moved = next(one for one in self.desk.document.design.motions if one.id == key)
            thread.chosen = {k for k, bead in enumerate(moved.beads) if any(abs(bead.time - time - by) < 1e-6 for time in times)}
            self.show_time()
            self._show_line()

    def _let_go(self, kept: bool) -> None:
        if self._drag is not None:
            visit, self._drag = self._drag[0], None
            if kept:
                self.desk.document.end_visit()
            else:
                self.desk.document.give_up(visit)

    def _hang_there(self, key: str, time: float) -> None:
        """Hang the value that is there now at a time, so that it can be turned."""
        design = self.desk.document.design
        motion = next(one for one in design.motions if one.id == key)
        place = motion.places[0]
        if motion.course != "hung":
            self.desk.told.emit(f"it moves as a {motion.course}; choose “value to value” to hang more")
            return
        value = value_at(design, motion, place, time)
        if value is not None and self._edit("Hang a value", lambda now: hang(now, place, time, value)):
            moved = next(one for one in self.desk.document.design.motions if one.id == key)
            self.threads[key].choose(min(range(len(moved.beads)), key=lambda k: abs(moved.beads[k].time - time)))
            self.scrubbed.emit(time)

    def _drop(self, key: str) -> None:
        chosen = tuple(self.threads[key].chosen)
        if chosen:
            self.threads[key].chosen = set()
            self._edit("Take values off", lambda design: drop_beads(design, key, chosen))

    def _to_value(self) -> None:
        if self.line.value is not None and self.line.value.isVisible():
            self.line.value.setFocus(Qt.FocusReason.ShortcutFocusReason)

    def _go_to(self, key: str) -> None:
        """Take a motion in hand and open the card of what it moves."""
        self._chose(key)
        place = next(one for one in self.desk.document.design.motions if one.id == key).places[0]
        if place.layer in self.desk.document.design.tree.by_id:
            self.desk.looked.layer = place.layer
            self.desk.asked.emit("open", Address(place.layer, place.rule, place.dial))

    def _menu(self, key: str, at: QPoint) -> None:
        motion = next(one for one in self.desk.document.design.motions if one.id == key)
        menu = PopupMenu(self)
        rest = "Rest" if motion.on else "Move again"
        menu.addAction(rest, lambda: self._edit(rest, lambda d: _switched(d, key)))
        menu.addAction("Take off the chosen values", partial(self._drop, key))
        if len(motion.places) > 1:
            menu.addAction("Let the last of them go its own way", self.line.unlink_last)
        menu.addAction("Stop moving", partial(self._stop, key))
        menu.popup(at)

    def _stop(self, key: str) -> None:
        self._edit("Stop moving", lambda design: remove_motion(design, key, self.desk.looked.moment))

    # -- whether it closes -----------------------------------------------------------------------
    def _look_whether_it_closes(self) -> None:
        design, key = self.desk.document.design, self.in_hand
        if self.desk.looked.playing_at is not None or not any(one.id == key for one in design.motions):
            return
        worker().ask(
            Job("closing", Urgency.REST, lambda progress: closing_of(design, key, progress),
                partial(self._show_closing, design, key), owner=self)
        )  # fmt: skip

    def _show_closing(self, design: Design, key: str, closing: Closing) -> None:
        if design is self.desk.document.design and key == self.in_hand:
            self.line.show_closing(closing)

    def _cure(self, value: float) -> None:
        """Let the motion in hand end at a value with which it closes."""
        motion = next(one for one in self.desk.document.design.motions if one.id == self.in_hand)
        self._edit("Close the motion", lambda design: set_bead(design, motion.id, len(motion.beads) - 1, value=value))


def _in_words(design: Design, place: Place, value: Any) -> str:
    """A value as it is said; nothing where it is gone."""
    dial = told(design, place).dial
    if value is None:
        return ""
    return said(value, dial, design.sheet.unit) if dial is not None else short(float(value), 2)


def _switched(design: Design, key: str) -> Design:
    return edited(design, motions=tuple(edited(one, on=not one.on) if one.id == key else one for one in design.motions))


def _ink_of(value: object) -> QColor | None:
    """The colour of a bead on which a colour hangs."""
    first = value[0] if isinstance(value, tuple) and value else value
    found = QColor(first) if isinstance(first, str) and first.startswith("#") else QColor()
    return found if found.isValid() else None
