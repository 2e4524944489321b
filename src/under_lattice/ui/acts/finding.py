"""Finding anything by any word: commands, rules, motifs, dials of the chosen layer, layers, works of the book."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from under_lattice.library import DEMOS, STARTS, blank, demo
from under_lattice.ui.acts.chain_actions import ChainActions
from under_lattice.ui.dialogs.choosers import ADDABLE, motifs
from under_lattice.ui.dialogs.command_search import CommandSearch, Entry
from under_lattice.ui.dialogs.dial_shown import DialShown
from under_lattice.ui.dials.row import row_entries, row_of
from under_lattice.ui.window.commands import COMMANDS
from under_lattice.ui.window.host import Host
from under_lattice.ui.window.studio import Studio
from under_lattice.ui.window.work_files import WorkFiles
from under_lattice.ui.workers.pictures import Pictures
from under_lattice.work.model import Work


class Finding:
    """What can be found from a window as it stands."""

    def __init__(self, window: Host, files: WorkFiles, pictures: Pictures) -> None:
        self.window, self.files, self.pictures = window, files, pictures
        self.acts: ChainActions | None = None  # on the open work

    def open(self) -> None:
        """Open the line to type in."""
        window = self.window
        entries, studio, shown = [*self._commands()], window.studio, None
        if studio is not None and studio.isVisible():
            entries = [*entries, *self._rules(studio), *self._dials(studio), *self._layers(studio)]
            row = row_of(window.focusWidget())
            if row is not None:
                entries = [*row_entries(row), *entries]
                shown = DialShown(row, studio.document.design, self.pictures)
        entries += self._works()
        CommandSearch(entries, window, shown).open()

    def _commands(self) -> Iterator[Entry]:
        for command in COMMANDS:
            action = self.window.actions_by_key[command.key]
            if action.isEnabled():
                hint = ", ".join(filter(None, (command.menu, command.shortcut.split(" ")[0])))
                yield Entry(command.words.replace("…", ""), command.search, hint, action.trigger)

    def _works(self) -> Iterator[Entry]:
        for key in DEMOS:
            name = key.replace("-", " ").capitalize()
            yield Entry(f"Open {name}", "demo work book example", "a work of the book", partial(self._show, partial(demo, key)))
        for key, start in STARTS.items():
            yield Entry(start.verb, f"{start.title} {start.words}", "a new sheet", partial(self._show, partial(blank, key)))

    def _show(self, make: partial[Work]) -> None:
        if self.files.may_leave():
            self.window.show_work(make())

    def _rules(self, studio: Studio) -> Iterator[Entry]:
        acts, order = self.acts, studio.chain.order
        if acts is None or len(order) < 2:
            return
        after = studio.chain.open_rule if studio.chain.open_rule in order[:-1] else order[-2]
        for kind in ADDABLE:
            yield Entry(f"Add {kind.title}", kind.search, "a rule", partial(acts.add, kind, after))
        for kind in motifs():
            yield Entry(f"{kind.noun()} as the motif", kind.search, "a motif", partial(acts.exchange_motif, kind))

    def _dials(self, studio: Studio) -> Iterator[Entry]:
        for rule in studio.chosen.every_rule if studio.chosen is not None else ():
            for name, dial in rule.dials().items():
                if not rule.idle(name):
                    yield Entry(
                        f"{rule.shown_name()}: {dial.label}", dial.search, "a dial", partial(self.go_to_dial, rule.id, name)
                    )

    def _layers(self, studio: Studio) -> Iterator[Entry]:
        for layer in studio.document.design.all_layers():
            yield Entry(f"Layer {layer.name}", "choose show", "a layer", partial(studio.choose_layer, layer.id))

    def go_to_dial(self, rule: str, name: str) -> None:
        """Open a card and put the focus on one of its dials."""
        if self.window.studio is None:
            return
        self.window.studio.chain.open(rule)
        form = self.window.studio.chain.cards[rule].form
        if form is not None:
            form.show_row(name)
            form.rows[name].take_focus()
