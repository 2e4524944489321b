"""Rule: Spots, copies at places set by hand, each with its own turn and size."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from under_lattice.core.errors import InputError
from under_lattice.core.units import parted, short
from under_lattice.declare.dials import Angle, LayerChoice, Ratio, Text
from under_lattice.declare.moving import Push, at_half
from under_lattice.geometry.affine import Array, about, apply, linear
from under_lattice.geometry.outline import CLOSE, POINTS_OF, contours
from under_lattice.pattern.ask import StepAsk
from under_lattice.pattern.findings import Findings
from under_lattice.pattern.marks import Marks
from under_lattice.pattern.stage import Stage
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet
from under_lattice.rules.shared.runs import LEVEL, PLAIN_STACKING, PlainStacking, Repeat, laid_out
from under_lattice.rules.surroundings import Surroundings, tidy
from under_lattice.vary.numbers import Number

SPOTS_MOST, HANDLES_MOST, LENGTH_MOST, SNAPS_MOST = 2000, 60, 60_000, 2000
NUMBER = re.compile(r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d{1,3})?")


@dataclass(frozen=True)
class SpotList(Text):
    """Places as ``x, y; x, y``, each with turn and size if wanted: ``x, y, turn, size``."""

    def check(self, value: str) -> str:
        """Hold to places that can be read.

        Raises
        ------
        InputError
        """
        read_spots(value)
        return value

    def moved(self, value: str, push: Push) -> str:
        """Return the places, each moved by a part of the sheet."""
        spots = read_spots(value)
        for k, spot in enumerate(spots):
            spot[:2] += push.side / 10 * np.array([push.by(f"x {k}"), push.by(f"y {k}")])
        return spots_text(np.round(spots, 2))

    def mixed(self, one: str, other: str, share: float) -> str:
        """Return the places `share` (0..1) of the way between two lists of as many; else the nearer."""
        spots = read_spots(one), read_spots(other)
        return (
            spots_text(spots[0] * (1 - share) + spots[1] * share) if len(spots[0]) == len(spots[1]) else at_half(one, other, share)
        )

    def in_unit(self, value: str, factor: float) -> str:
        """Return the places in another unit; turns and sizes stay."""
        return spots_text(read_spots(value) * (factor, factor, 1.0, 1.0))


def read_spots(text: str, what: str = "spot", most: int = 4) -> Array:
    """Return x, y, turn in degrees and size in per cent of each spot (n, 4).

    Raises
    ------
    InputError
        Says which cannot be read; `what` is its word, `most` how many numbers it may have.
    """
    if len(text) > LENGTH_MOST:
        raise InputError(f"a list of {what}s has at most {LENGTH_MOST:,} characters")
    parts = [part.strip() for part in re.split(r"[;\n]", text) if part.strip()]
    if not 1 <= len(parts) <= SPOTS_MOST:
        raise InputError(f"there are {len(parts)} {what}s; from 1 to {SPOTS_MOST:,} are allowed")
    out = np.tile([0.0, 0.0, 0.0, 100.0], (len(parts), 1))
    for k, part in enumerate(parts):
        words = [word.replace(",", ".") for word in parted(part)]
        words = words if len(words) > 1 else re.split(r"[,\s]+", part)
        if not 2 <= len(words) <= most or not all(NUMBER.fullmatch(word) for word in words):
            form = "x, y or x, y, turn, size" if most > 2 else "x, y"
            raise InputError(f"{what} {k + 1}, “{part[:30]}”, is not {form}")
        out[k, : len(words)] = [float(word) for word in words]
        if np.abs(out[k]).max() > 1e6 or not 0.1 <= out[k, 3] <= 10000:
            raise InputError(f"{what} {k + 1}, “{part[:30]}”, is out of range: places to a million, sizes from 0.1 to 10000 %")
    return out


def spots_text(spots: Array) -> str:
    """Return spots (n, 4) as text; turn and size only where they are not at rest."""
    rows = []
    for x, y, turn, size in spots:
        numbers = [x, y] if (turn, size) == (0.0, 100.0) else [x, y, turn, size]
        rows.append(", ".join(short(float(number), 6) for number in numbers))
    return "; ".join(rows)


def spots_of(marks: Marks) -> Array:
    """Return where copies stand, the corners of their outlines, and the middles of the edges between them (k, 2)."""
    out = [marks.xform[:SNAPS_MOST, :, 2]]
    for mark in range(min(marks.count, SNAPS_MOST)):
        family, variant = marks.families[marks.family[mark]], int(marks.variant[mark])
        if variant < 0:
            continue
        at = apply(marks.xform[mark], family.points[variant])
        for verbs, where in contours(family.verbs):
            ends = np.cumsum([POINTS_OF[verb] for verb in verbs if verb != CLOSE]) - 1
            corners = at[where][ends]
            after = np.roll(corners, -1, 0) if verbs[-1] == CLOSE else corners[1:]
            out += [corners, (corners[: len(after)] + after) / 2]
    return np.concatenate(out)


class Spots(Repeat):
    """Copies at places set by hand."""

    title: ClassVar[str] = "Spots"
    words: ClassVar[str] = "Copies at places set by hand, each with its own turn and size; drag them, or paste a list."
    own_steps: ClassVar[tuple[str, ...]] = ("turn", "size", *Repeat.own_steps)
    turns_back: ClassVar[bool] = True
    search: ClassVar[str] = "scatter points positions manual place list coordinates"

    kind: Literal["spots"] = "spots"
    spots: Annotated[
        str, SpotList("Spots", "x, y of each spot, from the middle of the sheet; or x, y, turn, size. Between spots a semicolon.")
    ] = "-40, -20; 0, 20; 40, -20"
    turn: Annotated[Number, Angle("Further turn", "How much further each copy is turned than the list says.", vary=True)] = 0.0
    size: Annotated[
        Number,
        Ratio(
            "Size", "Size of each copy, in parts of what the list says.", vary=True, least=0.1, most=10000.0, slides=(10.0, 200.0)
        ),
    ] = 100.0
    near: Annotated[
        str,
        LayerChoice(
            "Snap to",
            "Dragged spots snap to the copies of this layer, their corners and the middles of their edges.",
            main=False,
        ),
    ] = ""
    stacking: Annotated[PlainStacking, PLAIN_STACKING] = "last on top"
    level: Annotated[Number, LEVEL] = 0.0

    def layers(self) -> tuple[str, ...]:
        """Return the layer that spots snap to."""
        return (self.near,) if self.near else ()

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return a copy at each spot, in their order.

        Raises
        ------
        LimitError
        """
        spots, home = read_spots(self.spots), above.xform[above.origin, :, 2]
        ask = StepAsk(above, ground.known, self.id, len(spots))
        turn, size = spots[:, 2:3] + ask.steps(self.turn), spots[:, 3:] / 100 * ask.steps(self.size) / 100
        steps = about(linear(turn, size, size), home)
        steps[..., 2] += (spots[:, :2] - home)[:, None]
        found = Findings(said={"spots": f"{len(spots):,} in all"})
        return laid_out(above, self.id, steps, "last on top", None, found=found)

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return a bead for each spot, of very many the first."""
        spots = read_spots(self.spots)[:HANDLES_MOST]
        words = [f"{k + 1}: {short(spot[0], 2)}, {short(spot[1], 2)} {unit}" for k, spot in enumerate(spots)]
        beads = (Handle(f"spot {k + 1}", spot[:2], words[k], "bead") for k, spot in enumerate(spots))
        return HandleSet(tuple(beads), above.bodies(np.array([above.origin]))[0])

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return the list with one spot moved; it snaps to the construction grid."""
        spots, k = read_spots(self.spots), int(drag.name.split()[1]) - 1
        spots[k, :2] = drag.on_grid()
        marks = ground.layers.get(self.near)
        if marks is not None and not drag.free:
            found = spots_of(marks)
            away = np.hypot(*(found - drag.to).T)
            if len(found) and away.min() <= drag.near:
                spots[k, :2] = np.round(found[int(np.argmin(away))], 6)
        return {"spots": spots_text(spots)}

    @classmethod
    def suggested(cls, around: Surroundings) -> dict[str, Any]:
        """Return three spots round the middle."""
        side = tidy(around.size * 1.3)
        return {"spots": f"{-side:g}, {-side:g}; 0, {short(side)}, 30; {short(side)}, {-side:g}, 60, 70"}

    def key_line(self, unit: str) -> str:
        """Return how many."""
        return f"{len(read_spots(self.spots)):,} spots"
