"""Hands on the handles of the open rule: what they show, and what a drag, a line or work on points makes of the rule."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from PySide6.QtCore import QObject
from PySide6.QtGui import QGuiApplication

from under_lattice.core.errors import InputError
from under_lattice.evaluate.placing import place_of
from under_lattice.evaluate.result import place_on_sheet
from under_lattice.geometry.affine import IDENTITY, Array, apply, inverse
from under_lattice.pattern.inked import Inked
from under_lattice.pattern.known import NOTHING_KNOWN
from under_lattice.pattern.stage import Stage, start
from under_lattice.rules.base import Rule
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag
from under_lattice.ui.sheet.loupe import Loupe
from under_lattice.ui.sheet.sheet_view import SheetView
from under_lattice.ui.state.desk import Desk
from under_lattice.work.layers import AnyLayer
from under_lattice.work.model import Design
from under_lattice.work.turning import turned_together

NOWHERE = start(Inked((), ()), "")  # the copies a veil has none of


class Handling(QObject):
    """Turns what is done with handles on a sheet into edits."""

    def __init__(self, desk: Desk, sheet: SheetView) -> None:
        super().__init__(sheet)
        self.desk, self.sheet = desk, sheet
        self.document, self.looked, self.found = desk.document, desk.looked, desk.found
        self._drag: tuple[Rule, Stage, Stage, Ground, object, Design] | None = None
        self.looked.rule_changed.connect(self.show)
        sheet.drag_begun.connect(self._drag_begun)
        sheet.dragged.connect(self._dragged)
        sheet.drag_ended.connect(self._drag_ended)
        sheet.point_work.connect(self._work_on_points)
        sheet.line_drawn.connect(self._line_drawn)
        sheet.stroke_painted.connect(self._stroke_painted)
        sheet.painting_ended.connect(lambda: self.desk.told.emit(""))
        self.document.changed.connect(self._show_brush)
        self.looked.layer_changed.connect(sheet.end_painting)
        desk.colour_wanted.connect(self.begin_loupe)

    @property
    def dragging(self) -> bool:
        """Whether a handle is held."""
        return self._drag is not None

    def _open_end(self, layer: AnyLayer) -> tuple[Rule, Stage, Stage, Ground, Array] | None:
        """The end of a layer or group, where that is open."""
        results = [self.found.results[chain.id] for chain in layer.chains() if chain.id in self.found.results]
        last = results[0].last if results else None
        if last is None or last.stage is None:
            return None
        design, known = self.document.design, results[0].known
        around = place_of(design, design.tree.parents.get(layer.id), known)
        return layer.end, last.stage, last.stage, Ground(IDENTITY, known), around

    def _open_step(self) -> tuple[Rule, Stage, Stage, Ground, Array] | None:
        """The open rule with the stages before and after it, and its place on the sheet (2, 3), if its handles can be shown."""
        result, layer = self.found.results.get(self.looked.layer), self.looked.chosen
        if layer is None or layer.hidden:
            return None
        if self.looked.rule == layer.end.id:
            return self._open_end(layer)
        if result is None:
            return self._open_finish(layer) if layer.veils else None
        before: Stage | None = None
        for step in result.steps:
            if step.rule.id == self.looked.rule and step.stage is not None:
                above = before if before is not None else step.stage
                if step.problem or not step.rule.on or step.stage.n == 0:
                    return None
                read = {layer: picture.marks for layer, picture in result.others.items()}
                ground = Ground(IDENTITY, result.known, layers=read, drawn=result.others)
                return step.rule, above, step.stage, ground, place_on_sheet(result, step.stage)
            before = step.stage
        return None

    def _open_finish(self, veil: AnyLayer) -> tuple[Rule, Stage, Stage, Ground, Array] | None:
        """The open finish of a veil, on the sheet, with no copies."""
        rule = next((one for one in veil.own_rules if one.id == self.looked.rule and one.on), None)
        sheet = self.document.design.sheet
        return None if rule is None else (rule, NOWHERE, NOWHERE, Ground.on(sheet.width, sheet.height), IDENTITY)

    def show(self) -> None:
        """Show the handles of the open rule, as it was last evaluated."""
        found = self._open_step()
        if found is None:
            self.sheet.show_handle_set(None, IDENTITY)
            return
        rule, above, stage, ground, place = found
        handles = rule.shown_handles(above, stage, ground, self.document.design.sheet.unit)
        self.sheet.show_handle_set(handles, place)

    def _drag_begun(self, name: str) -> None:
        found = self._open_step()
        if found is not None:
            shown, above, stage, ground, _ = found
            now = self.document.seen_at(self.looked.moment)  # as it stands now, not in the last answer
            rule = now.layer(self.looked.layer).rule(shown.id)
            self._drag = (rule, above, stage, ground, object(), self.document.design)

    def _dragged(self, drag: Drag) -> None:
        if self._drag is None:
            return
        rule, above, stage, ground, visit, design = self._drag
        try:
            changes = rule.pulled(drag, above, stage, ground)
            if changes:
                made = turned_together(design, self.looked.layer, rule.id, changes)
                self.document.apply(f"{rule.shown_name()}, {drag.name}", made, visit)
        except InputError as error:
            self.desk.told.emit(error.message)

    def _drag_ended(self, kept: bool) -> None:
        if self._drag is not None:
            visit, self._drag = self._drag[4], None
            if kept:
                self.document.end_visit()
            else:
                self.document.give_up(visit)
            self.show()

    def _change_open(self, words: str, change: Callable[[Rule], dict[str, Any]]) -> None:
        """Change the open rule by what was done on the sheet; a refusal is said in the facts."""
        rules = self.looked.chosen.own_rules if self.looked.chosen is not None else ()
        rule = next((one for one in rules if one.id == self.looked.rule), None)
        if rule is None:
            self.desk.told.emit("open the rule that is worked on first")
            return
        name = rule.id
        self.desk.edit(words, lambda design: turned_together(design, self.looked.layer, name, change(rule)))

    def _work_on_points(self, work: str, name: str, at: Any) -> None:
        self._change_open(f"{work.capitalize()}: a point", lambda rule: rule.reworked(work, name, at))

    def begin_drawing(self) -> None:
        """Take the next drag on the sheet as a line for the open rule."""
        self.desk.told.emit("draw on the sheet; Escape gives it up")
        self.sheet.begin_drawing()

    def begin_loupe(self, taken: Callable[[str], None] | None = None) -> None:
        """Show the loupe; the colour that is taken goes to `taken`, or as text to where it can be pasted from."""
        self.desk.told.emit("press on a colour, or Enter; arrows move, Escape ends")
        Loupe(self.sheet).ended.connect(lambda value: self._loupe_ended(value, taken))

    def _loupe_ended(self, value: str, taken: Callable[[str], None] | None) -> None:
        self.desk.told.emit(f"{value} is copied, to be pasted as a colour" if value and taken is None else "")
        if value and taken is not None:
            taken(value)
        elif value:
            QGuiApplication.clipboard().setText(value)

    def begin_painting(self) -> None:
        """Take drags on the sheet as strokes that paint the mask of the chosen layer, until Escape."""
        if self.looked.chosen is not None and self._show_brush(begins=True):
            self.desk.told.emit("paint the mask on the sheet; Shift draws straight, Escape ends")

    def _show_brush(self, begins: bool = False) -> bool:
        """Show the brush the chosen layer has now, where one is up or begins."""
        end: Any = self.looked.chosen.end if self.looked.chosen is not None else None
        if end is None or not (begins or self.sheet.brush.on) or not hasattr(end, "brush"):
            return False
        self.sheet.begin_painting(end.brush, end.brush_does == "hides")
        return True

    def _stroke_painted(self, line: Any) -> None:
        chosen, design = self.looked.chosen, self.document.design
        if chosen is None:
            return
        known = next((result.known for result in self.found.results.values()), NOTHING_KNOWN)
        back = inverse(place_of(design, design.tree.parents.get(chosen.id), known))
        own = np.column_stack([apply(back, line[:, :2]), line[:, 2:]])
        self.desk.edit("Paint the mask", lambda design: turned_together(design, chosen.id, chosen.end.id, chosen.end.drawn(own)))

    def _line_drawn(self, line: Any) -> None:
        self.desk.told.emit("")
        if line is not None:
            self._change_open("Draw a line", lambda rule: rule.drawn(line))
