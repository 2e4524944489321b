"""Takes the pictures of docs/screenshots; run by ./screenshots on a virtual screen."""

import os
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()  # no recent works of whoever takes them
os.environ["XDG_DATA_HOME"] = tempfile.mkdtemp()  # nor their pattern book

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from under_lattice.files.book import BookLeaf, put_in
from under_lattice.library import demo
from under_lattice.library.palettes import PALETTES
from under_lattice.output.film import Moments
from under_lattice.output.page import job_of
from under_lattice.ui.dialogs.chooser import PictureChooser
from under_lattice.ui.dialogs.recolour_dialog import RecolourDialog
from under_lattice.ui.export.export_dialog import ExportDialog
from under_lattice.ui.look.tokens import LOOK
from under_lattice.ui.plotting.plot_dialog import PlotDialog
from under_lattice.ui.window.application import make_application
from under_lattice.ui.window.window import Window
from under_lattice.work.model import Work
from under_lattice.work.recipes import recipe_of

FOLDER = Path(__file__).parent.parent / "docs" / "screenshots"


class Photographer:
    """Puts a window into a state and takes its picture from the screen."""

    def __init__(self) -> None:
        LOOK.wish = "light"
        self.app = make_application()
        self.window = Window()
        self.window.setWindowFlag(Qt.WindowType.FramelessWindowHint)
        self.window.setGeometry(0, 0, 1280, 800)
        self.window.show()
        self.wait(0.5)
        self.window.activateWindow()

    def wait(self, seconds: float) -> None:
        """Let the window live for a while."""
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            self.app.processEvents()
            time.sleep(0.01)

    def until(self, ready: Callable[[], bool]) -> None:
        """Let the window live until it is ready, and a little longer."""
        end = time.monotonic() + 60
        while not ready():
            if time.monotonic() > end:
                sys.exit("a picture was not ready after a minute")
            self.wait(0.05)
        self.wait(0.8)

    def take(self, name: str) -> None:
        """Take the picture of the whole screen."""
        self.window.screen().grabWindow(0).save(str(FOLDER / f"{name}.png"))
        print(name)

    def work(self, name: str, rule: str) -> None:
        """Show a demo work with one rule open."""
        self.window.show_work(demo(name))
        studio = self.window.studio
        assert studio is not None
        self.until(lambda: studio.later.ended)
        studio.choose_layer(
            next(one.id for one in studio.document.design.all_layers() if rule in [r.id for r in one.own_rules] or not rule)
        )
        if studio.strips.strip is not None:
            studio.strips.close_strip()
        studio.chain.open(rule)
        self.until(
            lambda: studio.settled and (studio.facts.copies > 0 or studio.facts.veils) and studio.layer in studio.found.layers
        )
        self.dealt()

    def dealt(self) -> None:
        """Wait until all siblings of the work as it is hang there."""
        studio = self.window.studio
        assert studio is not None
        deal = studio.tray.siblings.roaming
        self.until(lambda: deal.deal is not None and deal.deal.whole and deal.deal.design is studio.document.design)

    def chooser(self, name: str) -> None:
        """Take the picture of the open chooser, with all its pictures, and close it."""
        chooser = self.window.findChildren(PictureChooser)[-1]
        chooser.move(self.window.mapToGlobal(QPoint(40, 60)))
        self.until(lambda: all(tile.picture is not None or tile.problem for tile in chooser.tiles.values()))
        self.take(name)
        chooser.reject()

    def row(self, rule: str, dial: str):  # type: ignore[no-untyped-def]
        """Return a row of an open card."""
        studio = self.window.studio
        assert studio is not None
        form = studio.chain.cards[rule].form
        assert form is not None
        return form.rows[dial]


def fill_book() -> None:
    """Put recipes, palettes and a work into the pattern book."""
    for name, layer, title in (
        ("entrance-floor", "floor", "Cubes to waves"),
        ("air-grille", "slots", "Shrink and turn"),
        ("festival-poster", "whirls", "Whirls in turn"),
        ("seed-clock", "seeds", "Seeds from the middle"),
    ):
        put_in(BookLeaf(kind="recipe", name=title, words=name, work=Work(design=recipe_of(demo(name).design, layer))))
    put_in(BookLeaf(kind="palette", name="Slack tide", words="blue water", colours=PALETTES["Slack tide"]))
    put_in(BookLeaf(kind="palette", name="Lamp oil", words="warm evening", colours=PALETTES["Lamp oil"]))


def explored(p: Photographer) -> None:
    """Take the pictures of exploring: a strip, recipes on another motif."""
    p.window.show_work(demo("festival-poster"))
    studio = p.window.studio
    assert studio is not None
    studio.chain.open("whirls-progression")
    strips = studio.strips
    p.until(lambda: bool(strips.view.tiles) and all(one.picture is not None for one in strips.view.tiles.values()))
    QTest.mouseClick(strips.view.tiles[3, 1], Qt.MouseButton.LeftButton, pos=QPoint(20, 40))
    p.until(lambda: studio.tray.picked.tile.picture is not None)
    p.take("strip")

    p.work("dyed-towels", "sails-lattice")
    p.window.book_actions.choose()
    p.until(lambda: any(one.isVisible() for one in p.window.findChildren(PictureChooser)))
    p.chooser("recipes")


