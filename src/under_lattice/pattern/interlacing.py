"""Interlacing: where lines cross, which passes over at each crossing, and the straps that follow."""

from __future__ import annotations

import itertools
from collections import deque
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
import shapely
from shapely.ops import substring

from under_lattice.core.errors import LimitError, RuleRefused
from under_lattice.core.progress import QUIET, Progress
from under_lattice.core.units import short
from under_lattice.geometry.affine import Array
from under_lattice.geometry.path import Path

Join = Literal["round", "mitre"]
QUARTER = 24  # pieces of a round corner's quarter turn
PIECES_MOST, CROSSINGS_MOST = 60_000, 8_000
AT_END = 1e-9  # of a straight piece, by which a crossing may lie beyond its ends
SAME = 1e-7  # of the size of all lines: places nearer than this are one


@dataclass(frozen=True, eq=False)
class Crossings:
    """Where lines cross.

    Attributes
    ----------
    places : (C, 2)
    line : (C, 2) int
        The two lines of each.
    along : (C, 2)
        The length walked on each of them.
    sine : (C,)
        Of the angle between them.
    """

    places: Array
    line: Array
    along: Array
    sine: Array


def crossings(lines: list[Path], progress: Progress = QUIET) -> Crossings:
    """Return the crossings of lines, also of one with itself; where lines only touch is none.

    Raises
    ------
    RuleRefused
        When lines lie upon each other.
    LimitError
    GivenUp
    """
    starts = np.concatenate([line.points[:-1] for line in lines])
    ends = np.concatenate([line.points[1:] for line in lines])
    length = np.concatenate([np.diff(line.along) for line in lines])
    owner = np.repeat(np.arange(len(lines)), [len(line.points) - 1 for line in lines])
    begun = np.concatenate([line.along[:-1] for line in lines])
    if len(starts) > PIECES_MOST:
        raise LimitError(f"the lines have {len(starts):,} straight pieces; at most {PIECES_MOST:,} can be interlaced")
    size = float(np.ptp(np.concatenate([starts, ends]), 0).max())
    pieces: Any = shapely.linestrings(np.stack([starts, ends], 1))
    one, other = shapely.STRtree(pieces).query(pieces, predicate="intersects")
    one, other = one[one < other], other[one < other]
    a, b = starts[one], ends[one] - starts[one]
    c, d = starts[other], ends[other] - starts[other]
    cross = b[:, 0] * d[:, 1] - b[:, 1] * d[:, 0]
    flat = np.abs(cross) <= 1e-9 * np.hypot(*b.T) * np.hypot(*d.T)
    _refuse_doubled(a[flat], b[flat], c[flat], d[flat], size)
    with np.errstate(divide="ignore", invalid="ignore"):
        s = ((c - a)[:, 0] * d[:, 1] - (c - a)[:, 1] * d[:, 0]) / cross
        t = ((c - a)[:, 0] * b[:, 1] - (c - a)[:, 1] * b[:, 0]) / cross
    real = ~flat & (s >= -AT_END) & (s <= 1 + AT_END) & (t >= -AT_END) & (t <= 1 + AT_END)
    one, other, s, t = one[real], other[real], s[real], t[real]
    places = starts[one] + s[:, None] * (ends[one] - starts[one])
    along = np.stack([begun[one] + s * length[one], begun[other] + t * length[other]], 1)
    sine = np.abs(cross[real]) / (length[one] * length[other])
    found = _each_once(Crossings(places, np.stack([owner[one], owner[other]], 1), along, sine), lines, 4 * SAME * size)
    keep = _passes(found, lines, size, progress)
    if keep.sum() > CROSSINGS_MOST:
        raise LimitError(f"the lines cross {keep.sum():,} times; at most {CROSSINGS_MOST:,} crossings can be interlaced")
    return Crossings(found.places[keep], found.line[keep], found.along[keep], found.sine[keep])


def _each_once(found: Crossings, lines: list[Path], near: float) -> Crossings:
    """Crossings without those found before: one right on a joint is found by up to four pairs of pieces."""
    from scipy.spatial import cKDTree  # takes a third of a second to load

    length = np.array([line.length for line in lines])[found.line]
    closed = np.array([line.closed for line in lines])[found.line]
    along = np.where(closed & (found.along > length - near), found.along - length, found.along)
    same = found.line[:, 0] == found.line[:, 1]
    along = np.where(same[:, None], np.sort(along, 1), along)
    apart = 4 * float(length.max(initial=1.0))
    again = (
        cKDTree(np.concatenate([found.line * apart, along], 1)).query_pairs(near, output_type="ndarray") if len(along) else along
    )
    keep = np.ones(len(along), bool)
    keep[again.max(1).astype(int) if len(again) else []] = False
    return Crossings(found.places[keep], found.line[keep], along[keep], found.sine[keep])


def _refuse_doubled(a: Array, b: Array, c: Array, d: Array, size: float) -> None:
    """Refuse pieces (k, 2) that share more than a point."""
    along = b / np.maximum(np.hypot(*b.T), 1e-300)[:, None]
    apart = np.abs((c - a)[:, 0] * along[:, 1] - (c - a)[:, 1] * along[:, 0])
    low, high = np.sort(np.stack([((c - a) * along).sum(1), ((c + d - a) * along).sum(1)]), 0)
    shared = np.minimum(high, np.hypot(*b.T)) - np.maximum(low, 0)
    doubled = (apart < SAME * size) & (shared > 10 * SAME * size)
    if doubled.any():
        together = float(shared[doubled].sum())
        raise RuleRefused(
            f"lines lie upon each other along {short(together)} in all; only lines that cross can pass over and under"
        )


