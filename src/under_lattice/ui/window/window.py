"""The main window: the first page and the studio, all commands, files."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import QPoint
from PySide6.QtGui import QAction, QActionGroup, QCloseEvent, QDragEnterEvent, QDropEvent, QKeySequence
from PySide6.QtWidgets import QApplication, QInputDialog, QMenu, QVBoxLayout

from under_lattice.core.errors import LatticeError
from under_lattice.declare.frozen import edited
from under_lattice.files.book import ENDING as LEAF
from under_lattice.files.saving import Seen
from under_lattice.files.unsaved import Place, Unsaved, left_behind
from under_lattice.ui.acts.book_actions import BookActions, is_leaf
from under_lattice.ui.acts.bringing import BROUGHT, Bringing
from under_lattice.ui.acts.chain_actions import ChainActions
from under_lattice.ui.acts.copy_actions import CopyActions
from under_lattice.ui.acts.copying import Copying
from under_lattice.ui.acts.desktop import Desktop
from under_lattice.ui.acts.finding import Finding
from under_lattice.ui.acts.layer_actions import LayerActions
from under_lattice.ui.dialogs.recolour_dialog import RecolourDialog
from under_lattice.ui.dialogs.recovery_dialog import RecoveryDialog
from under_lattice.ui.dialogs.sheet_dialog import SheetDialog
from under_lattice.ui.dials.carrying import FORM as DIAL
from under_lattice.ui.dials.carrying import brought
from under_lattice.ui.look import style
from under_lattice.ui.look.dressing import Dressing, Pages, Whole
from under_lattice.ui.look.tokens import LOOK
from under_lattice.ui.panels.start_page import StartPage
from under_lattice.ui.panels.strip import CommandStrip
from under_lattice.ui.state import recent
from under_lattice.ui.state.document import Document
from under_lattice.ui.window.commands import COMMANDS, EVERYWHERE, MENUS, THEMES
from under_lattice.ui.window.exploring import Exploring
from under_lattice.ui.window.host import Host
from under_lattice.ui.window.studio import Studio
from under_lattice.ui.window.work_files import ENDINGS, WorkFiles
from under_lattice.ui.workers.autosave import Autosave
from under_lattice.ui.workers.background import background
from under_lattice.ui.workers.engine import Engine
from under_lattice.ui.workers.file_watch import FileWatch
from under_lattice.ui.workers.pictures import Pictures
from under_lattice.work.model import Work

VIEWS = ("bones", "handles", "grid", "repeat")  # commands that are on or off, by the names of what is looked at


class Window(Host):
    """One window, one work at a time."""

    def __init__(self, open_another: Callable[[], object] = lambda: None) -> None:
        super().__init__()
        self.setWindowTitle("Under Lattice")
        self.setAcceptDrops(True)
        self.resize(1280, 800)
        self.engine, self.pictures = Engine(), Pictures()
        self.actions_by_key: dict[str, QAction] = {}
        self._functions: dict[str, Callable[[], object]] = {}
        self.files = WorkFiles(self, self.show_work)
        self.bringing, self.finding = Bringing(self, self.files), Finding(self, self.files, self.pictures)
        self.copying, self.desktop = Copying(self, self.bringing), Desktop(self, self.files, open_another)
        self.autosave = Autosave(lambda: self.studio.sheet.picture if self.studio is not None else None, self)
        self.autosave.failed.connect(self.complain)
        self.file_watch = FileWatch(self)
        self.file_watch.told.connect(self.say)
        self._make_actions()
        self.menu = self._make_menu()
        self.strip = CommandStrip(self.actions_by_key, self.menu)
        self.start_page = StartPage(self.pictures)
        self.start_page.opened.connect(self._opened_from_book)
        self.start_page.open_wanted.connect(self.files.ask_open)
        self.start_page.own_wanted.connect(self.bringing.ask)
        self.start_page.files.told.connect(self.complain)
        self.stack = Pages()
        self.stack.addWidget(self.start_page)
        whole = Whole()
        column = QVBoxLayout(whole)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.strip)
        column.addWidget(self.stack, 1)
        column.addWidget(self.files.reading)
        column.addWidget(self.files.exports)
        self.setCentralWidget(whole)
        self.dressing = Dressing(self, self._dress_drawn)
        self._show_state()

    # -- commands --------------------------------------------------------------------------------
    def _make_actions(self) -> None:
        self._functions = {
            "book": self.show_book, "open": self.files.ask_open, "save": self.files.saving.save,
            "save_as": self.files.saving.save_as,
            "export": self.files.export, "export_again": self.files.export_again, "plot": self.files.plot,
            "sheet": self.open_sheet, "recolour": self.open_recolour,
            "rename_work": self.rename_work, "quit": self._quit,
            "recover": self.offer_unsaved, "full_screen": self._full_screen,
            "bring": self.bringing.ask, **self.copying.commands(), **self.desktop.commands(),
            "undo": self._undo, "redo": self._redo, "find": self.finding.open,
            **dict.fromkeys(VIEWS, self._show_overlays),
            "whole": lambda: self._on_sheet(lambda s: s.sheet.fit()),
            "true_size": lambda: self._on_sheet(lambda s: s.sheet.true_size()),
            "draw_line": lambda: self._on_sheet(lambda s: s.handling.begin_drawing()),
            "paint_mask": lambda: self._on_sheet(lambda s: s.handling.begin_painting()),
            "take_colour": lambda: self._on_sheet(lambda s: s.handling.begin_loupe()),
            **{f"{work}_point": partial(self._point_work, work) for work in ("add", "remove", "smooth", "straight")},
            "zoom_in": lambda: self._on_sheet(lambda s: s.sheet.zoom_by(1.25)),
            "column": self._show_column,
            "zoom_out": lambda: self._on_sheet(lambda s: s.sheet.zoom_by(0.8)),
        }  # fmt: skip
        for key, wish in THEMES.items():
            self._functions[key] = partial(self.set_theme, wish)
        themes = QActionGroup(self)
        for command in COMMANDS:
            action = QAction(command.words, self)
            action.setShortcuts([QKeySequence(keys) for keys in command.shortcut.split()])
            action.setCheckable(command.checkable)
            action.triggered.connect(lambda _=False, key=command.key: self._do(key))
            if command.key in THEMES:
                themes.addAction(action)
            self.addAction(action)
            self.actions_by_key[command.key] = action
        for key, on in (("handles", True), ("tray", recent.tray_shown()), ("column", True)):
            self.actions_by_key[key].setChecked(on)
        opener = QAction(self)
        opener.setShortcut(QKeySequence("F10"))
        opener.triggered.connect(self._open_menu)
        self.addAction(opener)

    def _open_menu(self) -> None:
        at = button if (button := self.strip.menu_button).isVisible() else self.start_page
        self.menu.popup(at.mapToGlobal(QPoint(0, button.height())))

    def _do(self, key: str) -> None:
        if self.studio is not None:
            self.studio.facts_line.tell("")
        try:
            self._functions[key]()
        except LatticeError as error:
            self.say(str(error))

    def _make_menu(self) -> QMenu:
        menu = QMenu(self)
        for name in MENUS:
            part = menu.addMenu(name)
            for command in COMMANDS:
                if command.menu == name:
                    part.addAction(self.actions_by_key[command.key])
                if command.key == "open":
                    lately = part.addMenu("Open recent")
                    lately.setToolTipsVisible(True)
                    lately.aboutToShow.connect(partial(self.desktop.fill_recent, lately))
        return menu

    # -- pages -----------------------------------------------------------------------------------
    def show_book(self) -> None:
        """Show the first page; unsaved work is asked about."""
        if self.files.may_leave():
            left = self._close_work()
            self.stack.setCurrentWidget(self.start_page)
            self._let_go(left)
            self.start_page.refresh()
            self.start_page.take_focus()
            self._show_state()

    def _close_work(self) -> Studio | None:
        """Leave the open work; returns its page, which is seen until another is shown."""
        left = self.studio
        if left is not None:
            self.engine.forget()
        self.studio = self.document = None
        self.autosave.watch(None)
        self.file_watch.watch(None)
        return left

    def _let_go(self, left: Studio | None) -> None:
        if left is not None:
            self.stack.removeWidget(left)
            left.deleteLater()

    def show_work(
        self, work: Work, path: Path | None = None, altered: bool = False, seen: Seen | None = None, copy: Place | None = None
    ) -> None:
        """Show a work in the studio; `copy` is the place of the copy it was found in after a bad end."""
        left = self._close_work()
        self.pictures.drop()  # those of the book, which is left
        self.document = Document(work, path, seen)
        if altered:
            self.document.never_saved()
        self.autosave.watch(self.document, copy)
        self.file_watch.watch(self.document)
        self.studio = Studio(self.document, self.engine)
        self.chain_actions = self.finding.acts = ChainActions(self.studio, self.pictures, self)
        self.layer_actions = LayerActions(self.studio, self.pictures, self)
        self.studio.bring_wanted.connect(self.bringing.ask)
        self.copy_actions = CopyActions(self.studio, self)
        self.exploring = Exploring(self.studio, self, self.files)
        self.book_actions = BookActions(self.studio, self, self.files, self.pictures)
        for acts in (self.chain_actions, self.layer_actions, self.copy_actions, self.exploring, self.book_actions):
            self._functions |= acts.commands()
        self.studio.want_tray(self.switched("tray"))
        self.studio.show_column(self.switched("column"))
        for key in ("strip", "compare", "difference", "repeat"):
            self.show_switch(key, False)
        self.studio.sheet_wanted.connect(self.open_sheet)
        self.document.status_changed.connect(self._show_state)
        self.stack.addWidget(self.studio)
        self.stack.setCurrentWidget(self.studio)
        self._let_go(left)
        self.studio.chain.open_first_repeat()
        self._show_overlays()
        self._show_state()
        self.studio.sheet.setFocus()
        self.exploring.open_strip_of(work)

    def _opened_from_book(self, work: Work | None, path: Path | None) -> None:
        if path is not None:
            self.files.open_path(path)
        elif work is not None:
            self.show_work(work)

    def _show_state(self) -> None:
        document = self.document
        for key, action in self.actions_by_key.items():
            action.setEnabled(document is not None or key in EVERYWHERE)
        self.actions_by_key[{v: k for k, v in THEMES.items()}[LOOK.wish]].setChecked(True)
        self.strip.setVisible(document is not None)
        if document is None:
            self.setWindowTitle("Under Lattice")
            return
        for key, words in (("undo", document.can_undo), ("redo", document.can_redo)):
            self.actions_by_key[key].setEnabled(bool(words))
            self.actions_by_key[key].setText(f"{key.capitalize()}: {words}" if words else key.capitalize())
        self.strip.show_work(document.design, document.modified)
        self.setWindowTitle(f"{'*' if document.modified else ''}{document.design.name}, Under Lattice")

    def show_new(self, work: Work) -> None:
        """Show a work that no file holds yet."""
        self.show_work(work, None, True)

    def switched(self, key: str) -> bool:
        """Tell whether a switch among the commands is on."""
        return self.actions_by_key[key].isChecked()

    def switch(self, key: str, on: bool) -> None:
        """Turn a switch among the commands, and do what it means."""
        if self.switched(key) != on:
            self.actions_by_key[key].trigger()

    def show_switch(self, key: str, on: bool) -> None:
        """Show a switch among the commands as on or off, and do nothing."""
        self.actions_by_key[key].setChecked(on)

    def below(self, key: str) -> QPoint:
        """Return the point of the window below the button of a command."""
        button = self.strip.buttons[key]
        return button.mapTo(self, QPoint(0, button.height() + 4))

    # -- what commands do ------------------------------------------------------------------------
    def _on_sheet(self, act: Callable[[Studio], None]) -> None:
        if self.studio is not None:
            act(self.studio)

    def _undo(self) -> None:
        if self.document is not None:
            self.document.undo()

    def _redo(self) -> None:
        if self.document is not None:
            self.document.redo()

    def _point_work(self, work: str) -> None:
        self._on_sheet(lambda studio: studio.sheet.work_on_points(work))

    def _show_overlays(self) -> None:
        """Hand on what is switched on and off in the view."""
        if self.studio is not None:
            looked = self.studio.looked
            for key in VIEWS:
                setattr(looked, key, self.actions_by_key[key].isChecked())

    def offer_unsaved(self, silent: bool = False) -> None:
        """Offer works that were not saved before a bad end; `silent` says nothing where there are none."""

        def offer(answer: tuple[list[Unsaved], list[str]]) -> None:
            if any(answer):
                dialog = RecoveryDialog(*answer, self)
                dialog.opened.connect(self._go_on_with)
                dialog.open()
            elif not silent:
                self.complain("There is no work that was not saved.")

        background(self, left_behind, offer, self.complain)

    def _go_on_with(self, one: Unsaved) -> None:
        if self.files.may_leave():
            self.show_work(one.work, one.own, True, one.seen, one.place)
        else:
            one.place.let_go()

    def open_sheet(self) -> None:
        """Open the dialog of the sheet."""
        if self.document is not None:
            SheetDialog(self.document, self.actions_by_key["grid"], self).open()

    def open_recolour(self) -> None:
        """Open the view of all colours of the work."""
        if self.studio is not None:
            RecolourDialog(self.studio.desk, self).open()

    def rename_work(self) -> None:
        """Ask for the name of the work and the commission it belongs to."""
        if self.document is None or self.studio is None:
            return
        design = self.document.design
        name, taken = QInputDialog.getText(self, "Name of the work", "Name", text=design.name)
        if taken and name.strip():
            commission, taken = QInputDialog.getText(self, "Commission", "Commission (may be empty)", text=design.commission)
            said = commission.strip()[:80] if taken else design.commission
            self.studio.edit("Name", lambda old: edited(old, name=name.strip()[:80], commission=said))

    def set_theme(self, wish: str) -> None:
        """Take light, dark or the desktop's colours."""
        LOOK.wish = wish
        background(self, lambda: recent.remember_theme(wish), lambda _: None, lambda _: None)
        dress_all()

    def _dress_drawn(self) -> None:
        self.strip.dress()
        self._show_state()
        if self.studio is not None:
            self.studio.refresh_theme()
        elif self.stack.currentWidget() is self.start_page and self.start_page.tiles:
            self.start_page.refresh()

    # -- window ----------------------------------------------------------------------------------
    def _show_column(self) -> None:
        """Show the column of the chain, or put it away; the focus is never left in what cannot be seen."""
        if self.studio is not None:
            self.studio.show_column(self.switched("column"))
            self.studio.sheet.setFocus()

    def _full_screen(self) -> None:
        if self.switched("full_screen"):
            self.showFullScreen()
        else:
            self.showNormal()

    def _quit(self) -> None:
        self.close()

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if event.mimeData().hasFormat(DIAL) and self.studio is not None:
            event.acceptProposedAction()
        urls = event.mimeData().urls()
        path = Path(urls[0].toLocalFile()) if urls else Path()
        if urls and (path.suffix.lower() in (*ENDINGS, *BROUGHT, LEAF) or (self.studio is None and path.is_dir())):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        event.acceptProposedAction()
        dial = brought(event.mimeData())
        if dial is not None:
            self.exploring.open_strip(dial)
            return
        paths = [Path(url.toLocalFile()) for url in event.mimeData().urls()]
        if self.studio is None and any(is_leaf(path) or path.is_dir() for path in paths):
            self.start_page.files.bring(paths)
        elif is_leaf(paths[0]):
            self.book_actions.drop(paths[0])
        else:
            self.bringing.drop(paths)

    def closeEvent(self, event: QCloseEvent) -> None:
        if not self.files.may_close():
            event.ignore()
            return
        self.desktop.remember()
        self.autosave.close()
        self.engine.close()
        self.pictures.drop()
        event.accept()


def dress_all() -> None:
    """Dress the application and all its windows in the theme in force."""
    app = QApplication.instance()
    if isinstance(app, QApplication):
        style.dress(app)
    for one in QApplication.topLevelWidgets():
        if isinstance(one, Window):
            one.dressing.begin()