def exported(p: Photographer) -> None:
    """Take the pictures of ways out: the repeat on the sheet, a page for print, a cut with its faults, a plotter at work."""
    p.work("wash-room-tiles", "petals-symmetry")
    studio = p.window.studio
    assert studio is not None
    p.window.switch("repeat", True)
    p.until(lambda: studio.repeat_bar.looked is not None)
    p.wait(1.0)
    p.take("repeat-check")
    p.window.switch("repeat", False)
    for name, rule, purpose, options, picture, theme in (
        ("plunge-pool", "", "print", {"bleed": 3.0, "marks": True, "spots": True}, "export-print", "dark"),
        ("air-grille", "", "cutter", {"kerf": 0.2}, "export-cutter", "light"),
    ):
        p.window.set_theme(theme)
        p.work(name, rule)
        p.window.files.export()
        dialog = p.window.findChildren(ExportDialog)[-1]
        dialog.move(p.window.mapToGlobal(QPoint(200, 70)))
        next(one for one in dialog.purposes.buttons() if one.property("purpose") == purpose).click()
        for option, value in options.items():
            dialog._turn(option, value)
        p.until(lambda dialog=dialog: dialog.view.preview is not None and not dialog._looking.isActive())  # type: ignore[misc]
        p.wait(1.0)
        p.take(picture)
        dialog.reject()
    p.work("ticket-engraving", "")
    p.window.files.plot()
    plot = p.window.findChildren(PlotDialog)[-1]
    plot.move(p.window.mapToGlobal(QPoint(190, 70)))
    p.until(lambda: bool(plot.orders))
    plot.go.click()
    p.until(lambda: plot.view.drawn > 0.3 * len(plot.orders))
    p.take("plotter")
    plot.reject()


def looped(p: Photographer) -> None:
    """Take the pictures of what moves: the string of time, and a sheet of moments."""
    p.work("seed-clock", "seeds-seed-head")
    studio = p.window.studio
    assert studio is not None
    studio.looked.string = True
    p.wait(0.3)
    thread = studio.string.rows.threads["breath"]
    thread.choose(1)
    studio.string.scrub(0.19)
    p.until(lambda: studio.settled and bool(studio.string.rows.line.closing.text()))
    p.dealt()
    p.take("string")
    chosen, job = job_of(demo("festival-poster"), Moments(count=8, across=4, width=300))
    (FOLDER / "moments.png").write_bytes(chosen.write(job))


def main() -> None:
    """Take all pictures."""
    fill_book()
    p = Photographer()
    p.window.show_book()
    p.until(lambda: any(leaf.own is not None for leaf in p.window.start_page.leaves))
    p.until(lambda: all(tile.picture is not None for tile in p.window.start_page.tiles.values()))
    p.take("start")

    p.work("entrance-floor", "floor-lattice")
    field = p.row("floor-lattice", "gap").fields[0]
    field.setFocus()
    p.wait(0.5)
    p.take("main-light")

    p.work("entrance-floor", "floor-push-edges")
    row = p.row("floor-push-edges", "amount")
    row.open_vary()
    p.wait(0.5)
    p.take("push-edges-vary")
    row.panel.close()

    for name, rule, picture in (
        ("indigo-towel", "wash-tone-curve", "veil"),
        ("carved-ceiling", "leaves-relief", "relief"),
    ):
        p.work(name, rule)
        p.take(picture)
    p.work("indigo-towel", "wash-tone")
    p.window.chain_actions.choose_rule("")
    p.chooser("finishes")

    p.work("locker-tiles", "cells-ink")
    form = p.window.studio.chain.cards["cells-ink"].form  # type: ignore[union-attr]
    assert form is not None
    form.more.click()
    row = p.row("cells-ink", "ramp")
    row.thread_.choose(1)
    row.thread_.setFocus()
    p.wait(0.5)
    p.take("ink")

    p.work("plunge-pool", "")
    p.window.open_recolour()
    view = p.window.findChildren(RecolourDialog)[-1]
    view._moved("Hue", -35.0)
    p.until(lambda: all(one[3].text().endswith("%") for one in view.rows.values()) and p.window.studio.settled)  # type: ignore[union-attr]
    p.dealt()
    p.take("recolour")
    view.reject()
    p.until(lambda: p.window.studio.settled)  # type: ignore[union-attr]

    looped(p)
    p.work("entrance-floor", "floor-ink")
    p.window.chain_actions.choose_rule("floor-ink")
    p.chooser("add-a-rule")
    exported(p)

    explored(p)
    p.window.set_theme("dark")
    p.work("tide-board", "word-ink")
    p.take("main-dark")
    p.window.show_book()
    p.wait(3.0)
    p.take("start-dark")
    p.window.close()


if __name__ == "__main__":
    main()
