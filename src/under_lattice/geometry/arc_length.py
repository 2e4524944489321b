"""Lengths along cubics: how long they are, and the places that lie so far along them."""

from __future__ import annotations

import numpy as np

from under_lattice.geometry.affine import Array

NODES, WEIGHTS = np.polynomial.legendre.leggauss(8)
NEAR = 1e-10  # of the whole, by which a stretch may be longer or shorter than its halves together
DEEPEST = 24  # times a stretch is halved, at a turning back for instance
STRETCHES_MOST = 400_000
SAMPLES, SLOW, THIRDS = 32, 0.3, 60  # where a cubic is slow: looked at so often, beside its fastest; how often what is left is cut
EXACT = 1e-10  # of a cubic: a last step of Newton's method that is shorter leaves an error far below rounding
STEPS = 8  # of Newton's method; lengths grow evenly on short stretches


class Walk:
    """A line of cubics, measured.

    Parameters
    ----------
    cubics : (S, 4, 2)
        One after the other, each with a length.
    """

    def __init__(self, cubics: Array) -> None:
        self.cubics = cubics
        which, low, high, length = _stretches(cubics)
        order = np.lexsort((low, which))
        self._which, self._low, self._high = which[order], low[order], high[order]
        self.along = np.concatenate([[0.0], np.cumsum(length[order])])

    @property
    def length(self) -> float:
        """Length of the whole, in its unit."""
        return float(self.along[-1])

    def joints(self) -> Array:
        """Return how far along (S + 1,) the cubics begin, and where the last ends."""
        begins = np.searchsorted(self._which, np.arange(len(self.cubics)))
        return np.append(self.along[begins], self.along[-1])

    def places(self, lengths: Array) -> Array:
        """Return the places (n,) after lengths (n,) from 0 to the whole: number of the cubic and share of it, as one number."""
        lengths = np.clip(np.asarray(lengths, float), 0.0, self.length)
        at = np.clip(np.searchsorted(self.along, lengths, "right") - 1, 0, len(self._which) - 1)
        own, low, high = self.cubics[self._which[at]], self._low[at], self._high[at]
        left, whole = lengths - self.along[at], np.maximum(self.along[at + 1] - self.along[at], 1e-300)
        t = low + (high - low) * left / whole
        for _ in range(STEPS):
            speed = np.maximum(speeds(own, t[:, None])[:, 0], 1e-3 * whole / np.maximum(high - low, 1e-300))
            before, t = t, np.clip(t - (_between(own, low, t) - left) / speed, low, high)
            if len(t) == 0 or np.abs(t - before).max() < EXACT:
                break
        return self._which[at] + t


def speeds(cubics: Array, t: Array) -> Array:
    """Return how fast places move along cubics (n, 4, 2) at shares (n, k), lengths for a whole share (n, k)."""
    d = 3 * np.diff(cubics, axis=1)[:, None]
    s = 1 - t[..., None]
    u = t[..., None]
    moving = s * s * d[:, :, 0] + 2 * s * u * d[:, :, 1] + u * u * d[:, :, 2]
    return np.hypot(moving[..., 0], moving[..., 1])


def _between(cubics: Array, low: Array, high: Array) -> Array:
    """Lengths (n,) of cubics (n, 4, 2) between two shares of them (n,): Gauss's rule with eight places."""
    half = (high - low)[:, None] / 2
    return np.asarray((speeds(cubics, (low + high)[:, None] / 2 + half * NODES) * WEIGHTS).sum(1) * half[:, 0])


def _from_slowest(cubics: Array) -> tuple[Array, Array, Array]:
    """Cubics cut where they are very slow, as at a turning back: of which, from and to, (n,) each.

    Quadrature does not see a bend of the speed that lies closely beside an end; right at an end it does no harm.
    """
    t = np.linspace(0.0, 1.0, SAMPLES + 1)
    fast = speeds(cubics, np.broadcast_to(t, (len(cubics), len(t))))
    inner = fast[:, 1:-1]
    slow = (inner <= fast[:, :-2]) & (inner <= fast[:, 2:]) & (inner < SLOW * fast.max(1, keepdims=True))
    which, k = np.nonzero(slow)
    low, high = t[k], t[k + 2]
    for _ in range(THIRDS):
        third = (high - low) / 3
        before, after = speeds(cubics[which], np.stack([low + third, high - third], 1)).T
        low, high = np.where(before > after, low + third, low), np.where(before > after, high, high - third)
    everyone = np.arange(len(cubics))
    cuts = np.concatenate([np.zeros(len(cubics)), (low + high) / 2])
    owner = np.concatenate([everyone, which])
    order = np.lexsort((cuts, owner))
    begin, owner = cuts[order], owner[order]
    end = np.append(begin[1:], 1.0)
    end[np.append(owner[1:] != owner[:-1], True)] = 1.0
    return owner, begin, end


def _stretches(cubics: Array) -> tuple[Array, Array, Array, Array]:
    """Cubics in stretches short enough to be measured well: of which, from, to, and how long, (n,) each."""
    which, low, high = _from_slowest(cubics)
    length = _between(cubics[which], low, high)
    done: list[tuple[Array, Array, Array, Array]] = []
    for deep in range(DEEPEST + 1):
        middle = (low + high) / 2
        halves = _between(cubics[which], low, middle), _between(cubics[which], middle, high)
        total = sum(float(one[3].sum()) for one in done) + float(length.sum())
        rough = np.abs(halves[0] + halves[1] - length) > NEAR * total
        if deep == DEEPEST or rough.sum() * 2 > STRETCHES_MOST:
            rough[:] = False
        done.append((which[~rough], low[~rough], high[~rough], length[~rough]))
        if not rough.any():
            break
        which, first, second = which[rough], low[rough], high[rough]
        halfway = middle[rough]
        which = np.concatenate([which, which])
        low, high = np.concatenate([first, halfway]), np.concatenate([halfway, second])
        length = np.concatenate([halves[0][rough], halves[1][rough]])
    a, b, c, d = (np.concatenate(column) for column in zip(*done, strict=True))
    return a, b, c, d
