"""``under-lattice siblings`` and ``strip``: what the window explores, without one."""

from __future__ import annotations

import json
from argparse import ArgumentParser, Namespace
from pathlib import Path
from typing import Any

from under_lattice.command_line.saying import say
from under_lattice.core.errors import InputError
from under_lattice.explore.dealing import COUNT, Sibling, Terms, deal
from under_lattice.explore.looks import Looks
from under_lattice.explore.movable import WHOLE, Scope
from under_lattice.explore.strips import Strip, read_axis
from under_lattice.files.saving import write_atomically
from under_lattice.library.palettes import PALETTES
from under_lattice.output import Job
from under_lattice.output.contact_sheet import ENDINGS, sheet_of
from under_lattice.output.png import Png
from under_lattice.work.address import picked
from under_lattice.work.model import Design, Work

STRIP_HELP = "LAYER.RULE.NUMBER=FROM..TO/STEPS, a list with ; between, * for all options, or kept=*"


def add_siblings(order: ArgumentParser) -> None:
    """Put the options of ``siblings`` on an order."""
    order.add_argument("file")
    order.add_argument("--set", action="append", default=[], metavar="LAYER.RULE.NUMBER=VALUE", help="turn one dial first")
    order.add_argument("--seed", type=int, default=1, help="the same seed deals the same siblings")
    order.add_argument("--reach", type=float, default=50.0, metavar="0..100", help="how far numbers may roam, per cent")
    order.add_argument("--count", type=int, default=COUNT, help="how many, from 1 to 24")
    order.add_argument("--scope", default="", metavar="LAYER or LAYER.RULE", help="only this may move")
    order.add_argument("--colours", action="store_true", help="colours may move too")
    order.add_argument("--width", type=int, default=1200, help="of each picture, px")
    order.add_argument("-o", "--out", required=True, type=Path, help="a folder")


def add_strip(order: ArgumentParser) -> None:
    """Put the options of ``strip`` on an order."""
    order.add_argument("file")
    order.add_argument("--set", action="append", default=[], metavar="LAYER.RULE.NUMBER=VALUE", help="turn one dial first")
    order.add_argument("--across", required=True, metavar="AXIS", help=STRIP_HELP)
    order.add_argument("--down", default="", metavar="AXIS")
    order.add_argument("--width", type=int, default=240, help="of each picture, px")
    order.add_argument("-o", "--out", required=True, type=Path, help=" or ".join(f"OUT.{one}" for one in ENDINGS))


def write_siblings(options: Namespace, work: Work) -> None:
    """Deal siblings and write each as a PNG with its live work inside, and what changed as JSON beside them.

    Raises
    ------
    LatticeError
    """
    if not 0 <= options.reach <= 100:
        raise InputError("--reach takes 0 to 100, near and far")
    if not 1 <= options.count <= 24:
        raise InputError("--count takes 1 to 24")
    scope = _scope(options.scope, work.design)
    terms = Terms(options.seed, options.reach / 100, scope, options.colours, options.count)
    looks = Looks()
    siblings = deal(work.design, terms, looks)
    if not siblings:
        raise InputError("no siblings: all that may move is locked, or changes nothing that is seen")
    folder: Path = options.out
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise InputError(f"{folder} cannot be made: {error.strerror}", "-o") from None
    listed = []
    for k, sibling in enumerate(siblings, 1):
        scene, _ = looks.scene(sibling.design)
        picture = Png(width=options.width).write(Job(scene, sibling.design.sheet, Work(design=sibling.design)))
        write_atomically(folder / f"{k}.png", picture)
        listed.append(_told(f"{k}.png", sibling))
        say(f"{k}.png  {'; '.join(change.words() for change in sibling.changes)}")
    write_atomically(folder / "siblings.json", (json.dumps(listed, indent=1, ensure_ascii=False) + "\n").encode())


def _told(name: str, sibling: Sibling) -> dict[str, Any]:
    return {"file": name, "distance": round(sibling.distance, 4), "changes": [change.words() for change in sibling.changes]}


def _scope(text: str, design: Design) -> Scope:
    if not text:
        return WHOLE
    name, _, rule = text.partition(".")
    layer = picked(((one.handle, one) for one in design.all_layers()), name, "layer")
    return Scope(rule=picked(((one.handle, one) for one in layer.every_rule), rule, "rule").id) if rule else Scope(layer=layer.id)


def write_strip(options: Namespace, work: Work) -> None:
    """Write a test strip as a contact sheet.

    Raises
    ------
    LatticeError
    """
    if not 16 <= options.width <= 4000:
        raise InputError("--width takes 16 to 4000")
    across = read_axis(work.design, options.across, work.kept, PALETTES)
    down = read_axis(work.design, options.down, work.kept, PALETTES) if options.down else None
    strip = Strip(work.design, across, down)
    write_atomically(options.out, sheet_of(strip, options.width).write(options.out.suffix.lower().lstrip(".")))
    say(f"{strip.columns * strip.rows} pictures in {options.out}")
