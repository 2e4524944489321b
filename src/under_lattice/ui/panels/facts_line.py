"""The facts line: what is measured of the work, what needs attention, and the one number that would put it right."""

from __future__ import annotations

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QSizePolicy, QWidget

from under_lattice.core.units import short
from under_lattice.measure.extent import Box
from under_lattice.measure.facts import Facts
from under_lattice.rules.findings import Cure, Warn
from under_lattice.ui.look.accessible import announce
from under_lattice.ui.look.glyphs import glyph_icon
from under_lattice.ui.look.numerals import as_written_here, capital, grouped
from under_lattice.ui.look.tokens import FACTS_HEIGHT, colour, px
from under_lattice.ui.look.words import Words, on_button, tip
from under_lattice.work.model import Sheet

LEAST = 320
WARNING, WARNING_BESIDE_CURE = 380, 240  # px of a warning to which facts give way
SENTENCE = 120  # px of any sentence at least


def _size(box: Box) -> str:
    """Width and height of a box."""
    return f"{box[2] - box[0]:.2f} × {box[3] - box[1]:.2f}"  # noqa: RUF001


def _place(box: Box) -> str:
    """Where a box begins and ends, from the middle of the sheet."""
    left, top, right, bottom = (f"{v:.2f}".replace("-", "\u2212") for v in box)
    return f"{left}, {top} to {right}, {bottom}"


