"""The steps of docs/first-hour.md, done with mouse and keys: run by a test, and by the tool that takes the pictures.

Each step is a method whose docstring is its heading on the page; it may give the name of the picture that shows it.
"""

from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.window.conftest import Hands
from under_lattice.ui.dialogs.command_search import CommandSearch
from under_lattice.ui.export.export_dialog import ExportDialog

LEFT = Qt.MouseButton.LeftButton
PAGE = Path(__file__).parent.parent / "docs" / "first-hour.md"


class FirstHour(Hands):
    """A person with the page before them.

    Parameters
    ----------
    bot
        Waits, as pytest-qt's does.
    window : Window
    folder : Path
        Where files go.
    see : callable
        Called with the name of a picture when the window looks as on it.
    """

    def __init__(self, bot, window, folder, see=lambda name: None):
        super().__init__(bot, window)
        self.folder, self.see = folder, see
        self.steps = [
            self.begin, self.push, self.check, self.take_the_cell, self.let_it_change, self.ask_for_relatives, self.keep_the_file,
            self.cut_a_screen, self.let_it_turn,
        ]  # fmt: skip

    # -- hands -----------------------------------------------------------------------------------
    def find(self, text):
        """F1, some letters, Enter."""
        self.do("find")
        search = next(one for one in self.window.findChildren(CommandSearch) if one.isVisible())
        QTest.keyClicks(search.field, text)
        QTest.keyClick(search.field, Qt.Key.Key_Return)
        self.bot.waitUntil(lambda: not [one for one in self.window.findChildren(CommandSearch) if one.isVisible()], timeout=5000)
        self.bot.wait(50)
        self.settle()

    def export(self, purpose):
        self.do("export")
        page = next(one for one in self.window.findChildren(ExportDialog) if one.isVisible())
        QTest.mouseClick(next(one for one in page.purposes.buttons() if one.property("purpose") == purpose), LEFT)
        return page

    def choose(self, page, name, words):
        combo = page.pages[page.format].parts[name]
        combo.setCurrentText(words)
        combo.textActivated.emit(words)

    def previewed(self, page):
        self.bot.waitUntil(lambda: page.view.preview is not None and page.view.preview.bytes > 0, timeout=60_000)

    def written(self, page, name):
        page.write(self.folder / name)
        self.bot.waitUntil((self.folder / name).exists, timeout=60_000)
        self.bot.waitUntil(lambda: not [one for one in self.window.findChildren(ExportDialog) if one.isVisible()], timeout=20_000)

    # -- steps -----------------------------------------------------------------------------------
    def begin(self):
        """Begin with a hexagon"""
        self.window.show_book()
        self.window.show()
        self.bot.wait(100)
        QTest.mouseClick(self.window.start_page.new, LEFT)
        self.settle()
        assert [rule.kind for rule in self.layer.rules] == ["polygon", "split", "ink", "lattice"]
        self.see("begin")

    def push(self):
        """Push the edges"""
        self.find("add push")
        assert self.layer.rules[-1].kind == "push-edges"
        field = self.row("push-edges", "amount").fields[0]
        self.type_in(field, "5")
        self.settle()
        assert self.rule("push-edges").amount == 5.0
        self.see("push")

    def check(self):
        """See how it repeats"""
        self.do("repeat")
        bar = self.studio.repeat_bar
        self.bot.waitUntil(lambda: bar.looked is not None and "seam" in bar.words.text().lower(), timeout=20_000)
        self.bot.wait(300)
        self.see("repeat")
        self.do("repeat")

    def take_the_cell(self):
        """Take the cell"""
        page = self.export("picture")
        self.choose(page, "part", "the cell")
        self.previewed(page)
        self.see("cell")
        self.written(page, "cell.png")

    def let_it_change(self):
        """Let it change over the sheet"""
        row = self.row("push-edges", "amount")
        self.type_in(row.fields[0], "=")
        QTest.keyClicks(row.panel.formula, "0.7 * col")
        self.settle()
        assert self.rule("push-edges").amount.formula == "0.7 * col"
        assert self.studio.facts.gap == 0.0  # tiles still touch
        self.see("formula")
        QTest.keyClick(row.panel.formula, Qt.Key.Key_Escape)
        row.panel.close()
        self.settle()
        self.see("change")

    def ask_for_relatives(self):
        """Ask for relatives"""
        if not self.window.switched("tray"):
            self.do("tray")
        tray = self.studio.tray
        roaming, tiles = tray.siblings.roaming, tray.siblings.hanging.tiles
        self.bot.waitUntil(
            lambda: roaming.deal is not None and roaming.deal.whole and roaming.deal.design is self.document.design, timeout=60_000
        )
        before = self.document.design
        QTest.mouseClick(tiles[2], LEFT)
        self.bot.wait(300)
        self.see("relatives")
        QTest.mouseClick(tray.siblings.adopt_button, LEFT)
        self.settle()
        assert self.document.design != before
        self.do("keep")
        assert len(self.document.work.kept) == 1

    def keep_the_file(self):
        """Save it"""
        self.window.files.saving.write(self.folder / "first.lattice")
        self.bot.waitUntil(lambda: not self.document.modified, timeout=20_000)

    def cut_a_screen(self):
        """Cut a screen"""
        self.find("new star tiling")
        assert self.layer.rules[0].kind == "tiling"
        page = self.export("cutter")
        self.previewed(page)
        assert "cut twice" in page.faults.words.text()
        assert page.faults.cure.text() == "shared lines once"
        QTest.mouseClick(page.faults.cure, LEFT)
        self.bot.waitUntil(lambda: page.view.preview is not None and page.view.preview.options.once, timeout=20_000)
        self.see("cut")
        self.written(page, "screen.svg")

    def let_it_turn(self):
        """Let it turn"""
        self.find("new ring")
        self.row("rosette", "begin").take_focus()
        self.find("whole turn")
        assert self.document.design.motions
        self.bot.waitUntil(lambda: self.studio.string.isVisible(), timeout=5000)
        self.do("play")
        self.bot.wait(600)
        self.see("turn")
        self.do("play")
        self.settle()
        page = self.export("film")
        self.type_in(page.pages[page.format].parts["width"], "160")
        self.type_in(page.pages[page.format].parts["rate"], "5")
        self.written(page, f"loop.{page.options().ending}")


def headings():
    """The headings of the page's steps."""
    lines = PAGE.read_text(encoding="utf-8").splitlines()
    return [line.removeprefix("## ").split(". ", 1)[-1].strip() for line in lines if line.startswith("## ")]
