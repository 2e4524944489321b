"""What can be done to rules: adding, moving, naming, switching, removing, exchanging."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QPoint, QTimer
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QInputDialog, QMenu, QWidget

from under_lattice.core.progress import Progress
from under_lattice.declare.frozen import edited
from under_lattice.library.sample_pictures import sample_picture
from under_lattice.rules.base import Rule
from under_lattice.ui.dialogs.choosers import group_chooser, motif_chooser, rule_chooser, start_chooser
from under_lattice.ui.look.popup_menu import PopupMenu
from under_lattice.ui.look.words import on_button
from under_lattice.ui.window.studio import Studio
from under_lattice.ui.workers.pictures import Pictures
from under_lattice.ui.workers.small_pictures import changed_picture, rule_picture
from under_lattice.work import edits
from under_lattice.work.address import Address
from under_lattice.work.layers import AnyLayer, Chain
from under_lattice.work.locks import lock_rule
from under_lattice.work.model import Design
from under_lattice.work.reading import may_read
from under_lattice.work.suggest import begun, motif_of_size, place_for, starts_of, suggested, with_count

TRIAL = (400, 272)  # px of the picture of what a rule would do


class ChainActions:
    """Acts on the open rule and the motif of a studio."""

    def __init__(self, studio: Studio, pictures: Pictures, window: QWidget) -> None:
        self.studio, self.pictures, self.window = studio, pictures, window
        studio.rule_menu.connect(self._rule_menu)
        studio.add_rule.connect(self.choose_rule)
        studio.chain.moved.connect(self.move_rule)
        studio.chain.switched.connect(self.switch_rule)
        studio.chain.removed.connect(self.remove_rule)
        studio.chain.motif_wanted.connect(self.choose_motif)

    @property
    def chain(self) -> Chain | None:
        """The chosen layer, if it is a chain."""
        return next((one for one in self.studio.document.design.chains() if one.id == self.studio.layer), None)

    @property
    def owner(self) -> AnyLayer | None:
        """The chosen layer, if it has rules of its own: a chain or a veil."""
        chosen = self.studio.chosen
        return chosen if chosen is not None and chosen.ruled else None

    @property
    def rule(self) -> Rule | None:
        """The open rule, if one is open."""
        owner = self.owner
        if owner is None:
            return None
        return next((rule for rule in owner.own_rules if rule.id == self.studio.chain.open_rule), None)

    def commands(self) -> dict[str, Callable[[], None]]:
        """Return the functions of the commands about rules."""
        return {
            "add_rule": lambda: self.choose_rule(self.rule.id if self.rule else ""),
            "duplicate_rule": lambda: self._with_rule(self.duplicate_rule),
            "switch_rule": lambda: self._with_rule(self.switch_rule),
            "rename_rule": lambda: self._with_rule(self.rename_rule),
            "rule_up": lambda: self._with_rule(lambda name: self._shift(name, -1)),
            "rule_down": lambda: self._with_rule(lambda name: self._shift(name, 1)),
            "remove_rule": lambda: self._with_rule(self.remove_rule),
            "choose_motif": self.choose_motif,
            "choose_start": lambda: self._with_rule(self.choose_start),
            "choose_group": lambda: self._with_rule(self.choose_group),
        }

    def _with_rule(self, act: Callable[[str], None]) -> None:
        if self.rule is None:
            self.studio.facts_line.tell("open a rule of the chain first")
        else:
            act(self.rule.id)

    # -- rules -----------------------------------------------------------------------------------
    def choose_rule(self, after: str) -> None:
        """Open the chooser with a picture of what each rule would do after the rule `after`."""
        owner = self.owner
        if owner is None:
            return
        after = after or next((rule.id for rule in reversed(owner.own_rules)), "")
        chooser = rule_chooser(self.window, self.pictures, finishes_only=self.chain is None)
        chooser.chosen.connect(lambda kind: self.add(kind, after, chooser.number))
        design = self.studio.document.design
        for key, tile in chooser.tiles.items():
            place = place_for(tile.offer.payload, owner, after)
            change = partial(_with_new, design, owner, tile.offer.payload, place)
            if self.chain is None:
                self.pictures.want(key, partial(_trial, change, design))
            else:
                self._picture_for(key, change, owner.id, place, design)
        chooser.open()

    def choose_start(self, name: str) -> None:
        """Open the chooser of named starts of a rule, each with a picture of this work."""
        chain = self.chain
        rule = next((one for one in self._rules() if one.id == name), None)
        design = self.studio.document.design
        starts = starts_of(rule, chain, design.sheet) if chain is not None and rule is not None else ()
        if chain is None or rule is None or not starts:
            self.studio.facts_line.tell("open a Progression, Rosette or Seed head first, or an Adjust with a repeat above it")
            return
        chooser, layer = start_chooser(self.window, self.pictures, rule, starts), chain.id
        chooser.chosen.connect(lambda start: self.studio.edit(f"Preset: {start.name}", lambda now: begun(now, layer, name, start)))
        above = chain.rules[[one.id for one in chain.rules].index(name) - 1].id
        for key, tile in chooser.tiles.items():
            self._picture_for(key, partial(begun, design, layer, name, tile.offer.payload), layer, above)
        chooser.open()

    def choose_motif(self) -> None:
        """Open the chooser of motifs, each with a picture of this layer."""
        chain = self.chain
        if chain is None:
            return
        chooser = motif_chooser(self.window, self.pictures)
        chooser.chosen.connect(lambda kind: self.exchange_motif(kind, chooser.number))
        design, last = self.studio.document.design, chain.rules[-2].id if len(chain.rules) > 1 else ""
        for key, tile in chooser.tiles.items():
            self._picture_for(key, partial(self._exchanged, design, chain, tile.offer.payload), chain.id, last)
        chooser.open()

    def choose_group(self, name: str) -> None:
        """Open the chooser of symmetry groups, each with a picture of the present motif."""
        chain = self.chain
        rule = next((one for one in self._rules() if one.id == name), None)
        dial = rule.by_picture() if rule is not None else ""
        if chain is None or not dial:
            self.studio.facts_line.tell("open a Symmetry over the plane or a strip first")
            return
        chooser = group_chooser(self.window, self.pictures, dial)
        layer, design = chain.id, self.studio.document.design
        chooser.chosen.connect(
            lambda group: self.studio.edit("Choose a group", lambda now: edits.set_dial(now, layer, name, dial, group))
        )
        above = chain.rules[[one.id for one in chain.rules].index(name) - 1].id
        for key, tile in chooser.tiles.items():
            self._picture_for(key, partial(edits.set_dial, design, layer, name, dial, tile.offer.payload), layer, above)
        chooser.open()

    def _picture_for(self, key: str, change: Callable[[], Design], layer: str, after: str, before: Design | None = None) -> None:
        """Ask for the picture of a trial, or to be told why there is none; with the design `before`, also that nothing changes."""
        self.pictures.want(key, lambda progress: rule_picture(change(), layer, after, *TRIAL, before, progress))

    def add(self, kind: type[Rule], after: str, number: float | None = None) -> None:
        """Add a rule of a kind after another, with a count that was typed, open it, and put the focus on its first dial."""
        owner = self.owner
        if owner is None:
            return
        after = place_for(kind, owner, after)
        rule = with_count(suggested(kind, owner, self.studio.document.design.sheet), number)
        if self.studio.edit(f"Add {kind.title}", lambda design: edits.add_rule(design, owner.id, rule, after)):
            rules = self.studio.document.design.layer(owner.id).own_rules
            at = next((k for k, one in enumerate(rules) if one.id == after), len(rules) - 2)
            self.studio.chain.open(rules[at + 1].id)
            QTimer.singleShot(0, self.studio.chain, self.studio.chain.focus_form)  # once it is laid out

    def _edit_rule(self, words: str, name: str, change: Callable[[Rule], Rule]) -> None:
        layer = self.studio.layer
        self.studio.edit(words, lambda design: edits.with_rule(design, layer, name, change))

    def switch_rule(self, name: str) -> None:
        """Switch a rule on or off; the motif stays on."""
        if next(one for one in self._rules() if one.id == name).family in ("motif", "end"):
            return
        self._edit_rule("Switch a rule", name, lambda rule: edited(rule, on=not rule.on))

    def rename_rule(self, name: str) -> None:
        """Ask for a name; an empty one brings the kind's own back."""
        rule = next(one for one in self._rules() if one.id == name)
        text, taken = QInputDialog.getText(self.window, "Rename rule", "Name (empty: the rule's own)", text=rule.name or rule.title)
        if taken:
            new = "" if text.strip() == rule.title else text.strip()[:60]
            self._edit_rule("Rename rule", name, lambda one: edited(one, name=new))

    def _rules(self) -> tuple[Rule, ...]:
        return self.studio.chosen.every_rule if self.studio.chosen is not None else ()

    def duplicate_rule(self, name: str) -> None:
        """Put a rule once more after itself."""
        layer = self.studio.layer
        self.studio.edit("Duplicate rule", lambda design: edits.duplicate_rule(design, layer, name))

    def move_rule(self, name: str, to: int) -> None:
        """Move a rule to a place in the chain."""
        layer = self.studio.layer
        owner = self.owner
        if owner is not None and (0 if self.chain is None else 1) <= to < len(owner.own_rules):
            self.studio.edit("Move rule", lambda design: edits.move_rule(design, layer, name, to))

    def _shift(self, name: str, way: int) -> None:
        owner = self.owner
        if owner is not None:
            self.move_rule(name, [rule.id for rule in owner.own_rules].index(name) + way)

    def remove_rule(self, name: str) -> None:
        """Remove a rule."""
        layer = self.studio.layer
        if next(one for one in self._rules() if one.id == name).family == "end":
            return
        self.studio.edit("Remove rule", lambda design: edits.remove_rule(design, layer, name))

    def _rule_menu(self, name: str, at: QPoint) -> None:
        rule = next(one for one in self._rules() if one.id == name)
        menu = PopupMenu(self.window)
        chain, owner, motif = self.chain, self.owner, rule.family == "motif"
        if rule.family == "end" or owner is None:
            menu.addAction("Rename…", lambda: self.rename_rule(name))
            menu.popup(at)
            return
        layer, locked = owner.id, bool(rule.locked)
        menu.addAction("Add a rule after it…", lambda: self.choose_rule(name))
        menu.addAction("Siblings of this", lambda: self.studio.desk.asked.emit("siblings", Address(layer, name, "")))
        menu.addAction(
            "Unlock" if locked else "Lock",
            lambda: self.studio.edit("Lock or unlock a rule", lambda design: lock_rule(design, layer, name, not locked)),
        )
        menu.addAction("Rename…", lambda: self.rename_rule(name))
        if not motif:
            menu.addAction("Switch off" if rule.on else "Switch on", lambda: self.switch_rule(name))
            menu.addAction("Duplicate", lambda: self.duplicate_rule(name))
            up = menu.addAction("Move up", lambda: self._shift(name, -1))
            down = menu.addAction("Move down", lambda: self._shift(name, 1))
            up.setEnabled(owner.own_rules[0 if chain is None else 1].id != name)
            down.setEnabled(owner.own_rules[-1].id != name)
            if chain is not None and starts_of(rule, chain, self.studio.document.design.sheet):
                menu.addAction("Presets, by picture…", lambda: self.choose_start(name))
            if rule.by_picture():
                menu.addAction("Choose the group by its picture…", lambda: self.choose_group(name))
            if chain is not None:
                self._copy_menu(menu, chain, name)
            menu.addSeparator()
            menu.addAction("Remove", lambda: self.remove_rule(name))
        if motif:
            menu.addAction("Change motif…", self.choose_motif)
        menu.popup(at)

    def _copy_menu(self, menu: QMenu, chain: Chain, name: str) -> None:
        """Offer other layers to put this rule, or all rules from it on, at the end of."""
        others = [layer for layer in self.studio.document.design.chains() if layer.id != chain.id]
        at = [rule.id for rule in chain.rules].index(name)
        for words, ids in (("Copy to layer", (name,)), ("Copy from here on to layer", tuple(r.id for r in chain.rules[at:]))):
            sub = menu.addMenu(words)
            sub.setEnabled(bool(others))
            for layer in others:
                sub.addAction(on_button(layer.name), partial(self.copy_rules, ids, layer.id))

    def copy_rules(self, rules: tuple[str, ...], to: str) -> None:
        """Put rules of the chosen layer at the end of another."""
        layer = self.studio.layer
        self.studio.edit("Copy rules", lambda design: edits.copy_rules(design, layer, rules, to))

    def exchange_motif(self, kind: type[Rule], number: float | None = None) -> None:
        """Put another motif at the head of the chain, with a count that was typed; what stands below it stays."""
        chain = self.chain
        if chain is None:
            return
        if self.studio.edit("Change motif", lambda design: self._exchanged(design, chain, kind, number)):
            self.studio.chain.open(self._rules()[0].id)
            QTimer.singleShot(0, self.studio.chain, self.studio.chain.focus_form)

    @staticmethod
    def _exchanged(design: Design, chain: Chain, kind: type[Rule], number: float | None = None) -> Design:
        """A work with a fresh motif, as large as the present one; a picture or layer is chosen where there is one to choose."""
        motif = with_count(motif_of_size(kind, chain), number)
        for name, dial in motif.dials().items():
            if dial.kind == "layer":
                others = may_read(design, chain.id, True)
                motif = edited(motif, **{name: others[0].id if others else ""})
            elif dial.kind == "picture":
                picture = design.pictures[0] if design.pictures else sample_picture("fish")
                design, motif = edits.with_picture(design, picture), edited(motif, **{name: picture.id})
        return edits.exchange_motif(design, chain.id, motif)


def _trial(change: Callable[[], Design], design: Design, progress: Progress) -> QImage:
    """The picture of a work after a change, or a refusal where that shows nothing new."""
    return changed_picture(change(), design, *TRIAL, progress)


def _with_new(design: Design, owner: AnyLayer, kind: type[Rule], after: str) -> Design:
    """Return a design with a rule of a kind after another, as it would be added."""
    return edits.add_rule(design, owner.id, suggested(kind, owner, design.sheet), after)
