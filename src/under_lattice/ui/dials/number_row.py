"""A number in its row: constant, derived or varied."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFont, QFontMetrics, QGuiApplication, QKeyEvent
from PySide6.QtWidgets import QAbstractButton, QPushButton, QWidget

from under_lattice.core.errors import InputError
from under_lattice.declare.dials import NumberDial
from under_lattice.ui.dials.curve import CurveButton, VaryMark
from under_lattice.ui.dials.field import NumberField, seen_step, shown, written
from under_lattice.ui.dials.hand import Hand
from under_lattice.ui.dials.parts import UNFOLD_WIDTH, Lock, NudgeRow, ThreadSlider, UnfoldButton
from under_lattice.ui.dials.row import LABEL_WIDTH, DialRow
from under_lattice.ui.dials.tie_actions import tie_entries, tie_words
from under_lattice.ui.dials.vary_panel import VaryPanel
from under_lattice.ui.look.layouts import once_released
from under_lattice.ui.look.numerals import as_written_here
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Remark, on_button
from under_lattice.vary.numbers import Channel, Varied
from under_lattice.vary.walk import ONE_COPY


class NumberRow(DialRow):
    """Label, thread, field and lock; or start, curve and end when the number varies."""

    unfolded = Signal()  # of two numbers in one row: each is to have its own

    def __init__(self, hand: Hand, name: str) -> None:
        super().__init__(hand, name)
        assert isinstance(self.dial, NumberDial)
        self.number: NumberDial = self.dial
        self.fields: list[NumberField] = []
        self.slider: ThreadSlider | None = None
        self.lock: Lock | None = None
        self.curve: CurveButton | None = None
        self.caption: QPushButton | None = None
        self.nudges: NudgeRow | None = None
        self.title = self.dial.label
        self.unfold: QAbstractButton | None = None
        self.step_size = 0 if self.number.kind in ("count", "seed") else 1
        self._meant = ""
        shown_at_once = (dial for dial in hand.rule.dials().values() if isinstance(dial, NumberDial) and dial.main)
        self._marks = self.number.vary or any(dial.vary for dial in shown_at_once)  # in one column, or in none
        self._visit: object | None = None
        self._scrub_from = 0.0
        self._kind = ""
        self._parts: list[QWidget] = []
        self._lead = QWidget()
        self.hint = Remark("hint")
        self.below.insertLayout(1, self.hint)  # below what is refused
        self.label.scrubs = True
        self.label.setCursor(Qt.CursorShape.SizeHorCursor)
        self.label.begun.connect(self._scrub_begun)
        self.label.scrubbed.connect(self._scrubbed)
        self.label.ended.connect(self._end_visit)
        self.label.abandoned.connect(self._give_up)

    # -- how it is built -------------------------------------------------------------------------
    def refresh(self) -> None:
        rule = self.hand.rule
        value, derived = getattr(rule, self.name), self.hand.derived(self.name)
        kind = "varied" if isinstance(value, Varied) else "derived" if derived is not None else "constant"
        if kind != self._kind:
            self._build(kind)
        if isinstance(value, Varied):
            for field, end in zip(self.fields, self._ends(value), strict=True):
                field.show_value(end)
            for field in self.fields:
                field.setReadOnly(bool(value.formula))
                field.setToolTip("What the formula gives; press the words below to change it." if value.formula else "")
            if self.curve is not None and self.caption is not None:
                self.curve.show_number(value, self.hand.facts.walks.get(value.rule, ONE_COPY))
                self.caption.setText(on_button(self._sentence(value)))
        else:
            self.fields[0].show_value(derived if derived is not None else float(value))
            if self.slider is not None:
                self.slider.show_value(float(value))
        if self.lock is not None:
            self.lock.setChecked(rule.holds(self.name))
        self._show_hint()

    def show_joined(self, joined: bool) -> None:
        """Stand for two numbers that are turned as one, under their common name, or for its own."""
        title = self.hand.title(self.name)
        if title == self.title:
            return
        self.title, self._kind = title, ""
        self.label.setText(title)
        if joined and self.unfold is None:
            self.unfold = UnfoldButton(f"{title}: across and along apart")
            self.unfold.clicked.connect(self.unfolded)
            self.line.insertWidget(1, self.unfold)
        elif not joined and self.unfold is not None:
            self.unfold.hide()
            self.unfold.deleteLater()
            self.unfold = None

    def _show_hint(self, meant: str | None = None) -> None:
        """Show what is to be said of the number; first what a text in per cent means."""
        self._meant = self._meant if meant is None else meant
        said = (self.hand.words(self.name), tie_words(self.hand, self.name))
        words = self._meant or ", ".join(filter(None, said))
        words = as_written_here(words) if words else words
        if words != self.hint.said:
            self.hint.say(words)

    def show_stepped(self) -> None:
        """Show whether the number is on the test strip, by the sign of its axis."""
        sign = self.hand.on_strip(self.name)
        if self.lock is not None and sign != self.lock.sign:
            self.lock.show_sign(sign)
            for field in self.fields:
                field.setProperty("strip", bool(sign))
                field.style().unpolish(field)
                field.style().polish(field)

    def _ends(self, value: Varied) -> tuple[float, float]:
        try:
            return value.ends(self.hand.facts.walks.get(value.rule, ONE_COPY))
        except InputError:  # no number there now: what it last gave
            return value.start, value.end

    def _sentence(self, value: Varied) -> str:
        source = next((r for r in self.hand.owner.own_rules if r.id == value.rule), None)
        if source is None:
            return "varies by a rule that is gone"
        once = self.hand.only_one(value)
        if once and not value.formula:
            return f"does not vary: {once}"
        many = sum(r.family == "repeat" for r in self.hand.owner.own_rules) > 1
        if not many:
            return value.sentence() if value.formula else f"varies {value.sentence()}"
        words = f"{value.sentence()}, {source.shown_name()}"
        return self.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, 178)

    def _clear(self) -> None:
        for part in self._parts:
            part.hide()
            part.setParent(None)
            part.deleteLater()
        self._parts, self.fields = [], []
        self.slider = self.lock = self.curve = self.caption = self.nudges = None

    def _build(self, kind: str) -> None:
        if {kind, self._kind} == {"constant", "derived"}:
            self._parts.remove(self._lead)
            self._lead.hide()
            self._lead.deleteLater()
            self._kind, self.slider = kind, None
            self._build_lead(kind)  # the field stays: somebody may be typing in it
            self._mark_derived(kind == "derived")
            return
        focused = any(field.hasFocus() for field in self.fields)
        self._clear()
        self._kind = kind
        self.label.setObjectName("varied" if kind == "varied" else "")
        self.label.setStyleSheet("")
        self.label.setFixedWidth(self._label_width(kind))
        if kind == "varied":
            self._build_varied()
        else:
            self._build_lead(kind)
            field = self._take(self._field(self.title, lambda v: self._turn_to(v)))
            field.keep_whole(px(80))
            self._take(self._new_lock())
            if self._marks:
                mark = VaryMark(self.title, self.number.vary)
                mark.clicked.connect(self.open_vary)
                self._take(mark)
            self._mark_derived(kind == "derived")
        if focused and self.fields:
            self.fields[0].setFocus()

    def _build_lead(self, kind: str) -> None:
        """Put a slider, or the room of one, between label and field."""
        if kind == "constant":
            self.slider = ThreadSlider(*self.number.slides, self.title)
            beyond = self.label.width() - px(LABEL_WIDTH) if self.unfold is None else 0  # a long name takes of the thread
            self.slider.setMinimumWidth(px(24))  # of a long number it gives way
            self.slider.setMaximumWidth(max(px(30), px(50 if self._marks else 72) - beyond))
            self.slider.begun.connect(self._slide_begun)
            self.slider.moved.connect(self._slid)
            self.slider.ended.connect(self._end_visit)
        self._lead = self.slider if self.slider is not None else QWidget()
        self._parts.append(self._lead)
        self.line.insertWidget(1 if self.unfold is None else 2, self._lead, 0 if self.slider is not None else 1)

    def _mark_derived(self, derived: bool) -> None:
        field = self.fields[0]
        field.setProperty("derived", derived)
        field.setToolTip(f"{self.dial.words} It follows from a choice; typing frees it." if derived else self.dial.words)
        field.style().unpolish(field)
        field.style().polish(field)

    def _label_width(self, kind: str) -> int:
        """A short name of a varied number leaves more room for its curve."""
        if kind != "varied":
            return self.label_width() if self.unfold is None else px(LABEL_WIDTH) - px(UNFOLD_WIDTH) - self.line.spacing()
        bold = QFont(self.label.font())
        bold.setBold(True)
        wide = QFontMetrics(bold).horizontalAdvance(self.title) + 4
        return max(px(36), wide) if wide < px(56) else px(LABEL_WIDTH)

    def _build_varied(self) -> None:
        start = self._take(self._field(f"{self.title}, start", lambda v: self._turn_end("start", v)))
        self.curve = self._take(CurveButton(f"{self.title}, curve"), 1)
        self.curve.clicked.connect(self.open_vary)
        end = self._take(self._field(f"{self.title}, end", lambda v: self._turn_end("end", v)))
        for field in (start, end):
            field.keep_whole(px(66 if self.label.width() < px(LABEL_WIDTH) else 60))
            field.setProperty("varied", True)
        self._take(self._new_lock())
        self.caption = QPushButton("")
        self.caption.setObjectName("linkSaf")
        self.caption.setAccessibleName(f"{self.title}: what it varies by")
        self.caption.setCursor(Qt.CursorShape.PointingHandCursor)
        self.caption.clicked.connect(self.open_vary)
        self._parts.append(self.caption)
        self.below.insertWidget(0, self.caption)

    def _take(self, part: Any, stretch: int = 0) -> Any:
        self._parts.append(part)
        self.line.addWidget(part, stretch)
        return part

    def _new_lock(self) -> Lock:
        self.lock = Lock(self.title)
        self.show_stepped()
        self.lock.clicked.connect(lambda on: self.hand.set_locked(self.name, on))
        return self.lock

    def _field(self, name: str, entered: Any) -> NumberField:
        field = NumberField(self.number, self.hand.unit_of(self.name), self.hand.sheet.resolution, name)
        field.entered.connect(entered)
        field.refused.connect(self.refuse)
        field.meant.connect(self._show_hint)
        field.takes_formulas = self.number.vary
        field.formula_wanted.connect(self.open_formula)
        field.setContextMenuPolicy(Qt.ContextMenuPolicy.NoContextMenu)  # the row's menu comes
        field.scale = self.hand.scale
        field.visited.connect(lambda: self._visited(field))
        field.left.connect(self._end_visit)
        field.abandoned.connect(self._give_up)
        field.nudged.connect(lambda way, size: self._nudge(field, way, size))
        self.fields.append(field)
        return field

    # -- how it is turned ------------------------------------------------------------------------
    def _turn_to(self, value: float) -> None:
        self._visit = self._visit or object()
        whole = self.number.kind in ("count", "seed")
        self.turn(int(value) if whole and value == int(value) else value, self._visit)

    def _turn_end(self, end: str, value: float) -> None:
        self._visit = self._visit or object()
        if isinstance(self.value, Varied):
            self.refuse(self.hand.turn(self.name, value, self._visit, end))

    def _end_visit(self) -> None:
        self._visit = None
        self.hand.document.end_visit()

    def _give_up(self) -> None:
        self.hand.document.give_up(self._visit)
        self._visit = None

    def _visited(self, field: NumberField) -> None:
        self._visit = None
        if self.slider is not None:
            self.slider.focused = True
            self.slider.update()
        if self.nudges is None:
            self.nudges = NudgeRow(self._steps(), self.step_size, self.title)
            self.nudges.nudged.connect(lambda way: self._nudge(self._focused(), way, 0))
            self.nudges.size_chosen.connect(self._choose_step)
            self._parts.append(self.nudges)
            self.below.insertWidget(0, self.nudges)
            field.left.connect(lambda: once_released(self, self._unvisit))

    def _unvisit(self) -> None:
        if any(field.hasFocus() for field in self.fields) or self.nudges is None:
            return
        self._parts.remove(self.nudges)
        self.nudges.setParent(None)
        self.nudges.deleteLater()
        self.nudges = None
        if self.slider is not None:
            self.slider.focused = False
            self.slider.update()

    def _focused(self) -> NumberField:
        return next((field for field in self.fields if field.hasFocus()), self.fields[0])

    def _steps(self) -> tuple[str, ...]:
        """The steps there are, as they are shown; of a length such as can be seen."""
        base = seen_step(self.number, self.hand.scale())
        return tuple(written(f"{base * factor:.10g}".removeprefix("0") or "0") for factor in self._factors())

    def _factors(self) -> tuple[float, float, float]:
        return (1, 10, 100) if self.number.kind in ("count", "seed") else (0.1, 1, 10)

    def _choose_step(self, at: int) -> None:
        self.step_size = at
        if self.nudges is not None:
            self.nudges.choose(at)

    def _nudge(self, field: NumberField, way: int, size: int) -> None:
        base = seen_step(self.number, self.hand.scale()) / self.number.step
        if self.nudges is not None:
            self.nudges.show_steps(self._steps())  # as one zooms in between
        field.step_by(way * base * self._factors()[min(max(self.step_size + size, 0), 2)])

    def _move_field(self, field: NumberField, value: float) -> None:
        field.setModified(False)
        field.value = value
        field.setText(shown(value, self.number))
        field.entered.emit(value)

    def _slide_begun(self) -> None:
        self.fields[0].setFocus(Qt.FocusReason.MouseFocusReason)
        self._visit = object()

    def _slid(self, value: float) -> None:
        self._move_field(self.fields[0], round(round(value / self.number.step) * self.number.step, 9))

    def _scrub_begun(self) -> None:
        self._scrub_from = self.fields[0].value
        self._visit = object()

    def _scrubbed(self, steps: float) -> None:
        value = self._scrub_from + round(steps) * self.number.step
        self._move_field(self.fields[0], round(min(max(value, self.number.least), self.number.most), 9))

    # -- vary ------------------------------------------------------------------------------------
    def actions_here(self) -> list[tuple[str, Any, bool]]:
        varied = isinstance(self.value, Varied)
        vary: list[tuple[str, Any, bool]] = []
        if self.number.vary:
            vary = [("Vary…" if not varied else "What it varies by…", self.open_vary, bool(self.hand.sources(self.name)) or varied)]
            vary += [("Stop varying", self.stop_varying, True)] if varied else []
            vary += [("Formula…", self.open_formula, vary[0][2])]
        locked = self.hand.rule.holds(self.name)
        lock = [("Unlock" if locked else "Lock", lambda: self.hand.set_locked(self.name, not locked), True)]
        return vary + tie_entries(self.hand, self.name, self) + lock + super().actions_here()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_V and not event.modifiers() and self.number.vary:
            self.open_vary()
        elif event.key() == Qt.Key.Key_L and not event.modifiers():
            self.hand.set_locked(self.name, not self.hand.rule.holds(self.name))
        else:
            super().keyPressEvent(event)

    def _copy(self) -> None:
        QGuiApplication.clipboard().setText(" → ".join(field.text() for field in self.fields))

    def open_vary(self) -> None:
        """Open the panel of sources; a constant begins to vary by the nearest repeat."""
        sources = self.hand.sources(self.name)
        if not isinstance(self.value, Varied):
            if not sources:
                self.hand.say("to vary a number, a repeat such as Lattice is needed first")
                return
            value = self.hand.derived(self.name) or float(self.value)
            channel: Channel = "column" if sources[-1].kind == "lattice" else "step"
            self.turn(Varied(rule=sources[-1].id, channel=channel, start=value, end=value))
            self._kind = self._kind if isinstance(self.value, Varied) else ""
            self.refresh()
        anchor = self.curve or self
        self.panel = VaryPanel(self.hand, self.name, sources)
        self.panel.closed.connect(self._go_to_end)
        self.panel.open_under(anchor)

    def open_formula(self, text: str = "") -> None:
        """Open the panel of sources at its formula, with a text if one was typed."""
        self.open_vary()
        if isinstance(self.value, Varied):
            self.panel.formula.setFocus(Qt.FocusReason.OtherFocusReason)
            if text:
                self.panel.formula.setText(text)
                self.panel.formula.textEdited.emit(text)

    def _go_to_end(self) -> None:
        """As long as both ends are the same, the other one is what comes next."""
        value = self.value
        if isinstance(value, Varied) and value.start == value.end and not (value.formula or value.taken):
            self.fields[1].setFocus(Qt.FocusReason.OtherFocusReason)

    def stop_varying(self) -> None:
        """Make the number constant again, at its start."""
        if isinstance(self.value, Varied):
            self.turn(self.value.start)
