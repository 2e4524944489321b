"""Lines whose colour runs along them: cut into short pieces, each of one colour, by who paints or writes them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from under_lattice.geometry.affine import Array
from under_lattice.geometry.cutting import within_cubics
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE, contours, flatten
from under_lattice.pattern.marks import Along, Coat, Marks, Picture
from under_lattice.pattern.stage import Family

PIECES = 64  # of a contour
ROWS_MOST, LEAST = 300_000, 6  # pieces of all lines together, and of each contour at least
UNDER = 0.12  # of a piece, that the next one lies over, so that corners join and no ground is seen between them
STEPS = 8  # straight pieces of a curve, where there are more curves than pieces
SAMPLES = 9  # places at which a segment is measured


@dataclass(frozen=True, eq=False)
class _Cut:
    """The pieces of a family's outlines: verbs and points (M, K, 2) of each, and how far along its contour it is (M,), 0..1."""

    pieces: list[tuple[bytes, Array]]
    along: list[Array]


def pieced(picture: Picture) -> Picture:
    """Return what is painted with every line whose colour runs along it as pieces of one colour each."""
    marks = picture.marks
    if not marks.count or not any(isinstance(coat.paint, Along) for coat in picture.coats):
        return picture
    most = int(np.clip(ROWS_MOST // marks.count, LEAST, PIECES))
    over = all(_opaque(coat) for coat in picture.coats if isinstance(coat.paint, Along))
    cuts = [_cut(family, most, over) for family in marks.families]
    many = np.array([len(cut.pieces) for cut in cuts])
    begin = len(cuts) + np.cumsum(many) - many
    rows = 1 + many[marks.family]
    own = np.repeat(np.arange(marks.count), rows)
    piece = np.arange(len(own)) - np.repeat(np.cumsum(rows) - rows, rows) - 1  # -1 for the mark itself
    family = np.where(piece < 0, marks.family[own], begin[marks.family[own]] + piece).astype(np.int32)
    families = [*marks.families]
    for whole, cut in zip(marks.families, cuts, strict=True):
        families += [Family(verbs, points, whole.variant) for verbs, points in cut.pieces]
    made = Marks(tuple(families), family, marks.variant[own], marks.xform[own], marks.copy[own])
    along = np.zeros(len(own))
    for f, cut in enumerate(cuts):
        its = np.flatnonzero((marks.family[own] == f) & (piece >= 0) & (marks.variant[own] >= 0))
        if len(its):
            along[its] = np.stack(cut.along, 1)[marks.variant[own[its]], piece[its]]
    return replace(picture, marks=made, coats=tuple(_spread(coat, own, piece, along) for coat in picture.coats))


def _opaque(coat: Coat) -> bool:
    return isinstance(coat.paint, Along) and coat.paint.ramp.opaque and bool((coat.stroke[:, 3] % 255 == 0).all())


def _spread(coat: Coat, own: Array, piece: Array, along: Array) -> Coat:
    """A coat for marks and pieces: whole marks keep what does not run along their lines, pieces have what does."""

    def rows(values: Array) -> Array:
        return np.array(values[own] if len(values) > 1 else np.broadcast_to(values, (len(own), *values.shape[1:])))

    fill, stroke, width = rows(coat.fill), rows(coat.stroke), rows(coat.width)
    seat = coat.seat[own] if coat.seat is not None and len(coat.seat) > 1 else coat.seat
    if not isinstance(coat.paint, Along):
        fill[piece >= 0, 3] = stroke[piece >= 0, 3] = 0
        return coat._replace(fill=fill, stroke=stroke, width=width, seat=seat)
    table = coat.paint.ramp.table()
    colour = table[np.rint(along * (len(table) - 1)).astype(np.int64)]
    strength = stroke[:, 3].copy()
    stroke[:, :3] = np.rint(255 * colour[:, :3] / np.maximum(colour[:, 3:], 1e-6))
    stroke[:, 3] = np.rint(strength * colour[:, 3])
    stroke[piece < 0, 3] = 0
    return coat._replace(fill=np.zeros((1, 4), np.uint8), stroke=stroke, width=width, paint=None, seat=None, dash=None)


def _cut(family: Family, most: int, over: bool) -> _Cut:
    """Cut the outlines of a family; with `over`, each piece begins a little before the last one ends."""
    pieces: list[tuple[bytes, Array]] = []
    along: list[Array] = []
    for verbs, place in contours(family.verbs):
        closed = verbs[-1] == CLOSE
        if len(verbs) - 1 > most:
            (line,) = flatten(verbs, family.points[:, place], STEPS)
            own, told = _runs(np.concatenate([line, line[:, :1]], 1) if closed else line, closed, most, over)
        else:
            segments = _segments(verbs, family.points[:, place])
            own, told = _pieces(segments, closed, most, over) if segments else ([], [])
        pieces += own
        along += told
    return _Cut(pieces, along)


def _segments(verbs: bytes, points: Array) -> list[Array]:
    """The segments of a contour of outlines (M, K, 2) as cubics (M, 4, 2), the one that closes it too."""
    out, at, here = [], 1, points[:, 0]
    for verb in verbs[1:]:
        if verb == CURVE:
            out.append(np.concatenate([here[:, None], points[:, at : at + 3]], 1))
            at += 3
        else:
            end = points[:, 0] if verb == CLOSE else points[:, at]
            out.append(np.stack([here, here + (end - here) / 3, here + (end - here) * 2 / 3, end], 1))
            at += verb == LINE
        here = out[-1][:, 3]
    return [one for one in out if np.ptp(one, 1).any()]


def _pieces(segments: list[Array], closed: bool, most: int, over: bool) -> tuple[list[tuple[bytes, Array]], list[Array]]:
    """Pieces of a contour, and how far along each is seen."""
    walked = [_walked(one) for one in segments]  # (M, SAMPLES) each
    length = np.stack([one[:, -1] for one in walked], 1)
    whole = np.maximum(length.sum(1), 1e-300)
    before = np.cumsum(length, 1) - length
    shares = length.mean(0) / max(float(whole.mean()), 1e-300)
    parts: list[tuple[int, float, float]] = []
    for k, share in enumerate(shares):
        many = max(1, round(most * float(share)))
        parts += [(k, j / many, (j + 1) / many) for j in range(many)]
    pieces, along = [], []
    for at, (k, low, high) in enumerate(parts):
        own = [_between(segments[k], low, high)]
        seen = (low + high) / 2
        if over and (at or closed):
            last, begin, end = parts[at - 1]
            own.insert(0, _between(segments[last], end - UNDER * (end - begin), end))
        points = np.concatenate([own[0][:, :1], *(one[:, 1:] for one in own)], 1)
        pieces.append((bytes([MOVE, *[CURVE] * len(own)]), points))
        far = np.array([np.interp(seen, np.linspace(0, 1, SAMPLES), one) for one in walked[k]])
        along.append((before[:, k] + far) / whole)
    return pieces, along


def _runs(line: Array, closed: bool, most: int, over: bool) -> tuple[list[tuple[bytes, Array]], list[Array]]:
    """Pieces of a contour of more segments than pieces, given as a line (M, P, 2), and how far along each is seen."""
    steps = np.hypot(*np.moveaxis(np.diff(line, axis=1), -1, 0))
    walked = np.concatenate([np.zeros((len(line), 1)), np.cumsum(steps, 1)], 1)
    whole = np.maximum(walked[:, -1], 1e-300)
    cuts = np.searchsorted(walked.mean(0) / float(whole.mean()), np.linspace(0, 1, most + 1)[1:-1])
    pieces, along = [], []
    for low, high in pairwise(np.unique([0, *cuts.tolist(), line.shape[1] - 1]).tolist()):
        points = line[:, max(low - int(over), 0) : high + 1]
        if over and closed and low == 0:
            points = np.concatenate([line[:, -2:-1], points], 1)
        pieces.append((bytes([MOVE]) + bytes([LINE]) * (points.shape[1] - 1), points))
        along.append((walked[:, low] + walked[:, high]) / 2 / whole)
    return pieces, along


def _walked(cubics: Array) -> Array:
    """How far along cubics (M, 4, 2) some places of them are (M, SAMPLES)."""
    t = np.linspace(0, 1, SAMPLES)[None, :, None]
    a, b, c, d = (cubics[:, k, None] for k in range(4))
    places = a * (1 - t) ** 3 + 3 * b * t * (1 - t) ** 2 + 3 * c * t**2 * (1 - t) + d * t**3
    steps = np.hypot(*np.moveaxis(np.diff(places, axis=1), -1, 0))
    return np.concatenate([np.zeros((len(cubics), 1)), np.cumsum(steps, 1)], 1)


def _between(cubics: Array, low: float, high: float) -> Array:
    return within_cubics(cubics, np.full(len(cubics), low), np.full(len(cubics), high))
