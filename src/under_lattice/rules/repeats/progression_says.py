"""What a Progression says of itself: lines that miss themselves, and its named starts."""

from __future__ import annotations

from math import gcd
from typing import Any

import numpy as np

from under_lattice.core.errors import RuleRefused
from under_lattice.core.units import short
from under_lattice.geometry.affine import apply, inverse
from under_lattice.pattern.ask import rest
from under_lattice.pattern.known import NOTHING_KNOWN
from under_lattice.rules.findings import Cure, Placed, Site, Warn
from under_lattice.rules.repeats.run_ends import ends_of
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.rules.surroundings import Start, Surroundings, tidy

TOUCH = 1e-6
ROUND_MOST = 1000  # pieces that may come round
BY_NUMBER = "by number"
WHOLE = {"turn_about": "the pivot", "size_about": "the pivot"}


def misses(rule: Any, placed: Placed, unit: str) -> tuple[Warn, ...]:
    """Return a warning if a Progression's pieces, each beginning where the last ended, come round nearly to where they began."""
    above, stage = placed.above, placed.stage
    if rule.spacing != "each begins where the last ended":
        return ()
    if above is None or above.n > 1:
        return ()
    try:
        ends = apply(inverse(above.xform[above.origin]), ends_of(above, NOTHING_KNOWN)[None])[0]
    except RuleRefused:
        return ()
    run = apply(stage.xform[np.argsort(stage.key[:, 1], kind="stable")], ends[None])
    miss = float(np.hypot(*(run[-1, 1] - run[0, 0])))
    size = float(np.ptp(run.reshape(-1, 2), 0).max())
    if not TOUCH * max(size, 1.0) < miss < 0.25 * size:
        return ()
    ring = np.stack([run[-1, 1], run[0, 0]])
    sentence = f"the line misses itself by {short(miss)} {unit}"
    return tuple(Warn(sentence, rule.id, cure, (ring,)) for cure in _closings(rule, len(run)) or (None,))


def vanishing(rule: Any, placed: Placed, site: Site) -> tuple[Warn, ...]:
    """Return a warning if the last copies are too small to be seen, with the number of those that are not."""
    stage = placed.stage
    small = site.too_small(stage)
    if not small.any() or small.all():
        return ()
    seen = int(stage.key[small, 1].min())  # copies of every step before
    counted = rule.extent == "by number" and isinstance(rule.count, (int, float)) and seen > 0
    cure = Cure(rule.id, "count", seen, f"Use {seen} copies") if counted else None
    number = int(small.sum())
    words = "copy is" if number == 1 else "copies are"
    return (Warn(f"{number:,} {words} too small to be seen", rule.id, cure),)


def _closings(rule: Any, count: int) -> tuple[Cure, ...]:
    """What brings alike pieces round to where they began: one size for all, the number nearest to the present one, or the turn.

    Pieces that grow never come round, whatever their turn.
    """
    numbers: tuple[Any, ...] = (rule.turn, rule.across, rule.along, rule.skew)
    if not all(isinstance(one, (int, float)) for one in numbers) or rule.skew:
        return ()
    cures, turn = [], float(rest(rule.turn))
    if (rule.across, rule.along) != (100.0, 100.0):
        even = count * turn / 360.0
        if abs(even - round(even)) > 1e-9 * count or not round(even) % count:
            return ()
        return (Cure(rule.id, "across", 100.0, "Set size to 100 %", also={"along": 100.0}),)
    whole = next((n for n in range(2, ROUND_MOST + 1) if abs(n * turn / 360 - round(n * turn / 360)) < 1e-9 * n), 0)
    typed = isinstance(rule.count, (int, float)) and rule.extent == BY_NUMBER
    if typed and whole and turn % 360 and abs(whole - count) <= max(2, count // 4):
        cures.append(Cure(rule.id, "count", whole, f"Use {whole} copies"))
    near = count * turn / 360.0
    rounds = min(
        (n for n in range(int(near) - count, int(near) + count) if gcd(n, count) == 1), key=lambda n: abs(n - near), default=0
    )
    if rounds:
        turn = round(360.0 * rounds / count, 9)
        cures.append(Cure(rule.id, "turn", turn, f"Set turn to {short(turn, 6)}°"))
    return tuple(cures)


def starts_of_run(around: Surroundings) -> tuple[Start, ...]:
    """Return a row, a stack, a whirl, a coil, a drift and a chain."""
    below = Anchor(spot="motif bottom", dy=tidy(around.least * 0.22))
    nested = {"distance": 0.0}
    touching = {"spacing": "touching", "direction": 20.0, "turn": 15.0}
    coil = {"count": 40, "turn": 18.0, "pivot": below, **nested, **_sized(95.0), **WHOLE}
    drift = {"count": 14, "distance": tidy(around.size * 0.6), "turn": 7.0, **_sized(93.0)}
    return (
        Start("row", "Neighbours touch in a row.", {"count": 6, "spacing": "touching"}),
        Start("stack", "Nested outlines, each smaller than the last.", {"count": 12, **nested, **_sized(86.0), **WHOLE}),
        Start("whirl", "Nested and turned a little.", {"count": 24, "turn": 6.0, **nested, **_sized(92.0), **WHOLE}),
        Start("coil", "Round a pivot, smaller with each step.", coil),
        Start("drift", "A row that turns and fades away.", drift),
        Start("chain", "Touching, each turned from the last.", {"count": 10, **touching}),
    )


def _sized(per_cent: float) -> dict[str, Any]:
    return {"across": per_cent, "along": per_cent}
