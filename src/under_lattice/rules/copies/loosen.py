"""Rule: Loosen, moves copies apart until they no longer overlap."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np

from under_lattice.core.units import short
from under_lattice.declare.dials import Choice, Count, Length, When
from under_lattice.geometry.affine import Array, compose, moves
from under_lattice.geometry.body import hull
from under_lattice.pattern.findings import Findings
from under_lattice.pattern.stage import Stage
from under_lattice.rules.families import CopyRule
from under_lattice.rules.ground import Ground

SETTLED_MOST = 1000
SLACK = 1e-6
STUCK = 50  # passes after which a crowd that does not settle is grown
PACKED = 0.7  # of the ground discs cover when they are shaken down


class Loosen(CopyRule):
    """Move copies apart."""

    title: ClassVar[str] = "Loosen"
    words: ClassVar[str] = "Move copies apart so that they no longer overlap; order and names stay."
    search: ClassVar[str] = "relax pack spread separate overlap collide circles"

    kind: Literal["loosen"] = "loosen"
    until: Annotated[
        Literal["settled", "so many passes"],
        Choice("Goes on", "Until no two overlap, or for so many passes.", options=("settled", "so many passes")),
    ] = "settled"
    passes: Annotated[
        float,
        Count(
            "Passes",
            "How often neighbours push.",
            most=1000,
            slides=(1, 100),
            when=(When(field="until", values=("so many passes",), reason="it goes on until settled"),),
        ),
    ] = 20
    gap: Annotated[float, Length("Gap", "Kept between the circles round the copies.", least=-1e4, slides=(-10.0, 10.0))] = 0.0

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return the copies, moved; each is taken as the circle round its body, about its middle."""
        ring = above.body_ring
        middle = (ring.min(0) + ring.max(0)) / 2
        radius = float(np.hypot(*(ring - middle).T).max())
        x = above.xform
        at = x[:, :, 0] * middle[0] + x[:, :, 1] * middle[1] + x[:, :, 2]
        size = np.sqrt(np.abs(np.linalg.det(x[:, :, :2]))) * radius + self.gap / 2
        most = SETTLED_MOST if self.until == "settled" else int(self.passes)
        to, passes, worst = loosened(at, np.maximum(size, 0.0), most)
        step = moves(to - at)
        said = f"{passes} passes" if worst <= SLACK else f"{passes} passes, overlap {short(worst)} is left"
        return Stage(
            self.id, above.shape, compose(step, x), step, np.arange(above.n, dtype=np.int32), above.key, above,
            {"step": np.arange(above.n, dtype=float)}, found=Findings(said={"until": said}),
        )  # fmt: skip

    @property
    def at_rest(self) -> str:
        """Why nothing changes."""
        return "no copies overlap"

    def key_line(self, unit: str) -> str:
        """Return how long."""
        return "until settled" if self.until == "settled" else f"{short(self.passes)} passes"


def loosened(at: Array, radius: Array, most: int) -> tuple[Array, int, float]:
    """Move points (n, 2) apart until no two are nearer than the sum of their radii (n,).

    A crowd that has no room where it stands is first grown evenly about its middle. Then in each pass all pairs that are too near
    are pushed apart at once, each point by the sum of its pushes, damped by how many push; where that does not settle, all get a
    little more room. The same points give the same answer.

    Returns
    -------
    at : (n, 2)
    passes : int
    worst : float
        The deepest overlap left, in parts of the radii.
    """
    from scipy.spatial import cKDTree  # takes a third of a second to load, and the first picture does not need it

    at = at + 1e-6 * radius.max(initial=0.0) * np.stack([np.cos(np.arange(len(at)) * 2.4), np.sin(np.arange(len(at)) * 2.4)], -1)
    at = _with_room(at, radius)
    worst = 0.0
    for done in range(most + 1):
        pairs = cKDTree(at).query_pairs(2 * float(radius.max(initial=0.0)) + SLACK, output_type="ndarray")
        if not len(pairs):
            return at, done, 0.0
        one, other = pairs[np.lexsort((pairs[:, 1], pairs[:, 0]))].T
        away = at[other] - at[one]
        length = np.maximum(np.hypot(*away.T), 1e-12)
        need = radius[one] + radius[other]
        deep = need - length
        worst = float((deep / np.maximum(need, 1e-12)).max())
        if worst <= SLACK or done == most:
            return at, done, max(worst, 0.0)
        near = deep > 0
        one, other, deep = one[near], other[near], deep[near]
        push = (away[near] / length[near, None]) * (deep * 0.5 + 1e-3 * need[near])[:, None]
        count = np.bincount(np.concatenate([one, other]), minlength=len(at))
        damp = np.minimum(1.0, 1.7 / np.maximum(count, 1))
        moved = np.zeros_like(at)
        for k in (0, 1):
            moved[:, k] = np.bincount(other, push[:, k], len(at)) - np.bincount(one, push[:, k], len(at))
        at = at + moved * np.maximum(damp, 0.45)[:, None]
        if done % STUCK == STUCK - 1 and worst > 0.02:  # a crowd in the middle: a little more room for all
            at = at.mean(0) + (at - at.mean(0)) * 1.15
    return at, most, worst


def _with_room(at: Array, radius: Array) -> Array:
    """Grow points evenly about their middle until their hull has room for their circles, at the density discs settle at."""
    if len(at) < 3:
        return at
    corners = hull(at)
    area = abs(float(np.sum(corners[:, 0] * np.roll(corners[:, 1], -1) - corners[:, 1] * np.roll(corners[:, 0], -1)))) / 2
    wanted = float(np.pi * (radius**2).sum()) / PACKED
    have = area + float(np.pi * radius.mean() ** 2) + 2 * float(radius.mean()) * float(np.hypot(*np.ptp(at, 0)))
    if wanted <= have or area <= 0.0:
        return at
    middle = at.mean(0)
    return np.asarray(middle + (at - middle) * np.sqrt(wanted / max(area, wanted * 1e-6)))
