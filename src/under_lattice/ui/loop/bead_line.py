"""What is set of the motion in hand: the bead that is chosen, its course, and the wave it runs through the copies as."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Count, NumberDial, Ratio, Seed
from under_lattice.declare.frozen import edited
from under_lattice.declare.option_dials import Seconds
from under_lattice.frames.closing import Closing
from under_lattice.loop.hanging import drop_beads, remove_motion, set_bead, set_lag, told, unlink, with_motion
from under_lattice.loop.moment import found_at, is_number
from under_lattice.rules.base import Rule
from under_lattice.ui.dials.colour_panel import open_under
from under_lattice.ui.dials.curve_editor import CurveEditor
from under_lattice.ui.dials.field import NumberField
from under_lattice.ui.look.numerals import capital
from under_lattice.ui.look.quiet_combo import QuietCombo
from under_lattice.ui.look.tokens import px
from under_lattice.ui.look.words import Words, on_button
from under_lattice.ui.state.desk import Desk
from under_lattice.vary.motion import COURSES, TIMES_MOST, WAYS, Lag, Motion
from under_lattice.work.model import Design
from under_lattice.work.named import named
from under_lattice.work.suggest import sources_of

TIME = Seconds("Time", "When the value hangs on the string.", digits=3, step=0.04)
TIMES = Count("Times", "How often it is gone through in each loop.", most=TIMES_MOST)
WIDTH = Ratio("Share", "Of its time that the pulse takes.", least=1.0)
LOOPS = NumberDial("Loops", "By how many loops the last copy is behind the first.", least=-100.0, most=100.0, step=0.1)
SEED = Seed("Chance", "Another seed wanders another way.")
PLAIN = NumberDial("Value", "What hangs there.")
WAVES = {
    "": "no wave", "step": "wave by step", "row": "by row", "column": "by column", "diagonal": "by diagonal", "ring": "by ring",
    "distance": "by distance", "direction": "by direction", "x": "left to right", "y": "top to bottom", "noise": "smooth chance",
    "chance": "by chance",
}  # fmt: skip
ALIKE = "all copies alike"
WAY_WORDS = {"even": "evenly on", "gentle": "gently on", "hold": "held", "drawn": "drawn way"}
COURSE_WORDS = {"hung": "value to value"}


class BeadLine(QWidget):
    """Shown while a motion is in hand; every field is live, one visit being one step of undo."""

    cured = Signal(float)
    rehung = Signal(float)  # the time at which the bead hangs now, perhaps beyond others

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.motion: Motion | None = None
        self._cure_value = 0.0
        self.bead = 0
        self._visit = object()
        self.time = self._field(TIME, "s", "Time of the value", lambda v: self._bead(time=v / self._seconds))
        self.value: NumberField | None = None
        self.value_words = Words("")
        self.way = self._combo("The way on from this value", [WAY_WORDS[way] for way in WAYS], self._choose_way)
        self.draw = QPushButton("Draw…")
        self.draw.clicked.connect(self._draw_way)
        self.drop = self._button("Take off", "Take this value off the string", lambda d, m: drop_beads(d, m.id, (self.bead,)))
        self.course = self._combo("How it moves", [COURSE_WORDS.get(one, one) for one in COURSES], self._choose_course)
        self.times = self._field(TIMES, "", "Times in each loop", lambda v: self._motion(times=int(v)))
        self.width_field = self._field(WIDTH, "%", "Share of its time the pulse takes", lambda v: self._motion(width=v / 100))
        self.seed = self._field(SEED, "", "Chance it wanders by", lambda v: self._motion(seed=int(v)))
        self.wave = self._combo("Wave through the copies", list(WAVES.values()), self._choose_wave)
        self.source = self._combo("Whose copies", ["of Progression"], self._choose_source)
        self.loops = self._field(LOOPS, "", "Loops the last copy is behind", self._set_loops)
        self.stop = self._button("Stop moving", "It stays as it is now", lambda d, m: remove_motion(d, m.id, desk.looked.moment))
        self.closing = Words("")
        self.closing.setObjectName("small")
        self.cure = QPushButton("")
        self.cure.setObjectName("cure")
        self.cure.clicked.connect(lambda: self.cured.emit(self._cure_value))
        self._value_of: tuple[object, str] | None = None
        self._lay_out()
        self.show_closing(None)
        self.show_motion(None, -1)

    # -- parts -----------------------------------------------------------------------------------
    def _field(self, dial: NumberDial, unit: str, name: str, entered: Callable[[float], None]) -> NumberField:
        field = NumberField(dial, unit, self.desk.document.design.sheet.resolution, name)
        field.keep_whole(px(64))
        field.entered.connect(entered)
        field.refused.connect(self.desk.told.emit)
        field.abandoned.connect(lambda: self.desk.document.give_up(self._visit))
        field.left.connect(self._leave)
        field.nudged.connect(field.step_seen)
        return field

    def _combo(self, name: str, words: list[str], chosen: Callable[[int], None]) -> QuietCombo:
        combo = QuietCombo(name)
        combo.addItems(words)
        combo.setMinimumContentsLength(max(map(len, words)))
        combo.activated.connect(chosen)
        return combo

    def _button(self, words: str, tip: str, change: Callable[[Design, Motion], Design]) -> QPushButton:
        button = QPushButton(words)
        button.setToolTip(tip)
        button.clicked.connect(lambda: self._edit(words, lambda design: change(design, self._now())))
        return button

    def _lay_out(self) -> None:
        whole = QVBoxLayout(self)
        whole.setContentsMargins(24, 2, 24, 6)
        whole.setSpacing(4)
        self._upper, lower = QHBoxLayout(), QHBoxLayout()
        for row in (self._upper, lower):
            row.setSpacing(6)
            whole.addLayout(row)
        self.at_words = Words("At")
        for part in (self.at_words, self.time, self.value_words, self.way, self.draw, self.drop):
            self._upper.addWidget(part)
        self.closing.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.closing.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self._upper.addWidget(self.closing, 1)
        self._upper.addWidget(self.cure)
        self.times_words, self.loops_words = Words("times"), Words("loops")
        for part in (
            self.course,
            self.times,
            self.times_words,
            self.width_field,
            self.seed,
            self.wave,
            self.source,
            self.loops,
            self.loops_words,
        ):
            lower.addWidget(part)
        lower.addStretch(1)
        lower.addWidget(self.stop)

    def _leave(self) -> None:
        self._visit = object()
        self.desk.document.end_visit()

    @property
    def _seconds(self) -> float:
        return self.desk.document.design.loop.seconds

    # -- showing ---------------------------------------------------------------------------------
    def show_motion(self, motion: Motion | None, bead: int) -> None:
        """Show a motion and one of its beads, or -1 for none."""
        self.motion, self.bead = motion, bead
        self.setVisible(motion is not None)
        if motion is None:
            return
        some = 0 <= bead < len(motion.beads)
        for part in (self.at_words, self.time, self.way, self.drop):
            part.setVisible(some)
        if some:
            self.time.show_value(motion.beads[bead].time * self._seconds)
            self.way.setCurrentIndex(WAYS.index(motion.beads[bead].way))
        hung = motion.course == "hung"
        self.way.setVisible(some and hung)
        self.draw.setVisible(some and hung and motion.beads[bead].way == "drawn")
        self._show_value(motion, bead if some else -1)
        self.course.setCurrentIndex(COURSES.index(motion.course))
        self.times.show_value(motion.times)
        for part in (self.times, self.times_words):
            part.setVisible(not hung)
        self.width_field.show_value(motion.width * 100)
        self.width_field.setVisible(motion.course == "pulse")
        self.seed.show_value(motion.seed)
        self.seed.setVisible(motion.course == "wander")
        self._show_wave(motion)

    def _show_wave(self, motion: Motion) -> None:
        channel = motion.lag.channel if motion.lag is not None else ""
        self.wave.setCurrentIndex(list(WAVES).index(channel) if channel in WAVES else 0)
        numeric = all(is_number(one.value) for one in motion.beads)
        sources = self._sources()
        self.wave.setVisible(numeric and not motion.places[0].end)
        self.wave.setEnabled(bool(sources))
        self.wave.setItemText(0, WAVES[""] if sources else ALIKE)
        self.wave.setToolTip(
            ""
            if sources
            else "This number is one for all copies; those of Adjust, and others with a curve beside them, run as waves"
        )
        self.source.setVisible(motion.lag is not None and len(sources) > 1)
        names = [f"of {rule.shown_name()}" for rule in sources]
        if [self.source.itemText(k) for k in range(self.source.count())] != names:
            self.source.clear()
            self.source.addItems(names)
        ids = [rule.id for rule in sources]
        if motion.lag is not None and motion.lag.rule in ids:
            self.source.setCurrentIndex(ids.index(motion.lag.rule))
        for part in (self.loops, self.loops_words):
            part.setVisible(motion.lag is not None)
        if motion.lag is not None:
            self.loops.show_value(motion.lag.loops)
        self.course.setVisible(numeric)

    def _show_value(self, motion: Motion, bead: int) -> None:
        """A field where a number hangs, of the kind of its dial; words where it is something else."""
        design = self.desk.document.design
        number = bead >= 0 and is_number(motion.beads[bead].value)
        dial = told(design, motion.places[0]).dial
        if number and (self._value_of is None or self._value_of != (dial, design.sheet.unit)):
            self._new_value_field(dial if isinstance(dial, NumberDial) else PLAIN, self._unit_of(design, dial, motion))
            self._value_of = (dial, design.sheet.unit)
        if self.value is not None:
            self.value.setVisible(number)
            if number:
                self.value.show_value(float(motion.beads[bead].value))
        self.value_words.setVisible(bead >= 0 and not number)
        if bead >= 0 and not number:
            self.value_words.setText("its value is what its dial says here; turn that")

    def _unit_of(self, design: Design, dial: object, motion: Motion) -> str:
        if isinstance(dial, NumberDial):
            return dial.unit or (design.sheet.unit if dial.kind == "length" else "")
        own = named(design, motion.places[0].dial) if any(one.id == motion.places[0].dial for one in design.dials) else None
        return {"length": design.sheet.unit, "angle": "°", "ratio": "%"}.get(own.measure if own is not None else "", "")

    def _new_value_field(self, dial: NumberDial, unit: str) -> None:
        if self.value is not None:
            self._upper.removeWidget(self.value)
            self.value.deleteLater()
        self.value = self._field(dial, unit, "Value that hangs there", lambda v: self._bead(value=v))
        self.value.keep_whole(px(84))
        self._upper.insertWidget(2, self.value)

    def show_closing(self, closing: Closing | None) -> None:
        """Show whether the motion closes, and what would make it."""
        self.closing.setText("" if closing is None else capital(closing.words))
        cure = closing.cures[0] if closing is not None and closing.cures else None
        self.cure.setVisible(cure is not None)
        if cure is not None:
            self._cure_value = cure.value
            self.cure.setText(on_button(f"end after {cure.words}"))

    # -- changes ---------------------------------------------------------------------------------
    def _now(self) -> Motion:
        assert self.motion is not None
        return self.motion

    def _edit(self, words: str, change: Callable[[Design], Design], visit: object | None = None) -> None:
        if self.motion is None:
            return
        try:
            self.desk.document.apply(words, change(self.desk.document.design), visit, whole=True)
            self.desk.told.emit("")
        except InputError as error:
            self.desk.told.emit(error.message)

    def _bead(self, **changes: Any) -> None:
        if self.motion is not None and 0 <= self.bead < len(self.motion.beads):
            at = self.bead
            self._edit("A value on the string", lambda d: set_bead(d, self._now().id, at, **changes), self._visit)
            if "time" in changes:
                self.rehung.emit(changes["time"])

    def _motion(self, **changes: Any) -> None:
        self._edit("How it moves", lambda d: with_motion(d, self._now().id, lambda one: edited(one, **changes)), self._visit)

    def _choose_way(self, at: int) -> None:
        points = CurveEditor().points if WAYS[at] == "drawn" and not self._now().beads[self.bead].points else None
        self._bead(way=WAYS[at], **({"points": points} if points else {}))

    def _draw_way(self) -> None:
        editor = CurveEditor()
        editor.show_points(self._now().beads[self.bead].points)
        editor.changed.connect(lambda points: self._bead(points=points))
        editor.let_go.connect(self._leave)
        open_under(editor, self.draw)

    def _choose_course(self, at: int) -> None:
        self._motion(course=COURSES[at])
        self._leave()

    def _sources(self) -> list[Rule]:
        """The rules whose copies can be behind one another in what the motion moves, the nearest last."""
        design, place = self.desk.document.design, self._now().places[0]
        layer = design.tree.by_id.get(place.layer)
        found = found_at(design, place)
        return sources_of(layer, found[0], place.dial) if layer is not None and found is not None else []

    def _choose_wave(self, at: int) -> None:
        channel, sources, motion = list(WAVES)[at], self._sources(), self._now()
        old, lag = motion.lag, None
        if channel and sources:
            rule, loops = (old.rule, old.loops) if old is not None else (sources[-1].id, 1.0)
            lag = Lag.model_validate({"rule": rule, "channel": channel, "loops": loops})
        self._edit("Wave through the copies", lambda d: set_lag(d, motion.id, lag))
        self.show_motion(self.motion, self.bead)  # as it is, where that was refused

    def _choose_source(self, at: int) -> None:
        lag, sources = self._now().lag, self._sources()
        if lag is not None and at < len(sources):
            self._edit("Wave", lambda d: set_lag(d, self._now().id, edited(lag, rule=sources[at].id)))

    def _set_loops(self, value: float) -> None:
        lag = self._now().lag
        if lag is not None:
            self._edit("Wave", lambda d: set_lag(d, self._now().id, edited(lag, loops=value)), self._visit)

    def unlink_last(self) -> None:
        """Let the last of several places go its own way."""
        self._edit("Unlink", lambda d: unlink(d, self._now().places[-1]))
