"""The string of time under the sheet: a line that plays, and opened what moves, each on its thread."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Count
from under_lattice.declare.frozen import edited
from under_lattice.declare.option_dials import Seconds
from under_lattice.ui.dials.field import NumberField
from under_lattice.ui.look.layouts import stands
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Words, tip
from under_lattice.ui.loop.motion_rows import NAMES, SAID, MotionRows
from under_lattice.ui.loop.player import Player
from under_lattice.ui.loop.time_thread import TimeThread
from under_lattice.ui.state.desk import Desk

LEAST = 320
LENGTH = Seconds("Length", "Of the whole loop.", least=0.04, most=3600.0)
RATE = Count("Pictures a second", "As finely as it plays.", most=120)


class StringPanel(QWidget):
    """Closed it plays and scrubs; open it shows each thing that moves."""

    film_wanted = Signal()

    def __init__(self, desk: Desk, player: Player) -> None:
        super().__init__()
        self.setObjectName("string")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.desk, self.player = desk, player
        self._visit: object = object()
        self.rows = MotionRows(desk)
        self.rows.scrubbed.connect(self.scrub)
        self._lay_out()
        desk.document.changed.connect(self.refresh)
        desk.looked.picture_changed.connect(self._show_time)
        desk.looked.played.connect(self._show_time)
        desk.looked.loop_changed.connect(self.refresh)
        player.ended.connect(self._show_time)
        self.hide()
        player.told.connect(lambda _: self.words.setText(f"{player.dropped:,} dropped"))
        self.refresh()

    # -- parts -----------------------------------------------------------------------------------
    def _lay_out(self) -> None:
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addLayout(self._top())
        self.body = QWidget()
        column = QVBoxLayout(self.body)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(self._settings())
        column.addWidget(self.rows)
        whole.addWidget(self.body)

    def _top(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setContentsMargins(24, 0, 24, 0)
        row.setSpacing(6)
        left = QWidget()
        left.setFixedWidth(px(NAMES) - 6)
        inside = QHBoxLayout(left)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(4)
        self.play_button = self._button("Play", "Play, or stop (Space on the sheet or here, F8)", self.toggle)
        self.play_button.setFixedWidth(px(52))
        back = self._button("\N{MINUS SIGN}", "A picture back", lambda: self.step(-1))
        on = self._button("+", "A picture on", lambda: self.step(1))
        for button in (back, on):
            button.setFixedWidth(px(26))
            button.setAccessibleName(button.toolTip())
        self.readout = NumberField(Seconds("Time", "That is shown."), "s", 96.0, "Time that is shown")
        self.readout.entered.connect(lambda value: self.scrub(value / self.player.loop.seconds))
        self.readout.nudged.connect(lambda way, _: self.step(way))
        for part in (self.play_button, back, on):
            inside.addWidget(part)
        inside.addWidget(self.readout, 1)
        self.time = TimeThread()
        self.time.scrubbed.connect(self.scrub)
        self.time.stepped.connect(self.step)
        self.time.area_changed.connect(lambda begin, end: self._set_loop("Part worked on", self._visit, begin=begin, end=end))
        self.time.let_go.connect(self._end_visit)
        self.words = Words("")
        self.words.setObjectName("small")
        self.words.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        right = QWidget()
        right.setFixedWidth(px(SAID))
        beside = QHBoxLayout(right)
        beside.setContentsMargins(0, 0, 0, 0)
        beside.setSpacing(4)
        self.open_button = QPushButton("Loop")
        self.open_button.setCheckable(True)
        self.open_button.setToolTip("What moves, each on its thread (Ctrl+9)")
        self.open_button.clicked.connect(self._open)
        row.addWidget(left)
        row.addWidget(self.time, 1)
        beside.addWidget(self.words, 1)
        beside.addWidget(self.open_button)
        row.addWidget(right)
        return row

    def _settings(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setContentsMargins(24, 2, 24, 4)
        row.setSpacing(6)
        self.seconds = self._loop_field(LENGTH, "s", "Length of the loop", lambda v: {"seconds": v})
        self.rate = self._loop_field(RATE, "", "Pictures a second", lambda v: {"rate": int(v)})
        self.closed = QCheckBox("Closed")
        self.closed.setToolTip("The end is the beginning; else it runs once")
        self.closed.clicked.connect(lambda on: self._set_loop("Closed string" if on else "String that runs once", None, closed=on))
        self.record = QPushButton("Record")
        self.record.setCheckable(True)
        self.record.setToolTip("What is turned hangs at the moment that is shown, also while it plays")
        self.record.clicked.connect(self._record)
        self.beside = QCheckBox("Beside")
        self.beside.setToolTip("The moments before and after are shown as lines")
        self.beside.clicked.connect(lambda on: setattr(self.desk.looked, "beside", on))
        self.film = self._button("Film…", "Export the loop as a film, an animation or single pictures", self.film_wanted.emit)
        in_all = Words("in all,")
        for part in (self.seconds, in_all, self.rate, Words("a second"), self.closed, self.beside, self.record):
            row.addWidget(part)
        row.addStretch(1)
        row.addWidget(self.film)
        return row

    def _button(self, words: str, words_long: str, act: Callable[[], object]) -> QPushButton:
        button = QPushButton(words)
        button.setToolTip(tip(words_long))
        button.clicked.connect(lambda: act())
        return button

    def _loop_field(self, dial: Any, unit: str, name: str, change: Callable[[float], dict[str, Any]]) -> NumberField:
        field = NumberField(dial, unit, 96.0, name)
        field.keep_whole(px(64))
        field.entered.connect(lambda value: self._set_loop(name, self._visit, **change(value)))
        field.refused.connect(self.desk.told.emit)
        field.abandoned.connect(lambda: self.desk.document.give_up(self._visit))
        field.left.connect(self._end_visit)
        field.nudged.connect(field.step_seen)
        return field

    def minimumSizeHint(self) -> QSize:
        return QSize(LEAST, super().minimumSizeHint().height())  # parts that come and go never widen the window

    # -- showing ---------------------------------------------------------------------------------
    def refresh(self) -> None:
        """Show the work as it is now."""
        design, looked = self.desk.document.design, self.desk.looked
        shown = looked.string or bool(design.motions)
        if not shown and self.isHidden():
            return
        self.open_button.setChecked(looked.string)
        self.record.setChecked(looked.recording)
        self.beside.setChecked(looked.beside)
        self.closed.setChecked(design.loop.closed)
        self.seconds.show_value(design.loop.seconds)
        self.rate.show_value(design.loop.rate)
        if looked.string:
            self.rows.refresh()  # before it is seen, so that it takes no more room than it needs
        self.body.setVisible(looked.string)
        stands(self, shown)
        self._show_time()

    def _show_time(self) -> None:
        design, time = self.desk.document.design, self.desk.looked.moment
        self.time.show_loop(design.loop, time)
        self.readout.show_value(time * design.loop.seconds)
        self.play_button.setText("Stop" if self.player.playing else "Play")
        self.rows.show_time()
        count = len(design.motions)
        if not self.player.playing:
            self.words.setText(f"{count} motion{'' if count == 1 else 's'}" if count else "")

    # -- playing ---------------------------------------------------------------------------------
    def toggle(self) -> None:
        """Play, or stop."""
        if self.player.playing:
            self.player.stop()
        elif self.desk.document.design.motions:
            self.player.play()
        else:
            self.desk.looked.string = True
            self.desk.told.emit("nothing moves yet; the menu of a dial has “Move this”")
        self._show_time()

    def scrub(self, time: float) -> None:
        """Show a time of the loop."""
        self.player.stop()
        self.desk.looked.time = min(max(time, 0.0), 1.0)

    def step(self, pictures: int) -> None:
        """Go some pictures on or back; on a closed string round and round."""
        self.player.stop()
        loop = self.player.loop
        at = round(self.desk.looked.time * loop.pictures) + pictures
        at = at % loop.pictures if loop.closed else min(max(at, 0), loop.pictures)
        self.desk.looked.time = at / loop.pictures

    def _open(self, on: bool) -> None:
        self.desk.looked.string = on

    def _record(self, on: bool) -> None:
        self.desk.looked.recording = on
        self.desk.told.emit("what is turned now hangs at the moment that is shown" if on else "")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            self.toggle()
        else:
            super().keyPressEvent(event)

    # -- changes ---------------------------------------------------------------------------------
    def _set_loop(self, words: str, visit: object | None, **changes: Any) -> None:
        document = self.desk.document
        try:
            document.apply(words, edited(document.design, loop=edited(document.design.loop, **changes)), visit, whole=True)
        except InputError as error:
            self.desk.told.emit(error.message)

    def _end_visit(self) -> None:
        self._visit = object()
        self.desk.document.end_visit()