class FactsLine(QWidget):
    """Copies, shapes, pitch, gap in words, warnings with their cure, size, time, zoom."""

    cured = Signal(object)
    shown_where = Signal(object)  # the warning
    sheet_wanted = Signal()
    spoken = Signal(str)
    stopped = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("facts")
        self.setFixedHeight(px(FACTS_HEIGHT))
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.row = QHBoxLayout(self)
        self.row.setContentsMargins(24, 0, 24, 0)
        self.row.setSpacing(16)
        self.row.setSizeConstraint(QHBoxLayout.SizeConstraint.SetNoConstraint)  # long words never widen the window
        self.copies, self.shapes, self.pitch = self._label("fact"), self._label("fact"), self._label("fact")
        self.gap, self.overall = self._label("good"), self._label("fact")
        self.warning = QPushButton("")
        self.warning.setObjectName("warn")
        self.warning.setCursor(Qt.CursorShape.PointingHandCursor)
        self.warning.clicked.connect(lambda: self.shown_where.emit(self._warn))
        self.row.addWidget(self.warning)
        self.cure = QPushButton("")
        self.cure.setObjectName("cure")
        self.cure.setCursor(Qt.CursorShape.PointingHandCursor)
        self.cure.clicked.connect(self._emit_cure)
        self.row.addWidget(self.cure)
        self.further = QPushButton("")
        self.further.setObjectName("link")
        self.further.clicked.connect(self._next_warning)
        self.row.addWidget(self.further)
        self.size_button = QPushButton("")
        self.size_button.setObjectName("plain")
        self.size_button.setToolTip("Sheet: size, unit, ground, construction grid")
        self.size_button.clicked.connect(self.sheet_wanted)
        self.size_button.setCursor(Qt.CursorShape.PointingHandCursor)
        self.row.addWidget(self.size_button)
        self.time = self._label("fact")
        self.stop = QPushButton("stop")
        self.stop.setObjectName("link")
        self.stop.setToolTip("Stop what is being worked out; the picture stays as it was")
        self.stop.setCursor(Qt.CursorShape.PointingHandCursor)
        self.stop.clicked.connect(self.stopped)
        self.stop.hide()
        self.row.addWidget(self.stop)
        self.row.addStretch(1)
        self.told = self._label("warn")
        self.zoom = self._label("small")
        self._said = ""
        self._warn: Warn | None = None
        self.sentence = self._warned = ""  # what is told, and warned of, whole
        self._warnings: tuple[Warn, ...] = ()
        self._at = 0
        self.show_facts(Facts(), Sheet(), "")

    def minimumSizeHint(self) -> QSize:
        return QSize(LEAST, px(FACTS_HEIGHT))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        """Where there is no room for all, a long warning gives way, what can be seen elsewhere, then what was told."""
        yielding = (self.time, self.shapes, self.zoom, self.overall, self.size_button, self.pitch)
        whole = self.told.text() == self.sentence and self.warning.text() == on_button(self._warned)
        if whole and all(part.isHidden() != bool(part.text()) for part in yielding) and self._lacks() <= 0:
            return
        self.told.setText(self.sentence)
        self.warning.setText(on_button(self._warned))
        for part in yielding:
            part.setVisible(bool(part.text()))
        most = px(WARNING if self.cure.isHidden() else WARNING_BESIDE_CURE)
        self._cut(self.warning, self._warned, most)
        for part in yielding:
            if self._lacks() <= 0:
                break
            part.hide()
        for long, sentence in ((self.told, self.sentence), (self.warning, self._warned)):  # less, or more where there is room now
            self._cut(long, sentence, px(SENTENCE))

    def _cut(self, part: QLabel | QPushButton, sentence: str, least: int) -> None:
        """Show as much of a sentence as there is room for, and so many px at least."""
        button, metrics = isinstance(part, QPushButton), part.fontMetrics()
        shown = metrics.size(Qt.TextFlag.TextShowMnemonic if button else Qt.TextFlag.TextSingleLine, part.text()).width()
        text = metrics.elidedText(sentence, Qt.TextElideMode.ElideRight, max(shown - self._lacks(), least))
        part.setText(on_button(text) if button else text)

    def _lacks(self) -> int:
        """Return how many px wider all that is shown is than the line."""
        return self.row.minimumSize().width() - self.width()

    def _label(self, name: str) -> QLabel:
        label = Words("")
        label.setObjectName(name)
        label.setTextFormat(Qt.TextFormat.PlainText)
        label.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Preferred)
        self.row.addWidget(label)
        return label

    def show_facts(self, facts: Facts, sheet: Sheet, problem: str) -> None:
        """Show the facts of the chosen layer; a problem of the whole work comes first."""
        unit = sheet.unit
        warnings = ((Warn(problem),) if problem else ()) + facts.warnings
        pieces = f"{grouped(facts.pieces)} {'piece' if facts.pieces == 1 else 'pieces'}" if facts.pieces else ""
        of_pieces = f", {pieces}" if facts.copies > 1 and pieces else ""
        in_all = f"{pieces} in all" if pieces and facts.copies == 1 else f"{grouped(facts.copies)} in all{of_pieces}"
        self._set(self.copies, "" if facts.veils else in_all)
        shapes = f"{grouped(facts.distinct)} distinct {'shape' if facts.distinct == 1 else 'shapes'}"
        self._set(self.shapes, shapes if facts.of is not None else "")
        self._set(self.pitch, f"{facts.pitch:.2f} {unit} pitch" if facts.pitch is not None else "")
        said = any(facts.gap_words and facts.gap_words in warn.sentence for warn in warnings)
        self._set(self.gap, "" if said else facts.gap_words)
        self.gap.setObjectName("good" if facts.gap is not None and facts.gap > -1e-6 and not facts.corners else "fact")
        self.gap.style().polish(self.gap)
        inked = "" if facts.gap_inked is None else f"Between strokes {facts.gap_inked:.2f} {unit}".replace("-", "\u2212")
        self.gap.setToolTip(tip(as_written_here(inked)))
        self._show_overall(facts, unit)
        self.size_button.setText(as_written_here(f"{short(sheet.width)} × {short(sheet.height)} {unit}"))  # noqa: RUF001
        self.size_button.setAccessibleName(f"Sheet, {self.size_button.text()}")
        if warnings != self._warnings:
            self._warnings, self._at = warnings, 0
        self._show_warning()
        words = [w.text() for w in (self.copies, self.shapes, self.pitch, self.gap) if w.text()]
        self.setAccessibleName("Facts")
        self.setAccessibleDescription(", ".join(words + [warn.sentence for warn in warnings]))
        self.spoken.emit(self.accessibleDescription())
        if self.accessibleDescription() != self._said:
            self._said = self.accessibleDescription()
            announce(self, self._said)

    def show_measuring(self) -> None:
        """Say that the work shown is still being measured, in place of facts of the one before it."""
        for part in (self.copies, self.shapes, self.pitch, self.overall):
            self._set(part, "")
        self._warnings = ()
        self._show_warning()
        self.gap.setObjectName("fact")
        self.gap.style().polish(self.gap)
        self._set(self.gap, "measuring…")
        self._fit()

    def _show_overall(self, facts: Facts, unit: str) -> None:
        """Say how large all outlines are, and on hover with their strokes, where they lie, and how much they cover."""
        if facts.bounds is None:
            self._set(self.overall, "")
            return
        self._set(self.overall, f"overall {_size(facts.bounds)} {unit}")
        said = [f"outlines from {_place(facts.bounds)} {unit}"]
        said += [f"with strokes {_size(facts.inked)} {unit}"] if facts.inked is not None else []
        said += [f"covers {facts.coverage:.0f} % of the sheet"] if facts.coverage is not None else []
        self.overall.setToolTip(tip(as_written_here("\n".join(capital(one) for one in said))))

    def _show_warning(self) -> None:
        self._warn = self._warnings[self._at % len(self._warnings)] if self._warnings else None
        self.warning.setVisible(self._warn is not None)
        cure: Cure | None = self._warn.cure if self._warn else None
        self.cure.setVisible(cure is not None)
        self.further.setVisible(len(self._warnings) > 1)
        if self._warn is not None:
            self._warned = as_written_here(capital(self._warn.sentence))
            self.warning.setText(on_button(self._warned))
            self.warning.setIcon(glyph_icon("attention", colour("text")))
            self.warning.setToolTip(tip(self._warn.sentence + (". Shows where" if self._warn.rule or self._warn.rings else "")))
            self.warning.setAccessibleName(f"Attention: {self._warn.sentence}")
        if cure is not None:
            self.cure.setText(on_button(as_written_here(cure.words)))
            self.cure.setAccessibleName(f"Cure: {cure.words}")
        self.further.setText(f"{self._at % max(1, len(self._warnings)) + 1} of {len(self._warnings)}")
        self.further.setToolTip("Next thing that needs attention")
        self._fit()

    def _emit_cure(self) -> None:
        if self._warn is not None and self._warn.cure is not None:
            self.cured.emit(self._warn.cure)

    def _next_warning(self) -> None:
        self._at += 1
        self._show_warning()

    def _set(self, label: QLabel, text: str) -> None:
        label.setText(as_written_here(text))
        label.setVisible(bool(text))

    def show_working(self, words: str) -> None:
        """Say what is at work and how far it is, with a way to stop it."""
        self._show_time(words, True)

    def show_time(self, words: str) -> None:
        """Show how long the last picture took, or that one is being drawn."""
        self._show_time(words, False)

    def _show_time(self, words: str, stops: bool) -> None:
        self.stop.setVisible(stops)
        self._set(self.time, words)
        self._fit()

    def show_zoom(self, words: str) -> None:
        """Show the zoom."""
        self._set(self.zoom, f"zoom {words}")
        self._fit()

    def tell(self, sentence: str) -> None:
        """Say something that just happened; nothing takes it away."""
        sentence = capital(sentence)
        announce(self, sentence)
        self.told.setToolTip(tip(sentence))
        self.sentence = as_written_here(sentence)
        self._set(self.told, sentence)
        self._fit()
