"""Compiled kernels: how far apart pairs of outlines are, and how thick what two convex ones have in common is.

An outline is its straight pieces (S, 4): x and y of both ends, on the sheet.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from under_lattice.core.kernel_compiler import njit

CHUNK_LEAST, CHUNK_MOST = 8, 64  # pieces that are looked at together: more of them where there are many
NOWHERE = 1e300
TOUCH = 1e-6  # as of `pattern/drawn.py`; here too, since a compiled kernel would not notice a change elsewhere


@njit(nogil=True, cache=True)
def place(points: Any, contours: Any, begin: int, end: int, closed: bool, m: Any, out: Any) -> int:
    """Write the pieces of contours `begin` to `end`, mapped by `m` (2, 3), and return how many there are.

    Contour c has the points (P, 2) from `contours[c]` on; closed ones come back to their first point.
    """
    count = 0
    for c in range(begin, end):
        first, last = contours[c], contours[c + 1]
        for k in range(first, last if closed else last - 1):
            after = k + 1 if k + 1 < last else first
            for at in range(2):
                p = k if at == 0 else after
                out[count, 2 * at] = m[0, 0] * points[p, 0] + m[0, 1] * points[p, 1] + m[0, 2]
                out[count, 2 * at + 1] = m[1, 0] * points[p, 0] + m[1, 1] * points[p, 1] + m[1, 2]
            count += 1
    return count


@njit(nogil=True, cache=True)
def _pieces(rings: Any, kind: int, m: Any, out: Any) -> int:
    """Write the pieces of outline `kind` of some `rings`, mapped by `m`, and return how many there are."""
    first, last = rings.contour_of[kind], rings.contour_of[kind + 1]
    return place(rings.points, rings.contours, first, last, rings.closed[kind] == 1, m, out)


@njit(nogil=True, cache=True)
def _boxes(pieces: Any, count: int, chunk: int, out: Any) -> int:
    """Write left, top, right and bottom of every `chunk` pieces, and return how many boxes there are."""
    boxes = (count + chunk - 1) // chunk
    for b in range(boxes):
        left = top = NOWHERE
        right = bottom = -NOWHERE
        for k in range(b * chunk, min(count, (b + 1) * chunk)):
            left, right = min(left, pieces[k, 0], pieces[k, 2]), max(right, pieces[k, 0], pieces[k, 2])
            top, bottom = min(top, pieces[k, 1], pieces[k, 3]), max(bottom, pieces[k, 1], pieces[k, 3])
        out[b, 0], out[b, 1], out[b, 2], out[b, 3] = left, top, right, bottom
    return boxes


@njit(nogil=True, cache=True)
def _between(one: Any, other: Any) -> float:
    """The square of the distance between two boxes."""
    x = max(one[0] - other[2], other[0] - one[2], 0.0)
    y = max(one[1] - other[3], other[1] - one[3], 0.0)
    return x * x + y * y


@njit(nogil=True, cache=True)
def _to_piece(x: float, y: float, piece: Any) -> float:
    """The square of the distance of a point to a piece."""
    run_x, run_y = piece[2] - piece[0], piece[3] - piece[1]
    long = run_x * run_x + run_y * run_y
    t = ((x - piece[0]) * run_x + (y - piece[1]) * run_y) / long if long > 0.0 else 0.0
    t = min(1.0, max(0.0, t))
    dx, dy = piece[0] + t * run_x - x, piece[1] + t * run_y - y
    return dx * dx + dy * dy


@njit(nogil=True, cache=True)
def _side(piece: Any, x: float, y: float) -> float:
    """On which side of a piece's line a point lies, and how far times the piece's length."""
    return (piece[2] - piece[0]) * (y - piece[1]) - (piece[3] - piece[1]) * (x - piece[0])


@njit(nogil=True, cache=True)
def _cross(one: Any, other: Any) -> bool:
    """Tell whether two pieces cross, each going on beyond the other."""
    if (_side(one, other[0], other[1]) > 0.0) == (_side(one, other[2], other[3]) > 0.0):
        return False
    if _side(one, other[0], other[1]) == 0.0 or _side(one, other[2], other[3]) == 0.0:
        return False
    mine, its = _side(other, one[0], one[1]), _side(other, one[2], one[3])
    return (mine > 0.0 and its < 0.0) or (mine < 0.0 and its > 0.0)


@njit(nogil=True, cache=True)
def _chunks(one: Any, a: int, many: int, other: Any, b: int, much: int, chunk: int, best: float) -> float:
    """The least square of a distance between pieces of two chunks, or `best` if that is less; -1 where any cross.

    What crosses no further than `TOUCH` from an end does not cross: ends that lie on sides are beside them by chance.
    """
    for i in range(a * chunk, min(many, (a + 1) * chunk)):
        left, right = min(one[i, 0], one[i, 2]), max(one[i, 0], one[i, 2])
        top, bottom = min(one[i, 1], one[i, 3]), max(one[i, 1], one[i, 3])
        for j in range(b * chunk, min(much, (b + 1) * chunk)):
            x = max(left - max(other[j, 0], other[j, 2]), min(other[j, 0], other[j, 2]) - right, 0.0)
            y = max(top - max(other[j, 1], other[j, 3]), min(other[j, 1], other[j, 3]) - bottom, 0.0)
            if x * x + y * y > best:  # not even the boxes round them are as near
                continue
            near = min(_to_piece(one[i, 0], one[i, 1], other[j]), _to_piece(one[i, 2], one[i, 3], other[j]))
            near = min(near, _to_piece(other[j, 0], other[j, 1], one[i]), _to_piece(other[j, 2], other[j, 3], one[i]))
            best = min(best, near)
            if near > TOUCH * TOUCH and _cross(one[i], other[j]):
                return -1.0
    return best


@njit(nogil=True, cache=True)
def _nearest_box(boxes: Any, count: int, of: Any) -> int:
    """Which of some boxes is nearest to one."""
    found, best = 0, NOWHERE
    for k in range(count):
        away = _between(boxes[k], of)
        if away < best:
            found, best = k, away
    return found


@njit(nogil=True, cache=True)
def _chunk_of(many: int, much: int) -> int:
    return min(CHUNK_MOST, max(CHUNK_LEAST, int(math.sqrt(max(many, much)) / 2)))


@njit(nogil=True, cache=True)
def _round_all(boxes: Any, count: int) -> Any:
    """The box round some boxes."""
    out = boxes[0].copy()
    for k in range(1, count):
        out[0], out[1] = min(out[0], boxes[k, 0]), min(out[1], boxes[k, 1])
        out[2], out[3] = max(out[2], boxes[k, 2]), max(out[3], boxes[k, 3])
    return out


@njit(nogil=True, cache=True)
def between_pieces(one: Any, many: int, other: Any, much: int) -> float:
    """Return how far apart the pieces of two outlines are; -1 where any cross."""
    chunk = _chunk_of(many, much)
    mine, its = np.empty((many // chunk + 1, 4)), np.empty((much // chunk + 1, 4))
    own, their = _boxes(one, many, chunk, mine), _boxes(other, much, chunk, its)
    if own == 0 or their == 0:
        return NOWHERE
    whole = _round_all(its, their)
    a = _nearest_box(mine, own, whole)
    best = _chunks(one, a, many, other, _nearest_box(its, their, mine[a]), much, chunk, NOWHERE)
    for a in range(own):
        if best < 0.0:
            break
        if _between(mine[a], whole) > best:
            continue
        for b in range(their):
            if _between(mine[a], its[b]) <= best:
                best = _chunks(one, a, many, other, b, much, chunk, best)
                if best < 0.0:
                    break
    return -1.0 if best < 0.0 else math.sqrt(best)


@njit(nogil=True, cache=True)
def _within(pieces: Any, count: int, boxes: Any, chunk: int, x: float, y: float) -> bool:
    """Tell whether closed contours wind round a point that lies further than `TOUCH` from them."""
    turns = 0
    for b in range((count + chunk - 1) // chunk):
        if y < boxes[b, 1] - TOUCH or y > boxes[b, 3] + TOUCH or x > boxes[b, 2] + TOUCH:
            continue
        near = x >= boxes[b, 0] - TOUCH
        for k in range(b * chunk, min(count, (b + 1) * chunk)):
            if near and _to_piece(x, y, pieces[k]) <= TOUCH * TOUCH:
                return False
            above, below = pieces[k, 1] <= y, pieces[k, 3] <= y
            if above != below:
                side = _side(pieces[k], x, y)
                if above and side > 0.0:
                    turns += 1
                elif below and side < 0.0:
                    turns -= 1
    return turns != 0


@njit(nogil=True, cache=True)
def _enters(one: Any, many: int, other: Any, much: int, every: bool) -> bool:
    """Tell whether the first end, or `every` end and middle of pieces, lies within closed contours."""
    chunk = _chunk_of(many, much)
    boxes = np.empty((much // chunk + 1, 4))
    whole = _round_all(boxes, _boxes(other, much, chunk, boxes))
    for k in range(2 * many if every else 1):
        own = one[k // 2]
        x, y = (own[0], own[1]) if k % 2 == 0 else ((own[0] + own[2]) / 2, (own[1] + own[3]) / 2)
        if whole[0] < x < whole[2] and whole[1] < y < whole[3] and _within(other, much, boxes, chunk, x, y):
            return True
    return False


@njit(nogil=True, cache=True)
def _as_large(one: Any, many: int, other: Any, much: int) -> bool:
    """Tell whether the boxes round two outlines are the same: those that lie exactly on each other enter each other nowhere."""
    mine, its = np.empty((1, 4)), np.empty((1, 4))
    _boxes(one, many, many, mine)
    _boxes(other, much, much, its)
    off = 0.0
    for side in range(4):
        off = max(off, abs(mine[0, side] - its[0, side]))
    return off <= TOUCH


@njit(nogil=True, cache=True)
def look(rings: Any, kinds: Any, maps: Any, apart: Any, inside: Any) -> None:
    """Write how far apart pairs of outlines (k,) are, and whether any of either lies within the other (k,), or may.

    Where they cross they are -1 apart. Of `rings` each pair shows the `kinds` (k, 2), mapped by `maps` (k, 2, 2, 3).
    """
    mine, its = np.empty((rings.longest, 4)), np.empty((rings.longest, 4))
    for k in range(len(kinds)):
        many, much = _pieces(rings, kinds[k, 0], maps[k, 0], mine), _pieces(rings, kinds[k, 1], maps[k, 1], its)
        apart[k] = between_pieces(mine, many, its, much)
        meet = apart[k] <= TOUCH
        within = apart[k] < 0.0 or (meet and _as_large(mine, many, its, much))
        within = within or (rings.closed[kinds[k, 1]] == 1 and _enters(mine, many, its, much, meet))
        inside[k] = within or (rings.closed[kinds[k, 0]] == 1 and _enters(its, much, mine, many, meet))


@njit(nogil=True, cache=True)
def _shared(one: Any, other: Any, hair: float) -> float:
    """How long the stretch of `one` is that lies on `other`, within a hair."""
    run_x, run_y = other[2] - other[0], other[3] - other[1]
    long = math.sqrt(run_x * run_x + run_y * run_y)
    if long <= 0.0 or abs(_side(other, one[0], one[1])) > hair * long or abs(_side(other, one[2], one[3])) > hair * long:
        return 0.0
    first = ((one[0] - other[0]) * run_x + (one[1] - other[1]) * run_y) / long
    last = ((one[2] - other[0]) * run_x + (one[3] - other[1]) * run_y) / long
    return max(0.0, min(long, max(first, last)) - max(0.0, min(first, last)))


@njit(nogil=True, cache=True)
def shared_sides(rings: Any, kinds: Any, maps: Any, hairs: Any, long: Any) -> None:
    """Write how long the sides are that pairs of outlines (k,) share, each within a hair of its own."""
    mine, its = np.empty((rings.longest, 4)), np.empty((rings.longest, 4))
    for k in range(len(kinds)):
        many, much = _pieces(rings, kinds[k, 0], maps[k, 0], mine), _pieces(rings, kinds[k, 1], maps[k, 1], its)
        chunk = _chunk_of(many, much)
        boxes, theirs = np.empty((many // chunk + 1, 4)), np.empty((much // chunk + 1, 4))
        own, their = _boxes(mine, many, chunk, boxes), _boxes(its, much, chunk, theirs)
        long[k] = 0.0
        for a in range(own):
            for b in range(their):
                if _between(boxes[a], theirs[b]) > hairs[k] * hairs[k]:
                    continue
                for i in range(a * chunk, min(many, (a + 1) * chunk)):
                    for j in range(b * chunk, min(much, (b + 1) * chunk)):
                        long[k] += _shared(mine[i], its[j], hairs[k])
