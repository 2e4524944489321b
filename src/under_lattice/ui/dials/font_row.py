"""A font: the shipped ones, and those of this machine once they are listed."""

from __future__ import annotations

from under_lattice.geometry.lettering import SHIPPED, system_fonts
from under_lattice.ui.dials.hand import Hand
from under_lattice.ui.dials.row import ListRow
from under_lattice.ui.workers.background import background


class FontRow(ListRow):
    """Names of fonts; those of the machine are read off the interface thread."""

    def __init__(self, hand: Hand, name: str) -> None:
        super().__init__(hand, name)
        self._names: list[str] = []
        background(self, lambda: list(system_fonts()), self._listed, self.refuse)

    def _listed(self, names: list[str]) -> None:
        self._names = names
        self.refresh()

    def entries(self) -> list[tuple[str, str]]:
        names = [*SHIPPED, *self._names]
        if self.value not in names:  # of another machine
            names.append(self.value)
        return [(one, one) for one in names]
