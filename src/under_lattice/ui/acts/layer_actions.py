"""What can be done to layers: adding, moving, naming, grouping, freezing, removing."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QPoint, QPointF
from PySide6.QtGui import QCursor
from PySide6.QtWidgets import QInputDialog, QMenu, QWidget

from under_lattice.colour.blend import BLENDS
from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.library import EMPTY, SINGLE, STARTS, WORDS, start_layer, start_veil
from under_lattice.pattern.known import Known
from under_lattice.ui.acts.several_actions import SeveralActions
from under_lattice.ui.dialogs.choosers import blend_chooser
from under_lattice.ui.look.popup_menu import PopupMenu
from under_lattice.ui.look.words import on_button
from under_lattice.ui.window.studio import Studio
from under_lattice.ui.workers.background import background
from under_lattice.ui.workers.pictures import Pictures
from under_lattice.ui.workers.small_pictures import picture_of
from under_lattice.work import edits
from under_lattice.work.address import Address
from under_lattice.work.freeze import frozen_text, with_frozen
from under_lattice.work.grouping import (
    add_layer,
    duplicated,
    filled_with,
    group_with_next,
    made_compound,
    moved_to,
    put_in_front,
    stands_aside,
    taken_out,
    ungroup,
)
from under_lattice.work.layers import AnyLayer
from under_lattice.work.linking import linked_copy, linked_to, unlinked
from under_lattice.work.model import Design
from under_lattice.work.reading import parent_of
from under_lattice.work.sheets import sheet_like_picture


class LayerActions:
    """Acts on the layers of a studio."""

    def __init__(self, studio: Studio, pictures: Pictures, window: QWidget) -> None:
        self.studio, self.pictures, self.window = studio, pictures, window
        studio.layer_menu.connect(self._layer_menu)
        studio.add_layer.connect(self._layer_starts)
        studio.chips.moved.connect(self.move_layer)
        self.several = SeveralActions(studio)

    def commands(self) -> dict[str, Callable[[], None]]:
        """Return the functions of the commands about layers."""
        return {
            "add_layer": lambda: self._layer_starts(QCursor.pos()),
            "duplicate_layer": lambda: self._with_layer(self.duplicate_layer),
            "link_layer": lambda: self._with_shapes(self.link_layer),
            "unlink_layer": lambda: self._with_layer(self.unlink_layer),
            "rename_layer": lambda: self._with_layer(self.rename_layer),
            "hide_layer": lambda: self._with_layer(self.hide_layer),
            "lock_layer": lambda: self._with_layer(self.lock_layer),
            "alone_layer": lambda: self._with_layer(self.several.alone),
            "layer_front": lambda: self._with_layer(lambda name: self.move_layer(name, 0)),
            "layer_back": lambda: self._with_layer(lambda name: self.move_layer(name, 10**6)),
            "remove_layer": lambda: self._with_layer(self.remove_layer),
            "group_layer": lambda: self._with_layer(self.group_layer),
            "ungroup_layer": lambda: self._with_layer(self.ungroup_layer),
            "take_out_layer": lambda: self._with_layer(self.take_out),
            "compound": lambda: self._with_shapes(self.make_compound),
            "source_layer": lambda: self._with_shapes(self.source_layer),
            "fill_layer": lambda: self._with_shapes(self.ask_fill),
            "sheet_like_picture": lambda: self._with_layer(self.sheet_like_picture),
            "show_mask": lambda: self._with_layer(self.show_mask),
            "choose_blend": lambda: self._with_layer(self.choose_blend),
            "main_layer": lambda: self._with_layer(self.open_on),
            "add_shape": lambda: self.add_layer(SINGLE),
            "add_veil": lambda: self._with_layer(self.add_veil),
            "add_words": lambda: self.add_layer(WORDS),
            "freeze": lambda: self._with_shapes(self.freeze_layer),
        }

    def _with_layer(self, act: Callable[[str], None]) -> None:
        if self.studio.chosen is not None:
            act(self.studio.chosen.id)

    def _with_shapes(self, act: Callable[[str], None]) -> None:
        chosen = self.studio.chosen
        if chosen is not None and chosen.veils:
            self.studio.facts_line.tell("a veil has no shapes of its own; choose another layer for this")
        else:
            self._with_layer(act)

    def _layer(self, name: str) -> AnyLayer:
        return self.studio.document.design.layer(name)

    def _edit_layer(self, words: str, layer_id: str, **changes: object) -> None:
        self.studio.edit(words, lambda design: edits.with_layer(design, layer_id, lambda layer: edited(layer, **changes)))

    def rename_layer(self, name: str) -> None:
        """Ask for a name."""
        text, taken = QInputDialog.getText(self.window, "Rename layer", "Name", text=self._layer(name).name)
        if taken and text.strip():
            self._edit_layer("Rename layer", name, name=text.strip()[:60])

    def hide_layer(self, name: str) -> None:
        """Hide or show a layer."""
        hidden = not self._layer(name).hidden
        self.studio.edit("Hide or show layer", lambda design: edits.show_layer(design, name, hidden))

    def lock_layer(self, name: str) -> None:
        """Lock or unlock a layer."""
        locked = not self._layer(name).locked
        self.studio.edit("Lock or unlock layer", lambda design: edits.lock_layer(design, name, locked))

    def show_mask(self, name: str) -> None:
        """Show the chosen layer whole with a veil over what its mask hides, until it is asked again."""
        looked = self.studio.looked
        looked.masks = not looked.masks
        if not looked.masks:
            self.studio.facts_line.tell("")
        elif self._layer(name).end.lies(Known()).masked:
            self.studio.facts_line.tell("what the mask hides lies under a veil; the same command ends it")
        else:
            self.studio.facts_line.tell("this layer has no mask yet; where one hides, a veil will lie")

    def choose_blend(self, name: str) -> None:
        """Open the chooser of blend modes, each with a picture of the work."""
        design, end = self.studio.document.design, self._layer(name).end.id
        trials = {mode: edits.set_dial(design, name, end, "blend", mode) for mode in BLENDS}  # a locked layer refuses
        chooser = blend_chooser(self.window, self.pictures)
        chooser.chosen.connect(
            lambda mode: self.studio.edit("Choose a blend", lambda now: edits.set_dial(now, name, end, "blend", mode))
        )
        for key, tile in chooser.tiles.items():
            self.pictures.want(key, partial(picture_of, trials[tile.offer.payload], 2 * tile.box.width(), 2 * tile.box.height()))
        chooser.open()

    def duplicate_layer(self, name: str) -> None:
        """Put a copy in front of a layer, in the same group, choose it, and say where it lies."""
        layer = self._layer(name)
        made = self._make("Duplicate layer", lambda design: duplicated(design, name))
        if made:
            where = "stands beside" if stands_aside(layer) else "lies on top of"
            self.studio.facts_line.tell(f"{self._layer(made).name} {where} {layer.name}")

    def link_layer(self, name: str) -> None:
        """Put a layer in front of another that shows it and follows it, and choose it."""
        layer = self._layer(name)
        if self._make("Duplicate layer, linked", lambda design: linked_copy(design, name)):
            self.studio.facts_line.tell(f"It follows {layer.name}; what you add here is its own")

    def unlink_layer(self, name: str) -> None:
        """Give a linked layer the rules it followed."""
        self.studio.edit("Unlink layer", lambda design: unlinked(design, name))

    def _make(self, words: str, change: Callable[[Design], tuple[Design, str]]) -> str:
        """Edit the work by what makes a layer, and choose it; returns its id, or nothing where the edit was refused."""
        made: list[str] = []

        def changed(design: Design) -> Design:
            after, layer = change(design)
            made.append(layer)
            return after

        if not self.studio.edit(words, changed):
            return ""
        self.studio.choose_layer(made[-1])
        return made[-1]

    def move_layer(self, name: str, to: int) -> None:
        """Move a layer among the others, front first."""
        self.studio.edit("Move layer", lambda design: moved_to(design, name, to))

    def remove_layer(self, name: str) -> None:
        """Remove a layer; the last one stays."""
        self.several.remove((name,))

    def group_layer(self, name: str) -> None:
        """Group a layer with the one behind it."""
        self.studio.edit("Group layers", lambda design: group_with_next(design, name))

    def _group_of(self, name: str) -> AnyLayer | None:
        return parent_of(self.studio.document.design, name)

    def ungroup_layer(self, name: str) -> None:
        """Take a group apart: the chosen one, or the one the layer is in."""
        group = self._layer(name) if self._layer(name).members else self._group_of(name)
        if group is None:
            self.studio.facts_line.tell("this layer is in no group")
        else:
            self.studio.edit("Ungroup", lambda design: ungroup(design, group.id))

    def take_out(self, name: str) -> None:
        """Take a layer out of its group."""
        if self._group_of(name) is None:
            self.studio.facts_line.tell("this layer is in no group")
            return
        self.studio.edit("Take out of the group", lambda design: taken_out(design, name))

    def make_compound(self, name: str) -> None:
        """Make a layer, or the group it is in, the motif of a new layer, and show that."""
        made = self._make("Make a compound motif", lambda design: made_compound(design, name))
        if made:
            self.studio.chain.open(self._layer(made).every_rule[0].id)

    def _layer_menu(self, name: str, at: QPoint) -> None:
        layer, group = self._layer(name), self._group_of(name)
        shapes = not layer.veils
        menu = PopupMenu(self.window)
        for words, act, there in (
            ("Rename…", self.rename_layer, True),
            ("Duplicate", self.duplicate_layer, True),
            ("Duplicate, linked", self.link_layer, shapes),
            ("Unlink", self.unlink_layer, bool(linked_to(layer))),
            ("Show" if layer.hidden else "Hide", self.hide_layer, True),
            ("Unlock" if layer.locked else "Lock", self.lock_layer, True),
            ("Show all again" if self.studio.looked.alone == name else "Show this alone", self.several.alone, True),
            ("Choose its blend by picture…", self.choose_blend, True),
            ("Siblings of this", self.siblings_of, True),
            ("Paint it" if layer.source_only else "Use as source only", self.source_layer, shapes),
            ("Move to the front", lambda one: self.move_layer(one, 0), True),
            ("Move to the back", lambda one: self.move_layer(one, 10**6), True),
            ("Group with the layer behind it", self.group_layer, True),
            ("Ungroup", self.ungroup_layer, bool(layer.members)),
            (on_button(f"Take out of {group.name}") if group else "", self.take_out, group is not None),
            ("Make it the motif of a new layer", self.make_compound, shapes),
            ("Freeze into a new layer", self.freeze_layer, shapes and not layer.members),
            ("Remove", self.remove_layer, True),
        ):
            if there:
                menu.addAction(words, partial(act, name))
        fill = QMenu("Fill this shape with layer", menu)
        if shapes:
            self._list_fills(fill, name)
        fill.setEnabled(not fill.isEmpty())
        menu.insertMenu(menu.actions()[-1], fill)
        menu.popup(at)

    def sheet_like_picture(self, name: str) -> None:
        """Give the sheet the proportions of the picture of a layer."""
        if self.studio.edit("Sheet as the picture", lambda design: sheet_like_picture(design, name)):
            self.studio.sheet.fit()

    def open_on(self, name: str) -> None:
        """Let the work open on a layer from now on."""
        if self.studio.edit("Open on a layer", lambda design: edited(design, main=name)):
            self.studio.facts_line.tell(f"The work opens on {self._layer(name).name} from now on")

    def fill_with(self, shape: str, layer: str) -> None:
        """Show a layer within the outlines of another only, right in front of it."""
        self.studio.edit("Fill a shape with a layer", lambda design: filled_with(design, shape, layer))

    def _list_fills(self, menu: QMenu, shape: str) -> None:
        """Fill a menu with the layers a shape can be filled with: all but itself and what is in it."""
        own = {one.id for one in self._layer(shape).walk()}
        for one in self.studio.document.design.all_layers():
            if one.id not in own:
                menu.addAction(on_button(one.name), partial(self.fill_with, shape, one.id))

    def ask_fill(self, name: str) -> None:
        """Offer the layers that a shape can be filled with."""
        menu = PopupMenu(self.window)
        self._list_fills(menu, name)
        if menu.isEmpty():
            self.studio.facts_line.tell("Add a second layer first; it can then fill this shape")
        else:
            menu.popup(QCursor.pos())

    def siblings_of(self, name: str) -> None:
        """Deal siblings that differ in a layer alone."""
        self.studio.desk.asked.emit("siblings", Address(name, "", ""))

    def source_layer(self, name: str) -> None:
        """Keep a layer as a source for others only, or paint it again."""
        self._edit_layer("Source only", name, source_only=not self._layer(name).source_only)

    def freeze_layer(self, name: str) -> None:
        """Put the copies of a layer as separate shapes in a new layer; the live one is hidden."""
        result = self.studio.results.get(name)
        if result is None:
            return

        def read() -> str:
            picture = Evaluator().picture(result)
            if picture is None:
                raise InputError("this layer shows nothing to be frozen")
            return frozen_text(picture)

        def take(text: str) -> None:
            self._make("Freeze", lambda design: with_frozen(design, name, text))

        background(self.studio, read, take, self.studio.facts_line.tell)

    def _layer_starts(self, at: QPoint | QPointF) -> None:
        menu = PopupMenu(self.window)
        menu.addAction("A single shape", partial(self.add_layer, SINGLE))
        menu.addAction("A line of lettering", partial(self.add_layer, WORDS))
        menu.addAction("A veil: blur, tone and other finishes of all beneath", lambda: self._with_layer(self.add_veil))
        menu.addAction("A picture or drawing from a file…", self.studio.bring_wanted.emit)
        menu.addSeparator()
        for key, start in STARTS.items():
            if key not in (SINGLE, EMPTY):
                menu.addAction(f"{start.title}: {start.words}", partial(self.add_layer, key))
        menu.popup(at if isinstance(at, QPoint) else at.toPoint())

    def add_veil(self, name: str) -> None:
        """Put a veil right in front of a layer, choose it, and open its first finish."""
        made = self._make("Add a veil", lambda design: put_in_front(design, name, start_veil()))
        if made:
            self.studio.chain.open(self._layer(made).every_rule[0].id)
            self.studio.facts_line.tell("It changes all that lies beneath it: turn its numbers, add finishes, drag it elsewhere")

    def add_layer(self, start: str) -> None:
        """Add a layer in front from a blank start and choose it."""
        sheet = self.studio.document.design.sheet
        if self.studio.edit("Add layer", lambda design: add_layer(design, start_layer(start, sheet))):
            layer = self.studio.document.design.layers[0]
            self.studio.choose_layer(layer.id)
            self.studio.chain.open(layer.every_rule[0].id)
