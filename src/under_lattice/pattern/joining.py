"""Faces joined along the edges they share: straight or curved, an edge seen from both sides goes, the rest closes up again."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from under_lattice.geometry.affine import Array
from under_lattice.geometry.outline import CLOSE, CURVE, LINE, MOVE, POINTS_OF
from under_lattice.pattern.stage import Family, share

SAME = 1e-6  # of the size: points nearer than this are one
Edge = tuple[int, tuple[int, ...], int]  # first point, handles, last point: rows of the points of all faces together


def edges_of(verbs: bytes, first: int) -> list[Edge]:
    """Return the edges of closed contours, the closing ones too; rows are counted from `first`."""
    out: list[Edge] = []
    at, start, pen = first, first, first
    for verb in verbs:
        if verb == MOVE:
            start = pen = at
        elif verb == LINE:
            out.append((pen, (), at))
            pen = at
        elif verb == CURVE:
            out.append((pen, (at, at + 1), at + 2))
            pen = at + 2
        elif verb == CLOSE:
            out.append((pen, (), start))
            pen = start
        at += POINTS_OF[verb]
    return out


def joined(faces: Sequence[Family]) -> Family:
    """Return faces as one; edges that two of them share are gone. What they do not share stays, as contours of their own."""
    variants = np.stack([face.variant for face in faces], 1)
    first, variant = share(variants.astype(float), 1.0)
    shown: Array = np.asarray((variants[first] >= 0).all(1))
    points = np.concatenate([face.points[np.maximum(variants[first, k], 0)] for k, face in enumerate(faces)], 1)
    starts = np.cumsum([0, *(face.points.shape[1] for face in faces)])
    edges = [edge for face, start in zip(faces, starts, strict=False) for edge in edges_of(face.verbs, int(start))]
    at_rest = points[0]
    names = _names(at_rest)
    kept = _without_shared([e for e in edges if names[e[0]] != names[e[2]] or e[1]], at_rest, names)
    verbs, rows = _closed_up(kept, names)
    return Family(verbs, points[:, rows], np.where(shown[variant], variant, -1).astype(np.int32))


def _names(points: Array) -> Array:
    """A number for each point (K,), the same for those on one spot."""
    size = float(np.ptp(points, 0).max()) or 1.0
    from scipy.spatial import cKDTree  # takes a third of a second to load

    pairs = cKDTree(points).query_pairs(SAME * size)
    names: Array = np.arange(len(points))
    for one, other in sorted(pairs):
        names = np.where(names == names[other], names[one], names)
    return names


def _without_shared(edges: list[Edge], points: Array, names: Array) -> list[Edge]:
    """Edges that no other runs the opposite way."""
    size = float(np.ptp(points, 0).max()) or 1.0
    waiting: dict[tuple[int, int], list[int]] = {}
    gone: set[int] = set()
    for k, (begin, handles, end) in enumerate(edges):
        back = waiting.get((int(names[end]), int(names[begin])), [])
        for other in back:
            against = edges[other][1][::-1]
            alike = len(against) == len(handles) and all(
                np.abs(points[a] - points[b]).max() < 1e3 * SAME * size for a, b in zip(handles, against, strict=True)
            )
            if alike:
                back.remove(other)
                gone |= {k, other}
                break
        else:
            waiting.setdefault((int(names[begin]), int(names[end])), []).append(k)
    return [edge for k, edge in enumerate(edges) if k not in gone]


def _closed_up(edges: list[Edge], names: Array) -> tuple[bytes, list[int]]:
    """Edges as closed contours: verbs and the rows of their points."""
    leaving: dict[int, list[Edge]] = {}
    for edge in edges:
        leaving.setdefault(int(names[edge[0]]), []).append(edge)
    verbs, rows = bytearray(), []
    for edge in edges:
        if edge not in leaving.get(int(names[edge[0]]), []):
            continue
        home, here = int(names[edge[0]]), edge
        verbs.append(MOVE)
        rows.append(here[0])
        while True:
            leaving[int(names[here[0]])].remove(here)
            if here[1]:
                verbs.append(CURVE)
                rows += [*here[1], here[2]]
            elif int(names[here[2]]) != home:
                verbs.append(LINE)
                rows.append(here[2])
            after = leaving.get(int(names[here[2]]))
            if int(names[here[2]]) == home or not after:
                break
            here = after[0]
        verbs.append(CLOSE)
    return bytes(verbs), rows
