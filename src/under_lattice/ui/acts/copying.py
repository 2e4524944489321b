"""Copy and paste: the picture, a rule or a layer, also from one work to another."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QMimeData
from PySide6.QtGui import QGuiApplication, QImage
from PySide6.QtWidgets import QWidget

from under_lattice.core.errors import FileError, LatticeError
from under_lattice.files.storage import from_text, to_text
from under_lattice.ui.acts.bringing import Bringing
from under_lattice.ui.window.host import Host
from under_lattice.ui.window.studio import Studio
from under_lattice.ui.workers.small_pictures import picture_of
from under_lattice.ui.workers.worker import Job, Urgency, worker
from under_lattice.work.carrying import layer_alone, rule_alone, with_layer_of, with_rule_of
from under_lattice.work.model import Design, Work

LAYER, RULE = "application/x-under-lattice-layer+json", "application/x-under-lattice-rule+json"
LONGEST = 2400  # px of a copied picture


class Copying:
    """Puts what has the focus on the clipboard, and brings what lies there in."""

    def __init__(self, window: Host, bringing: Bringing) -> None:
        self.window, self.bringing = window, bringing

    def commands(self) -> dict[str, Callable[[], None]]:
        """Return the functions of the commands."""
        return {"copy": self.copy, "copy_picture": self.copy_picture, "paste": self.paste}

    def copy(self) -> None:
        """Copy the rule whose card has the focus, the layer whose chip has it, or else the picture."""
        studio = self.window.studio
        focused = self.window.focusWidget()
        if studio is None:
            return
        rule = next((name for name, line in studio.chain.lines.items() if _within(line, focused)), "")
        if rule:
            self._put(RULE, studio, lambda: rule_alone(studio.document.design, studio.layer, rule), "rule")
        elif _within(studio.chips, focused) and studio.chosen is not None:
            self._put(LAYER, studio, lambda: layer_alone(studio.document.design, studio.layer), "layer")
        else:
            self.copy_picture()

    def _put(self, form: str, studio: Studio, make: Callable[[], Design], noun: str) -> None:
        try:
            design = make()
        except LatticeError as error:
            studio.facts_line.tell(str(error))
            return
        mime = QMimeData()
        mime.setData(form, to_text(Work(design=design), None).encode())
        QGuiApplication.clipboard().setMimeData(mime)
        name = design.layers[0].name if form == LAYER else design.layers[0].own_rules[-1].shown_name()
        studio.facts_line.tell(f"Copied the {noun} {name}")

    def copy_picture(self) -> None:
        """Copy the whole sheet as a picture, at the moment that is shown."""
        studio = self.window.studio
        if studio is None:
            return
        design, time = studio.document.design, studio.looked.moment
        scale = LONGEST / max(design.sheet.width, design.sheet.height)
        size = max(1, round(design.sheet.width * scale)), max(1, round(design.sheet.height * scale))

        def done(image: QImage) -> None:
            QGuiApplication.clipboard().setImage(image)
            studio.facts_line.tell(f"Copied the picture, {size[0]} × {size[1]} px")  # noqa: RUF001

        paint = lambda progress: picture_of(design, *size, time=time, progress=progress)  # noqa: E731
        worker().ask(Job("copy a picture", Urgency.ASKED_FOR, paint, done, studio.facts_line.tell, owner=studio))

    def paste(self) -> None:
        """Bring in what was copied: a layer, a rule, a drawing or a picture."""
        mime, studio = QGuiApplication.clipboard().mimeData(), self.window.studio
        form = next((one for one in (LAYER, RULE) if mime is not None and mime.hasFormat(one)), "")
        if not form or studio is None:
            self.bringing.paste()
            return
        try:
            carried = from_text(bytes(mime.data(form).data()).decode("utf-8", "replace"), "what was copied").design
        except FileError as error:
            self.window.complain(str(error))
            return
        if form == LAYER:
            self._paste_layer(studio, carried)
        else:
            self._paste_rule(studio, carried)

    def _paste_layer(self, studio: Studio, carried: Design) -> None:
        made: list[str] = []

        def change(design: Design) -> Design:
            after, layer = with_layer_of(design, carried)
            made.append(layer)
            return after

        if studio.edit("Paste a layer", change):
            studio.choose_layer(made[-1])

    def _paste_rule(self, studio: Studio, carried: Design) -> None:
        chosen = studio.chosen
        if chosen is None or not chosen.own_rules:
            studio.facts_line.tell("Choose the layer that the rule is to go into first")
            return
        before = {rule.id for rule in chosen.own_rules}
        after = studio.chain.open_rule if studio.chain.open_rule in before else chosen.own_rules[-1].id
        if studio.edit("Paste a rule", lambda design: with_rule_of(design, chosen.id, after, carried)):
            rules = studio.document.design.layer(chosen.id).own_rules
            studio.chain.open(next((rule.id for rule in rules if rule.id not in before), rules[0].id))


def _within(widget: QWidget, focused: QWidget | None) -> bool:
    return focused is not None and (widget is focused or widget.isAncestorOf(focused))
