"""Evaluating 100,000 copies against the bare array arithmetic that makes the same numbers."""

import numpy as np
from rounds import ratio

from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.geometry.affine import Array
from under_lattice.library.layers import chain
from under_lattice.pattern.marks import draw
from under_lattice.rules.base import Rule
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.motifs.polygon import Polygon
from under_lattice.rules.repeats.lattice import Lattice
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.shapes.push_edges import PushEdges
from under_lattice.rules.shapes.split import Split
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.rules.shared.scope import EACH
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Sheet

COLUMNS, ROWS, PITCH = 400, 250, 36.0
LATTICE = Lattice(extent="by number", columns=COLUMNS, rows=ROWS)
SHEET = Sheet()


def grid() -> tuple[Array, Array, Array]:
    """Places of a hexagon lattice as translations, and their rows and columns."""
    row, column = np.divmod(np.arange(COLUMNS * ROWS), COLUMNS)
    row, column = row - ROWS // 2, column - COLUMNS // 2
    steps = np.zeros((COLUMNS * ROWS, 2, 3))
    steps[:, 0, 0] = steps[:, 1, 1] = 1.0
    steps[:, 0, 2] = (column + 0.5 * (row % 2)) * PITCH
    steps[:, 1, 2] = row * PITCH * np.sqrt(3) / 2
    return steps, row, column


def product(outer: Array, inner: Array) -> Array:
    out = outer[..., 0:1] * inner[..., 0:1, :] + outer[..., 1:2] * inner[..., 1:2, :]
    out[..., 2] += outer[..., 2]
    return out


def bare_copies() -> Array:
    steps, _, _ = grid()
    return product(steps, np.eye(2, 3)[None])


def bare_faces() -> list[tuple[Array, Array]]:
    """Three rhombs of a hexagon, each edge one cubic pushed by an amount read at its middle from column to column.

    Made for this one case: no turns, no nests, no other source of the number.
    """
    steps, _, _ = grid()
    angle = np.radians(-90 + 60 * np.arange(6))
    hexagon = PITCH / np.sqrt(3) * np.stack([np.cos(angle), np.sin(angle)], -1)
    out = []
    for k in (0, 2, 4):
        corners = np.stack([np.zeros(2), hexagon[k - 1], hexagon[k], hexagon[(k + 1) % 6]])
        ends = np.roll(corners, -1, 0)
        middles = (corners + ends) / 2
        across = middles[None, :, 0] + steps[:, None, 0, 2]
        low, high = steps[:, 0, 2].min(), steps[:, 0, 2].max()
        amount = 5.4 * np.clip((across - low) / (high - low), 0, 1)
        whole = np.rint(amount / 1e-9).astype(np.int64).astype(np.uint64)
        mixed = np.zeros(len(whole), np.uint64)
        for part in whole.T:
            mixed = (mixed ^ part) * np.uint64(0x9E3779B97F4A7C15)
            mixed ^= mixed >> np.uint64(29)
        _, first, variant = np.unique(mixed, return_index=True, return_inverse=True)
        run = ends - corners
        normal = np.stack([-run[:, 1], run[:, 0]], -1) / np.hypot(run[:, 0], run[:, 1])[:, None]
        push = normal[None] * amount[first][..., None]
        near, far = 2 * np.sqrt(3), -2 * np.sqrt(3)
        curve = np.stack([corners + run / 3 + near * push, corners + 2 * run / 3 + far * push, ends + 0 * push], 2)
        out.append((curve.reshape(len(first), -1, 2), variant))
    return out


def last(*rules: Rule) -> object:
    """Evaluate a chain from nothing."""
    return Evaluator().chain(chain("Floor", *rules), SHEET).last


AMOUNT = Varied(rule="floor-lattice", channel="column", start=0.0, end=5.4)


def drawn() -> object:
    result = Evaluator().chain(chain("Floor", Polygon(size=PITCH), Split(), PushEdges(amount=AMOUNT), LATTICE), SHEET)
    assert result.last is not None
    assert result.last.stage is not None
    return draw(result.last.stage, result.known)


def varied(channel: str, start: float, end: float, rule: str) -> Varied:
    return Varied(rule=f"floor-{rule}", channel=channel, start=start, end=end)


NESTED = (
    Polygon(size=8.0),
    Rosette(count=20, radius=30.0),
    Progression(
        count=50,
        distance=varied("step", 2.0, 6.0, "progression"),
        turn=varied("step", 1.0, 5.0, "progression"),
        turn_about="the pivot",
        pivot=Anchor(spot="sheet centre"),
    ),
    Lattice(form="squares", spacing="free", pitch=400.0, row_pitch=400.0, extent="by number", columns=10, rows=10, grow="top left"),
    Adjust(scope=EACH, across=varied("distance", 100.0, 20.0, "lattice"), turn=varied("column", 0.0, 90.0, "lattice")),
)


def linear(turn: Array, across: Array | float = 1.0) -> Array:
    c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
    out = np.zeros((*np.shape(turn), 2, 3))
    out[..., 0, 0], out[..., 0, 1], out[..., 1, 0], out[..., 1, 1] = c * across, -s, s * across, c
    return out


def bare_nested() -> Array:
    """The same 100,000 maps by hand: a ring, a run whose step changes, a grid, then each shape's own size and turn."""
    ring = linear(np.arange(20) * 18.0)
    ring[:, :, 2] = ring[:, :, 1] * -30.0
    steps = linear(np.linspace(1.0, 5.0, 49))
    steps[:, 0, 2] = np.linspace(2.0, 6.0, 49)
    run = [np.eye(2, 3)]
    for step in steps:
        run.append(product(run[-1], step))
    inner = product(np.array(run)[:, None], ring[None]).reshape(-1, 2, 3)
    row, column = np.divmod(np.arange(100), 10)
    grid = np.zeros((100, 2, 3))
    grid[:, 0, 0] = grid[:, 1, 1] = 1.0
    grid[:, 0, 2], grid[:, 1, 2] = column * 400.0, row * 400.0
    whole = product(grid[:, None], inner[None]).reshape(-1, 2, 3)
    away = np.hypot(whole[:, 0, 2], whole[:, 1, 2] + 30.0)  # from the motif, the first of the ring
    u = (away - away.min()) / (away.max() - away.min())
    across = whole[:, 0, 2] / 400.0
    v = (across - across.min()) / (across.max() - across.min())
    return product(whole, linear(90.0 * v, 1.0 - 0.8 * u))


if __name__ == "__main__":
    made = last(*NESTED)
    assert np.allclose(made.stage.xform, bare_nested(), atol=1e-6)  # type: ignore[attr-defined]
    ratio("100,000 copies, three repeats and four varied numbers / by hand", lambda: last(*NESTED), bare_nested)
    ratio("100,000 copies on a lattice / bare grid and product", lambda: last(Polygon(size=PITCH), LATTICE), bare_copies)
    ratio("300,000 pushed faces, by column / bare arithmetic", drawn, lambda: (bare_copies(), bare_faces()))