def _passes(found: Crossings, lines: list[Path], size: float, progress: Progress) -> Array:
    """Which crossings really pass to the other side: not the joints of one line with itself, and not where lines only touch."""
    keep = np.ones(len(found.places), bool)
    near = 4 * SAME * size
    for k, ((i, j), (s, t)) in progress.each(enumerate(zip(found.line, found.along, strict=True))):
        first, second = lines[i], lines[j]
        if i == j:
            away = abs(s - t)
            away = min(away, first.length - away) if first.closed else away
            if away <= near:
                keep[k] = False
                continue
        step = min(1e-4 * size, first.length / 8, second.length / 8)
        ends_here = [not p.closed and min(v, p.length - v) <= near for p, v in ((first, s), (second, t))]
        if any(ends_here):
            keep[k] = False
            continue
        away = np.concatenate([p.at(np.array([v - step, v + step]))[0] for p, v in ((first, s), (second, t))]) - found.places[k]
        angle = np.arctan2(away[:, 1], away[:, 0])
        # the second line comes from one side of the first and goes to the other
        after, one_side, other_side = (angle[1:] - angle[0]) % (2 * np.pi)
        keep[k] = (one_side < after) != (other_side < after)
    return keep


def alternating(found: Crossings, lines: int) -> tuple[Array, Array]:
    """Return whether the first line of each crossing passes over (C,), and which crossings break the turns (C,).

    Along each line over and under take turns; at each crossing one is over and one under. The visits of lines to crossings are
    coloured with two colours along these demands, which always works for closed lines in the plane.
    """
    count = len(found.places)
    beside: list[list[int]] = [[] for _ in range(2 * count)]  # visit 2c + 0 and 2c + 1 of crossing c
    for c in range(count):
        beside[2 * c].append(2 * c + 1)
        beside[2 * c + 1].append(2 * c)
    visits = np.arange(2 * count).reshape(count, 2)
    for line in range(lines):
        mine = found.line == line
        order = visits[mine][np.argsort(found.along[mine], kind="stable")]
        for one, other in itertools.pairwise(order.tolist()):
            beside[one].append(other)
            beside[other].append(one)
    over = np.full(2 * count, -1)
    for first in range(2 * count):
        if over[first] >= 0:
            continue
        over[first] = 1
        wait = deque([first])
        while wait:
            visit = wait.popleft()
            for other in beside[visit]:
                if over[other] < 0:
                    over[other] = 1 - over[visit]
                    wait.append(other)
    broken = np.array([any(over[v] == over[w] for v in (2 * c, 2 * c + 1) for w in beside[v]) for c in range(count)], bool)
    over[1::2] = 1 - over[::2]
    return over[::2] == 1, broken


def straps(
    lines: list[Path], found: Crossings, over: Array, width: float, gap: float, join: Join, progress: Progress = QUIET
) -> list[list[shapely.Polygon]]:  # fmt: skip
    """Return the straps of each line as closed outlines (K, 2): cut where it passes under, a gap away from what passes over.

    Raises
    ------
    GivenUp
    """
    drawn = [shapely.LineString(path.points) for path in lines]
    under: list[list[float]] = [[] for _ in lines]
    cutters: list[list[Any]] = [[] for _ in lines]
    passes = zip(found.line.tolist(), found.along.tolist(), found.sine.tolist(), over, strict=True)
    for pair, along, sine, first_over in progress.each(passes):
        low = 1 if first_over else 0  # which of the two passes under
        below, above, at = pair[low], pair[1 - low], along[1 - low]
        reach = min((width + gap) / max(sine, 0.1) + width, lines[above].length / 3)
        knife = _walk(lines[above], drawn[above], at - reach, at + reach)
        under[below].append(along[low])
        cutters[below].append(knife.buffer(width / 2 + gap, cap_style="flat", join_style="mitre"))
    return [_pieces(*one, width, join) for one in progress.each(zip(lines, drawn, under, cutters, strict=True))]


def _walk(path: Path, drawn: Any, begin: float, end: float) -> Any:
    """The stretch of a line between two lengths; over the joint of a closed one too."""
    length = path.length
    if not path.closed:
        return substring(drawn, max(begin, 0.0), min(end, length))
    inner = path.along[1:-1]
    stops = np.concatenate([inner - length, [0.0], inner, [length], inner + length])
    walked = np.concatenate([[begin], stops[(stops > begin + 1e-12) & (stops < end - 1e-12)], [end]])
    return shapely.LineString(path.at(walked)[0])


def _pieces(path: Path, drawn: Any, under: list[float], cutters: list[Any], width: float, join: Join) -> list[shapely.Polygon]:
    """Straps between the places where a line passes under."""
    if not under:
        whole = shapely.LinearRing(path.points[:-1]) if path.closed else drawn
        return [whole.buffer(width / 2, quad_segs=QUARTER, cap_style="flat", join_style=join)]
    order = np.argsort(under, kind="stable")
    stops, knives = np.array(under)[order], [cutters[k] for k in order]
    if path.closed:
        ends = [*stops, stops[0] + path.length]
        spans = [(ends[k], ends[k + 1], k, (k + 1) % len(stops)) for k in range(len(stops))]
    else:
        ends = [0.0, *stops, path.length]
        spans = [(ends[k], ends[k + 1], k - 1, k if k < len(stops) else -1) for k in range(len(ends) - 1)]
    out = []
    for begin, end, first, last in spans:
        strap: Any = _walk(path, drawn, float(begin), float(end)).buffer(
            width / 2, quad_segs=QUARTER, cap_style="flat", join_style=join
        )
        for knife in {first, last} - {-1}:
            strap = strap.difference(knives[knife])
        parts = [part for part in shapely.get_parts(strap) if part.geom_type == "Polygon" and part.area > 1e-9 * width * width]
        if parts:
            out.append(max(parts, key=lambda part: part.area))
    return out
