"""How near copies come to their neighbours, measured on the outlines as they are drawn."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from under_lattice.core.progress import QUIET, Progress
from under_lattice.geometry.affine import Array
from under_lattice.geometry.neighbours import Nearest, nearest_of
from under_lattice.pattern.drawn import SHORT, TOUCH, Drawn

if TYPE_CHECKING:
    from under_lattice.measure.pairs import Pairs

POINTS_MOST = 20_000  # of one outline at the first look; one pair of finer ones takes seconds that nothing can stop
NEAREST = 8  # neighbours by their middles; of marks of another size, the few nearest
FEW = 3
STARTS_MOST = 20_000  # marks whose neighbours are looked at
CLOSE_MOST = 16  # pairs, or copies, that are looked at closely
SEEN = 0.005  # in the unit of the work: what two decimals do not show
GOLDEN = 0.6180339887  # of one turn: places that many steps apart spread evenly, however many there are
EVEN = 1e-9  # of a size, by which a map may stretch and still leaves discs discs


@dataclass(frozen=True)
class Gaps:
    """The least distance of a copy to its nearest neighbour, and the greatest; below zero they overlap by so much.

    Lengths in the unit of the work. With `within` copies stand within others, with `cross` lines cross: then distances say nothing.
    `corners` tells that those that touch do so in points only; `fine` that the outlines are too fine to be measured.
    """

    least: float | None = None
    most: float | None = None
    within: bool = False
    cross: bool = False
    corners: bool = False
    fine: bool = False

    def words(self, unit: str) -> str:
        """Say it: touching, gap or overlap, in the given unit; a range where it varies."""
        if self.fine:
            return "too fine to measure gaps"
        if self.within:
            return "copies stand within copies"
        if self.cross:
            return "lines cross"
        if self.least is None or self.most is None:
            return ""
        low, high = f"{abs(self.least):.2f}", f"{abs(self.most):.2f}"
        if abs(self.least) < TOUCH and abs(self.most) < TOUCH:
            return f"gap 0.00 {unit}, touching" + (" at corners only" if self.corners else "")
        if self.least < -SEEN:
            if self.most < -SEEN and low == high:
                return f"overlap {low} {unit}"
            return f"overlap {high} … {low} {unit}" if self.most < -SEEN else f"overlap up to {low} {unit}"
        return f"gap {low} {unit}" if low == high else f"gap {low} … {high} {unit}"


def gaps_of(drawn: Drawn, progress: Progress = QUIET) -> Gaps:
    """Return how near copies come to their nearest neighbours.

    Discs are measured in closed form; of other outlines those that lie to each other alike once, and curves closely only where
    that may decide. Of more than 20,000 marks as many are asked for their neighbours. Of more pairs than can be looked at those
    that may be nearest are, and all of some copies; the greatest distance is that of such a copy.

    Raises
    ------
    GivenUp
    """
    if drawn.points > POINTS_MOST:
        return Gaps(fine=True)
    one, other, asked = _neighbours(drawn, progress)
    if not len(one):
        return Gaps()
    round_ = _round(drawn)
    discs = round_[one] & round_[other]
    apart = drawn.between(one, other)
    if _surely_within(drawn, round_, one, other, apart):
        return Gaps(within=True)
    copies = np.unique(drawn.copy[asked])
    if not discs.all():
        wanted, copies = _that_decide(drawn, one, other, apart, copies)
        one, other, apart, discs = (each[wanted | discs] for each in (one, other, apart, discs))
    mine, its = drawn.reach[one[discs]], drawn.reach[other[discs]]
    from under_lattice.measure.pairs import Pairs  # loads the compiled kernels

    first, variant = drawn.poses(one[~discs], other[~discs])
    pairs = Pairs(drawn, one[~discs][first], other[~discs][first])
    pairs.look(_ranks(drawn.copy[one[~discs]], drawn.copy[other[~discs]], variant, copies), progress)
    if pairs.within or pairs.cross:
        return Gaps(within=pairs.within, cross=not pairs.within)
    found = _Found(pairs, np.full(len(one), -1), np.full(len(one), np.nan))
    found.variant[~discs], found.apart[discs] = variant, apart[discs] - mine - its
    least = found.least()
    if least is None:
        return Gaps()
    most = found.most(drawn.copy[one], drawn.copy[other], copies, progress)
    return Gaps(_whole(least), _whole(max(most, least)), corners=pairs.touching > 0 and not pairs.sides)


@dataclass(frozen=True)
class _Found:
    """How far apart neighbours are: `variant` says which of `pairs` each (P,) lies like, `apart` how far it is where that is -1."""

    pairs: Pairs
    variant: Array
    apart: Array

    def known(self) -> tuple[Array, Array]:
        """How far apart each is as far as is known (P,), and by how much that may be wrong (P,)."""
        own = self.variant >= 0
        apart, slack = self.apart.copy(), np.zeros(len(self.apart))
        apart[own], slack[own] = self.pairs.apart[self.variant[own]], self.pairs.slack[self.variant[own]]
        return apart, slack

    def least(self) -> float | None:
        """The least distance of all; None where nothing is known."""
        apart, slack = self.pairs.apart, self.pairs.slack
        best = float(np.nanmin(self.apart)) if not np.isnan(self.apart).all() else np.inf
        order = np.argsort(apart - slack, kind="stable")  # nan comes last
        for at in order[:CLOSE_MOST].tolist():
            if not apart[at] - slack[at] < best:
                break
            best = min(best, self.pairs.closely(at))
        return best if np.isfinite(best) else None

    def most(self, one: Array, other: Array, asked: Array, progress: Progress) -> float:
        """The greatest distance of any of the copies `asked` to its nearest neighbour, pairs being of copies `one` and `other`."""
        apart, slack = self.known()
        low = np.full(int(max(one.max(), other.max(), asked.max())) + 1, np.inf)
        for copies in (one, other):
            np.fmin.at(low, copies, apart)
        unseen = np.isnan(apart)
        bound = self.pairs.bound[self.variant[unseen]]
        for copies in (one[unseen], other[unseen]):
            low[copies[bound < low[copies]]] = np.inf  # what nobody looked at may be nearer
        asked = asked[np.isfinite(low[asked])]
        widest, best = float(slack.max()), -np.inf
        for copy in asked[np.argsort(-low[asked], kind="stable")][:CLOSE_MOST].tolist():
            if low[copy] + widest <= best:
                break
            progress.check()
            near = np.flatnonzero(((one == copy) | (other == copy)) & (apart <= low[copy] + 2 * slack))
            kinds = np.unique(self.variant[near])
            exact = [self.pairs.closely(kind) for kind in kinds[kinds >= 0].tolist()]
            best = max(best, min([*exact, *apart[near[self.variant[near] < 0]].tolist()]))
        return best


def _that_decide(drawn: Drawn, one: Array, other: Array, apart: Array, asked: Array) -> tuple[Array, Array]:
    """Tell which pairs of marks (P,), their middles `apart` (P,), may decide how near copies come to their nearest neighbours.

    Returns
    -------
    wanted : (P,) bool
        Pairs that may be nearest of all or overlap, and all that may be nearest of the copies below.
    farthest : (k,)
        Those of the copies `asked` whose nearest neighbour may be farthest.
    """
    covers, reach = drawn.covered, drawn.reach * (1 + SHORT)
    low, high = apart - reach[one] - reach[other], apart - covers[one] - covers[other]  # between these they are apart
    copies = drawn.copy[one], drawn.copy[other]
    nearest, sure = (np.full(int(drawn.copy.max()) + 1, np.inf) for _ in range(2))
    for copy in copies:
        np.minimum.at(nearest, copy, low)
        np.minimum.at(sure, copy, high)
    told = asked[np.isfinite(nearest[asked])]
    farthest = told[sure[told] >= nearest[told].max(initial=-np.inf)]
    limit = np.full(len(nearest), max(float(high.min(initial=np.inf)), 0.0))
    limit[farthest] = np.maximum(limit[farthest], sure[farthest])
    return (low <= limit[copies[0]]) | (low <= limit[copies[1]]), farthest


def _surely_within(drawn: Drawn, discs: Array, one: Array, other: Array, apart: Array) -> bool:
    """Tell whether a mark lies in a disc that another one covers; the middles of pairs (P,) are `apart` (P,)."""
    covered = drawn.reach if discs.all() else np.where(discs, drawn.reach, drawn.covered)
    reach = drawn.reach * np.where(discs, 1.0, 1 + SHORT)
    return bool((apart + np.minimum(reach[one] - covered[other], reach[other] - covered[one]) < -TOUCH).any())


def _ranks(one: Array, other: Array, variant: Array, copies: Array) -> Array:
    """In which order kinds of pairs (m,) are looked at: all of a copy, then all of another one, far from the first."""
    turn = np.argsort(np.argsort(np.arange(len(copies)) * GOLDEN % 1.0))
    of_copy = np.full(int(max(one.max(initial=0), other.max(initial=0), copies.max(initial=0))) + 1, len(copies))
    of_copy[copies] = turn
    rank = np.full(int(variant.max(initial=-1)) + 1, len(copies))
    np.minimum.at(rank, variant, np.minimum(of_copy[one], of_copy[other]))
    return rank


def _whole(value: float) -> float:
    return 0.0 if abs(value) < TOUCH else float(value)


def _round(drawn: Drawn) -> Array:
    """Which marks (N,) are discs as they lie."""
    most, least = drawn.scales
    return np.asarray(drawn.disc[drawn.kind] & (most - least <= EVEN * most))


def _neighbours(drawn: Drawn, progress: Progress) -> tuple[Array, Array, Array]:
    """Pairs of marks of different copies that may be neighbours, (P,) and (P,), and the marks that were asked.

    Marks of one size are looked for together: the neighbour of a small one may be a large one whose middle is far.
    """
    count, nothing = len(drawn.rows), np.zeros(0, np.int64)
    if count < 2 or drawn.copy[0] == drawn.copy[-1]:
        return nothing, nothing, nothing
    asked = np.arange(count) if count <= STARTS_MOST else np.linspace(0, count - 1, STARTS_MOST).astype(np.int64)
    size = np.rint(np.log2(np.maximum(drawn.reach, 1e-9 * float(drawn.reach.max() or 1.0))))
    faces = len(drawn.marks.families)
    pairs = []
    for group in np.unique(size):
        progress.check()
        members = np.flatnonzero(size == group)
        points = drawn.centre[members]
        for its_own in (True, False):
            others = size[asked] < group if len(asked) == count else size[asked] != group  # the small ones ask for the large
            some = asked[size[asked] == group if its_own else others]
            k = min(len(members), (NEAREST + 1 if its_own else FEW) * min(faces, 4))
            if not len(some):
                continue
            places = drawn.centre[some]
            near = members[Nearest(points).to(places, k) if its_own else nearest_of(points, places, k)]
            pairs.append((np.repeat(some, k), near.ravel()))
    one, other = (np.concatenate([each[side] for each in pairs]) for side in (0, 1))
    apart = drawn.copy[one] != drawn.copy[other]
    one, other = one[apart], other[apart]
    told = np.sort(np.minimum(one, other) * count + np.maximum(one, other))
    told = told[np.diff(told, prepend=-1) > 0]  # quicker than `unique`
    return told // count, told % count, asked
