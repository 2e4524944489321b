"""What is looked at: the chosen layer, its open rule, the time of the loop, lines only, handles and grid.

The one place for it: whoever changes it, all who listen hear of it; no panel knows another.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from PySide6.QtCore import QObject, Signal

from under_lattice.ui.state.document import Document
from under_lattice.work.address import Address
from under_lattice.work.layers import AnyLayer
from under_lattice.work.model import Design


def _heard(name: str, signal: str, words: str) -> property:
    """A property kept under `name`, of which `signal` tells when it changes."""

    def get(self: LookedAt) -> Any:
        return getattr(self, name)

    def put(self: LookedAt, value: Any) -> None:
        if value != getattr(self, name):
            setattr(self, name, value)
            getattr(self, signal).emit()

    return property(get, put, doc=words)


RECORDED_EVERY = 0.1  # s


@dataclass(frozen=True, eq=False)
class Instead:
    """A design looked at in place of the work, and what it is."""

    design: Design
    words: str


class LookedAt(QObject):
    """What the person looks at in the open work; no part of the work itself."""

    layer_changed = Signal()
    rule_changed = Signal(str)  # the open one, or nothing
    played = Signal()  # another moment is shown while it plays
    loop_changed = Signal()  # the string is opened or closed, recording begins or ends
    picture_changed = Signal()  # the time, or lines only: the sheet is painted anew
    strip_changed = Signal()  # other dials are on the test strip
    overlay_changed = Signal()  # handles or grid

    def __init__(self, document: Document) -> None:
        super().__init__()
        self._document = document
        self.scale = 0.0  # px of the screen for each unit of the sheet
        self._layer = self._rule = ""
        self._bones, self._time, self._alone, self._masks = False, 0.0, "", False
        self._handles, self._grid, self._repeat = True, False, False
        self._string, self._recording, self._beside = False, False, False
        self._playing_at: float | None = None
        self._instead: Instead | None = None
        self._stepped: dict[Address, str] = {}
        document.changed.connect(self._keep)
        longest = max(document.design.chains(), key=lambda chain: len(chain.rules), default=None)  # of equals the front one
        main = document.design.tree.by_id.get(document.design.main)
        self._layer = main.id if main is not None else longest.id if longest is not None else ""

    def _keep(self) -> None:
        """Choose another layer when the chosen one is gone; whoever edits looks at the work again."""
        self.instead = None
        chains = self._document.design.chains()
        if self._alone not in self._document.design.tree.by_id:
            self.alone = ""
        if self.chosen is None:
            self.layer = chains[0].id if chains else ""

    @property
    def chosen(self) -> AnyLayer | None:
        """The chosen layer as it is now."""
        return self._document.design.tree.by_id.get(self._layer)

    @property
    def moment(self) -> float:
        """The time of the loop, 0..1, that is shown now: where it plays, or where it rests."""
        return self._time if self._playing_at is None else self._playing_at

    @property
    def hanging_at(self) -> float:
        """The time of the loop, 0..1, at which what is turned hangs; recorded while it plays, in steps that leave room for more."""
        if self._playing_at is None or not self._recording:
            return self.moment
        step = RECORDED_EVERY / self._document.design.loop.seconds
        return min(round(self._playing_at / step) * step, 1.0)

    @property
    def layer(self) -> str:
        """Id of the chosen layer, or nothing."""
        return self._layer

    @layer.setter
    def layer(self, layer: str) -> None:
        if layer != self._layer:
            self._layer = layer
            self.layer_changed.emit()

    @property
    def rule(self) -> str:
        """Id of the open rule, or nothing."""
        return self._rule

    @rule.setter
    def rule(self, rule: str) -> None:
        if rule != self._rule:
            self._rule = rule
            self.rule_changed.emit(rule)

    alone = _heard("_alone", "picture_changed", "Id of the layer that is shown alone for a while, or nothing.")
    bones = _heard("_bones", "picture_changed", "Whether lines only are shown.")
    masks = _heard("_masks", "picture_changed", "Whether what the mask of the chosen layer hides is shown under a veil.")
    time = _heard("_time", "picture_changed", "Of the loop, 0..1.")
    playing_at = _heard("_playing_at", "played", "Of the loop, 0..1, while it plays, or None.")
    string = _heard("_string", "loop_changed", "Whether the string of time is open.")
    recording = _heard("_recording", "loop_changed", "Whether what is turned is hung on the string.")
    beside = _heard("_beside", "loop_changed", "Whether the moments before and after are shown as lines.")
    instead = _heard("_instead", "picture_changed", "What is looked at for a while in place of the work, or None.")
    stepped = _heard("_stepped", "strip_changed", "The dials on the test strip, each with the sign of its axis.")
    handles = _heard("_handles", "overlay_changed", "Whether handles are shown on the sheet.")
    repeat = _heard("_repeat", "overlay_changed", "Whether the cell is shown, repeated.")
    grid = _heard("_grid", "overlay_changed", "Whether the construction grid is shown on the sheet.")
