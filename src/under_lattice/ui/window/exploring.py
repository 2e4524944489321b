"""What can be done to see where a work could go: tray, keeping, comparing, mixing, siblings of one thing, its history."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QObject, Qt

from under_lattice.declare.frozen import edited
from under_lattice.explore.movable import Scope
from under_lattice.files.storage import stem_of
from under_lattice.many.versions import Version
from under_lattice.ui.panels.history import History
from under_lattice.ui.sheet.compare import How
from under_lattice.ui.state import recent
from under_lattice.ui.window.host import Host
from under_lattice.ui.window.studio import Studio
from under_lattice.ui.window.work_files import WorkFiles
from under_lattice.ui.workers.background import background
from under_lattice.work.address import Address
from under_lattice.work.locks import lock_all_but, lock_rule, unlock_all
from under_lattice.work.model import Kept, Shelf, StripOrder, Work

TRAY = "tray"


class Exploring(QObject):
    """Acts for the tray and what belongs to it."""

    def __init__(self, studio: Studio, window: Host, files: WorkFiles) -> None:
        super().__init__(studio)
        self.studio, self.window, self.files = studio, window, files
        self.desk, self.document = studio.desk, studio.document
        studio.made.connect(self._made)
        studio.desk.asked.connect(self._asked)
        studio.film_wanted.connect(lambda: files.export("film"))
        studio.sheet.compare.changed.connect(self._compare_changed)

    def _made(self, part: str) -> None:
        """Hear of a part that has just been made."""
        if part == "tray":
            kept = self.studio.tray.kept
            kept.compare_wanted.connect(self.compare)
            kept.mix_wanted.connect(self.mix)
            kept.export_wanted.connect(self.export)
            kept.open_wanted.connect(self.open_as_new)
        elif part == "strips":
            self.studio.strips.closed.connect(self._strip_closed)
            self.studio.strips.folder = self.files.folder
        elif part == "repeat_bar":
            self.studio.repeat_bar.closed.connect(lambda: self.window.show_switch("repeat", False))

    def commands(self) -> dict[str, Callable[[], object]]:
        """Return the functions of the commands about exploring."""
        return {
            TRAY: self.show_tray,
            "deal": self.deal_again,
            "go_siblings": self.go_to_siblings,
            "siblings_layer": lambda: self.siblings_of(Scope(layer=self.studio.layer)),
            "siblings_rule": lambda: self.siblings_of(Scope(rule=self.studio.looked.rule)) if self.studio.looked.rule else None,
            "strip": self.switch_strip,
            "keep": lambda: self.studio.tray.kept.keep_now(),
            "compare": self.compare_with_last,
            "difference": lambda: self.compare_with_last("difference"),
            "lock_rule": self.lock_rule,
            "lock_but": self.lock_all_but,
            "unlock_all": lambda: self.desk.edit("Unlock all", unlock_all),
            "history": self.show_history,
            "play": lambda: self.studio.string.toggle(),
            "string": self._show_string,
            "record": self._record,
            "next_moment": lambda: self.studio.string.step(1),
            "last_moment": lambda: self.studio.string.step(-1),
            "to_begin": lambda: self.studio.string.scrub(self.document.design.loop.begin),
            "film": lambda: self.files.export("film"),
        }

    # -- tray ------------------------------------------------------------------------------------
    def show_tray(self) -> None:
        """Show the tray, or put it away, as its switch says; found again so the next time."""
        shown = self.window.switched(TRAY)
        self.studio.want_tray(shown)
        background(self.window, partial(recent.remember_tray, shown), lambda _: None, lambda _: None)

    def _open_tray(self) -> None:
        if not self.studio.tray.isVisible():
            self.window.switch(TRAY, True)

    def deal_again(self) -> None:
        """Deal siblings, in the tray."""
        self._open_tray()
        self.studio.tray.siblings.roaming.deal_again()

    def go_to_siblings(self) -> None:
        """Put the focus on the nearest sibling, in the tray."""
        self._open_tray()
        self.studio.tray.siblings.hanging.tiles[0].setFocus(Qt.FocusReason.ShortcutFocusReason)

    def siblings_of(self, scope: Scope) -> None:
        """Deal siblings that differ in one part of the work alone."""
        self._open_tray()
        self.studio.tray.siblings.roam_in(scope)

    def _asked(self, what: str, address: Address) -> None:
        """What a dial asks for: siblings of it, a strip of it, all others locked."""
        if what == "siblings":
            whole = Scope(rule=address.rule) if address.rule else Scope(layer=address.layer)
            self.siblings_of(Scope(chosen=frozenset({address})) if address.dial else whole)
        elif what == "strip":
            self.open_strip(address)
        elif what.startswith("where "):
            self.studio.sheet.light_up(what.removeprefix("where "))
        elif what.startswith("move "):
            self.studio.string.rows.move_dial(address, what.removeprefix("move "))
        elif what == "open":
            self.studio.chain.open(address.rule)
        elif what == "lock but":
            self.desk.edit("Lock all but one dial", lambda design: lock_all_but(design, address.rule, address.dial))

    # -- the loop --------------------------------------------------------------------------------
    def _show_string(self) -> None:
        self.studio.looked.string = not self.studio.looked.string
        if self.studio.looked.string:
            self.studio.string.time.setFocus(Qt.FocusReason.ShortcutFocusReason)

    def _record(self) -> None:
        self.studio.looked.recording = not self.studio.looked.recording

    # -- strip -----------------------------------------------------------------------------------
    def open_strip(self, address: Address | None = None) -> None:
        """Show a test strip in place of the sheet; a second dial becomes its second axis."""
        self._close_mix()
        self.studio.sheet.compare.end()
        self.studio.strips.open(address)
        self._strip_opened()
        self.studio.strips.take_focus()

    def open_strip_of(self, work: Work) -> None:
        """Open the strip that lies over a work, if one does, once its page is made."""
        if work.strip is not None:
            self.studio.later.add(lambda: self.studio.strips)
            self.studio.later.add(partial(self._open_order, work.strip))

    def _open_order(self, order: StripOrder) -> None:
        self.studio.strips.open_order(order)
        self._strip_opened()

    def _strip_opened(self) -> None:
        shown = self.studio.strip_shown
        self.studio.sheet.setVisible(not shown)
        self.studio.tray.show_picked(shown)
        self.window.show_switch("strip", shown)

    def _strip_closed(self) -> None:
        self.studio.sheet.show()
        self.studio.tray.show_picked(False)
        self.window.show_switch("strip", False)
        self.studio.sheet.setFocus()

    def switch_strip(self) -> None:
        """Open a test strip, or put it away."""
        if self.studio.strip_shown:
            self.studio.strips.close_strip()
        else:
            self.open_strip()

    # -- locks -----------------------------------------------------------------------------------
    def lock_rule(self) -> None:
        """Lock the whole of the open rule, or unlock it."""
        looked = self.studio.looked
        if looked.chosen is None or not looked.rule:
            self.desk.told.emit("open a rule of the chain first")
            return
        locked = not looked.chosen.rule(looked.rule).locked
        words = "Lock a rule" if locked else "Unlock a rule"
        self.desk.edit(words, lambda design: lock_rule(design, looked.layer, looked.rule, locked))

    def lock_all_but(self) -> None:
        """Lock every rule but the open one."""
        looked = self.studio.looked
        if looked.rule:
            self.desk.edit("Lock all but one rule", lambda design: lock_all_but(design, looked.rule))
        else:
            self.desk.told.emit("open a rule of the chain first")

    # -- kept ------------------------------------------------------------------------------------
    def compare(self, one: Kept, how: How = "wipe") -> None:
        """Compare a kept version with the work on the sheet."""
        self._close_mix()
        self.studio.compared = one
        self.studio.sheet.compare.begin(one.name, how)
        self.studio.sheet.setFocus()
        self.desk.told.emit("drag the thread, or arrow keys; hold \\ to flicker; Escape ends it")

    def compare_with_last(self, how: How = "wipe") -> None:
        """Compare with the version kept last; once more ends it."""
        compare, shelf = self.studio.sheet.compare, self.document.work.kept
        if compare.on and compare.how == how:
            compare.end()
        elif not shelf:
            self.desk.told.emit("nothing is kept yet to compare with; Ctrl+K keeps the work as it is")
            self._compare_changed()
        else:
            self.compare(self.studio.compared if compare.on and self.studio.compared else shelf[-1], how)

    def _compare_changed(self) -> None:
        compare = self.studio.sheet.compare
        self.window.show_switch("compare", compare.on and compare.how == "wipe")
        self.window.show_switch("difference", compare.on and compare.how == "difference")
        if not compare.on:
            self.studio.compared = None
        self.studio.ask_beside()

    def _close_mix(self) -> None:
        if self.studio.has("mix_bar"):
            self.studio.mix_bar.close_bar()

    def mix(self, one: Kept) -> None:
        """Mix a kept version with the work, by a bead between them."""
        self.studio.sheet.compare.end()
        self.studio.mix_bar.begin(one)

    def export(self, shelf: Shelf) -> None:
        """Export kept versions, each into a file of its own."""
        from under_lattice.ui.export.export_dialog import ExportDialog  # loads what writes files

        works = [Work(design=one.design) for one in shelf]
        versions = [Version(stem_of(one.name), partial(Work, design=one.design)) for one in shelf]
        dialog = ExportDialog(works[0], self.files.folder(), self.window, versions if len(versions) > 1 else (), self.files.exports)
        dialog.finished_with.connect(lambda path: self.desk.told.emit(f"exported {path}"))
        dialog.open()

    def open_as_new(self, one: Kept) -> None:
        """Open a kept version as a work of its own."""
        if self.files.may_leave():
            name = f"{one.design.name}, {one.name}"[:80]
            self.window.show_new(Work(design=edited(one.design, name=name)))

    def show_history(self) -> None:
        """Open the list of steps, each with a small picture; a press goes there."""
        self.history = History(self.document, self.window)
        self.history.open_at(self.window.mapToGlobal(self.window.below("undo")))
