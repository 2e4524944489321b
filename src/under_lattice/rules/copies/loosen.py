"""Rule: Loosen, moves copies apart until they no longer overlap."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

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
BETTER, STUCK, GROWN = 0.98, 10, 1.005  # so many passes that do not make the deepest overlap smaller: then all are grown a little
NEARLY = 0.002  # overlap, in parts of the radii, that passes alone end
DAMP = 3.0
NEIGHBOURS = 6
LOOSE, DENSE = 0.68, 0.95  # share of a hull that circles cover: in a loose pattern, and where they can hardly stand


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
    gap: Annotated[
        float, Length("Gap", "How much is kept free between the circles round the copies.", least=-1e4, slides=(-10.0, 10.0))
    ] = 0.0

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return the copies, moved; each is taken as the circle round its body, about its middle."""
        ring = above.body_ring
        middle = (ring.min(0) + ring.max(0)) / 2
        radius = float(np.hypot(*(ring - middle).T).max())
        x = above.xform
        at = x[:, :, 0] * middle[0] + x[:, :, 1] * middle[1] + x[:, :, 2]
        size = np.sqrt(np.abs(np.linalg.det(x[:, :, :2]))) * radius + self.gap / 2
        settle = self.until == "settled"
        to, passes, worst = loosened(at, np.maximum(size, 0.0), SETTLED_MOST if settle else int(self.passes), settle)
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


def loosened(at: Array, radius: Array, most: int, settle: bool = True) -> tuple[Array, int, float]:
    """Move points (n, 2) apart until no two are nearer than the sum of their radii (n,).

    In each pass all pairs that are too near are pushed apart at once, each point by the sum of its pushes, damped by how many
    push; then distances from the middle are put back into their order by the mean of the two nearest monotone sequences. To
    `settle`, a crowd that has no room where it stands is first grown evenly, and again a little where passes bring nothing more;
    one that even growth alone sets free keeps its pattern. The same points give the same answer.

    Returns
    -------
    at : (n, 2)
    passes : int
    worst : float
        The deepest overlap left, in parts of the radii.
    """
    from scipy.spatial import cKDTree  # takes a third of a second to load, and the first picture does not need it

    at = at + 1e-6 * radius.max(initial=0.0) * np.stack([np.cos(np.arange(len(at)) * 2.4), np.sin(np.arange(len(at)) * 2.4)], -1)
    middle = at.mean(0) if len(at) else np.zeros(2)
    order = np.argsort(np.hypot(*(at - middle).T), kind="stable")
    if settle:
        at = middle + (at - middle) * _growth(at, radius, cKDTree(at))
    worst, best, idle = 0.0, np.inf, 0
    for done in range(most + 1):
        pairs = cKDTree(at).query_pairs(2 * float(radius.max(initial=0.0)) + SLACK, output_type="ndarray")
        if not len(pairs):
            return at, done, 0.0
        moved, worst = _pushes(at, radius, pairs[np.lexsort((pairs[:, 1], pairs[:, 0]))])
        if worst <= SLACK or done == most:
            return at, done, max(worst, 0.0)
        at = _in_order(at + moved, middle, order)
        best, idle = (worst, 0) if worst < BETTER * best else (best, idle + 1)
        if settle and idle == STUCK and worst > NEARLY:
            at, best, idle = middle + (at - middle) * GROWN, np.inf, 0
    return at, most, worst


def _pushes(at: Array, radius: Array, pairs: Array) -> tuple[Array, float]:
    """By how much points (n, 2) are moved by their neighbours, of pairs (m, 2); and the deepest overlap."""
    one, other = pairs.T
    away = at[other] - at[one]
    length, need = np.maximum(np.hypot(*away.T), 1e-12), radius[one] + radius[other]
    deep = need - length
    worst = float((deep / np.maximum(need, 1e-12)).max())
    near = deep > 0
    one, other, deep = one[near], other[near], deep[near]
    push = (away[near] / length[near, None]) * (deep * 0.5 + 1e-3 * need[near])[:, None]
    count = np.bincount(np.concatenate([one, other]), minlength=len(at))
    moved = np.stack([np.bincount(other, push[:, k], len(at)) - np.bincount(one, push[:, k], len(at)) for k in (0, 1)], 1)
    return moved * np.minimum(1.0, DAMP / np.maximum(count, 1))[:, None], worst


def _in_order(at: Array, middle: Array, order: Array) -> Array:
    """Points (n, 2) whose distances from the middle are in a given order (n,) again."""
    away = at - middle
    far = np.hypot(*away.T)[order]
    wanted = (np.maximum.accumulate(far) + np.minimum.accumulate(far[::-1])[::-1]) / 2
    factor = np.ones(len(at))
    factor[order] = wanted / np.maximum(far, 1e-12)
    return np.asarray(middle + away * factor[:, None])


def _growth(at: Array, radius: Array, tree: Any) -> float:
    """How much a crowd is grown evenly at first.

    As much as sets all free if their hull then is not much larger than the circles need; else until half of them are free, and
    no more than to `DENSE`.
    """
    if len(at) < 3:
        return 1.0
    corners = hull(at)
    area = abs(float(np.sum(corners[:, 0] * np.roll(corners[:, 1], -1) - corners[:, 1] * np.roll(corners[:, 0], -1)))) / 2
    round_ = float(np.hypot(*(corners - np.roll(corners, 1, 0)).T).sum())
    mean = float(radius.mean())
    share = float(np.pi * (radius**2).sum()) / (area + round_ * mean + np.pi * mean**2)  # of the hull with its circles
    apart, which = tree.query(at, min(NEIGHBOURS + 1, len(at)))
    wanted = ((radius[:, None] + radius[which[:, 1:]]) / np.maximum(apart[:, 1:], 1e-12)).max(1)
    if wanted.max() <= np.sqrt(share / LOOSE):
        return max(1.0, float(wanted.max()) * (1 + SLACK))
    return max(1.0, min(float(np.median(wanted)), float(np.sqrt(share / DENSE))))
