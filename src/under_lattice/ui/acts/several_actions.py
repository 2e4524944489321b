"""What can be done to several layers at once, and to one that is shown alone."""

from __future__ import annotations

from typing import Any

from under_lattice.declare.frozen import edited
from under_lattice.ui.window.studio import Studio
from under_lattice.work import edits
from under_lattice.work.model import Design
from under_lattice.work.reading import parent_of
from under_lattice.work.several import grouped, hidden_together, laid_together, moved_into, outermost, removed_together

Ids = tuple[str, ...]


class SeveralActions:
    """Acts on the layers that are chosen in the tree."""

    def __init__(self, studio: Studio) -> None:
        self.studio = studio
        tree = studio.tree
        tree.moved.connect(self.move)
        tree.renamed.connect(self.rename)
        tree.laid.connect(self.lay)
        tree.asked.connect(self._asked)
        self._visit: object = object()

    def _asked(self, what: str, ids: Ids) -> None:
        {"hide": self.hide, "lock": self.lock, "up": self.up, "down": self.down, "remove": self.remove, "group": self.group}[what](
            ids
        )

    def _layers(self, ids: Ids) -> list[Any]:
        return [self.studio.document.design.layer(one) for one in ids]

    def move(self, ids: Ids, group: str, at: int) -> None:
        """Move layers into a group, or out of all."""
        self.studio.edit("Move layers", lambda design: moved_into(design, ids, group, at))

    def _step(self, ids: Ids, way: int) -> None:
        design = self.studio.document.design
        first, *_, last = (*outermost(design, ids), outermost(design, ids)[-1])
        group = parent_of(design, first)
        members = group.members if group is not None else design.layers
        places = [one.id for one in members]
        at = places.index(first) - 1 if way < 0 else (places.index(last) + 2 if last in places else len(places))
        self.move(ids, group.id if group is not None else "", max(0, at))

    def up(self, ids: Ids) -> None:
        """Move layers one place to the front."""
        self._step(ids, -1)

    def down(self, ids: Ids) -> None:
        """Move layers one place to the back."""
        self._step(ids, 1)

    def rename(self, name: str, text: str) -> None:
        """Take over a name typed in the tree; an empty one is none."""
        if text.strip() and text.strip()[:60] != self.studio.document.design.layer(name).name:
            change = edits.with_layer
            self.studio.edit("Rename layer", lambda design: change(design, name, lambda one: edited(one, name=text.strip()[:60])))
        self.studio.tree.refresh()

    def hide(self, ids: Ids) -> None:
        """Hide layers, or show them where all are hidden."""
        hidden = not all(layer.hidden for layer in self._layers(ids))
        self.studio.edit("Hide or show layers", lambda design: hidden_together(design, ids, hidden))

    def lock(self, ids: Ids) -> None:
        """Lock layers, or unlock them where all are locked."""
        locked = not all(layer.locked for layer in self._layers(ids))

        def change(design: Design) -> Design:
            for one in ids:
                design = edits.lock_layer(design, one, locked)
            return design

        self.studio.edit("Lock or unlock layers", change)

    def lay(self, ids: Ids, changes: dict[str, Any]) -> None:
        """Set opacity or blend of layers alike."""
        self.studio.edit("Layers together", lambda design: laid_together(design, ids, **changes))

    def group(self, ids: Ids) -> None:
        """Put layers into one group and choose it."""
        made: list[str] = []

        def change(design: Design) -> Design:
            design, name = grouped(design, ids)
            made.append(name)
            return design

        if self.studio.edit("Group layers", change):
            self.studio.choose_layer(made[-1])

    def remove(self, ids: Ids) -> None:
        """Remove layers, and say which others used them; one stays."""
        words = "Remove layer" if len(ids) == 1 else "Remove layers"
        if self.studio.edit(words, lambda design: removed_together(design, ids)):
            left = [one.name for one in self.studio.document.design.all_layers() if one.reads & set(ids)]
            if left:
                self.studio.facts_line.tell(f"{', '.join(left)} used what is gone now; undo brings it back")

    def alone(self, name: str) -> None:
        """Show one layer alone for a while, or all again; the work stays as it is."""
        looked = self.studio.looked
        looked.alone = "" if looked.alone == name else name
        layer = self.studio.document.design.layer(name)
        self.studio.facts_line.tell(
            f"{layer.name} is shown alone; exports have all layers" if looked.alone else "All layers are shown"
        )
