"""The choosers there are: of rules, of motifs, of a rule's named starts, of symmetry groups, of blend modes."""

from __future__ import annotations

from typing import get_args

from PySide6.QtCore import QSize
from PySide6.QtWidgets import QWidget

from under_lattice.colour.blend import BLENDS, SPOKEN
from under_lattice.geometry.groups import Frieze, Plane
from under_lattice.rules import FAMILIES
from under_lattice.rules.base import Rule
from under_lattice.rules.surroundings import Start
from under_lattice.ui.dialogs.chooser import Offer, PictureChooser
from under_lattice.ui.look.numerals import capital
from under_lattice.ui.workers.pictures import Pictures

ADDABLE: tuple[type[Rule], ...] = tuple(kind for _, kinds in FAMILIES for kind in kinds if kind.family not in ("motif", "end"))


def motifs() -> tuple[type[Rule], ...]:
    """Return the kinds of motif, in the order in which they are offered."""
    return tuple(kind for _, kinds in FAMILIES for kind in kinds if kind.family == "motif")


def rule_chooser(parent: QWidget, pictures: Pictures, finishes_only: bool = False) -> PictureChooser:
    """Return the chooser of rules, or of finishes alone; the keys are ``rule:`` and the kind."""
    offers = [
        Offer(f"rule:{kind.model_fields['kind'].default}", kind.title, kind.words, kind, heading, kind.search)
        for heading, kinds in FAMILIES
        for kind in kinds
        if kind in ADDABLE and (kind.family == "finish" or not finishes_only)
    ]
    words = "What each rule would do to this work, here in the chain"
    return PictureChooser(parent, pictures, "Add a rule", words, offers, 8, QSize(136, 104))


def motif_chooser(parent: QWidget, pictures: Pictures) -> PictureChooser:
    """Return the chooser of motifs; the keys are ``motif:`` and the kind."""
    offers = []
    for heading, kinds in FAMILIES:
        for kind in (kind for kind in kinds if kind.family == "motif"):  # its title says what it is; the words go on from there
            about = kind.words.partition(":" if ":" in kind.words else ";")[2].strip()
            key = f"motif:{kind.model_fields['kind'].default}"
            offers.append(Offer(key, kind.noun(), about[:1].upper() + about[1:], kind, heading, kind.search))
    words = "This layer with each motif; what stands below it stays"
    return PictureChooser(parent, pictures, "Change motif", words, offers, 8, QSize(136, 104))


def start_chooser(parent: QWidget, pictures: Pictures, rule: Rule, starts: tuple[Start, ...]) -> PictureChooser:
    """Return the chooser of a rule's named starts; the keys are ``begin:`` and the name."""
    offers = [Offer(f"begin:{start.name}", start.name, start.words, start) for start in starts]
    words = f"Ways to begin with {rule.shown_name()}; its numbers are set anew"
    return PictureChooser(parent, pictures, "Presets of this rule", words, offers, 3, QSize(210, 148))


MODES = {  # the order in which blend modes stand, and words that find them
    "Plain": ("normal",),
    "Darker": ("multiply", "darken", "color-burn"),
    "Lighter": ("screen", "lighten", "color-dodge", "plus-lighter"),
    "Contrast": ("overlay", "soft-light", "hard-light"),
    "Difference": ("difference", "exclusion"),
    "Colour": ("hue", "saturation", "color", "luminosity"),
}


def blend_chooser(parent: QWidget, pictures: Pictures) -> PictureChooser:
    """Return the chooser of blend modes; the keys are ``blend:`` and the mode."""
    named = dict(zip(BLENDS, SPOKEN, strict=True))
    offers = [Offer(f"blend:{mode}", capital(named[mode]), "", mode, search=kin) for kin, modes in MODES.items() for mode in modes]
    words = "This work with the chosen layer in each mode of blending"
    return PictureChooser(parent, pictures, "Choose a blend", words, offers, 6, QSize(156, 148))


def group_chooser(parent: QWidget, pictures: Pictures, dial: str) -> PictureChooser:
    """Return the chooser of symmetry groups, of the plane or of a strip; the keys are ``group:`` and the name."""
    offers = [Offer(f"group:{name}", name, "", name) for name in get_args(Plane if dial == "group" else Frieze)]
    words = "The present motif in each symmetry group, by its crystallographic name"
    return PictureChooser(parent, pictures, "Choose a symmetry group", words, offers, 6, QSize(156, 122))
