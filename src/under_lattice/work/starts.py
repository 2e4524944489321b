"""Named starts of a rule: sets of numbers that suit the work, to begin from."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from under_lattice.declare.frozen import edited
from under_lattice.rules.base import MotifRule, Rule
from under_lattice.rules.copies.adjust import Adjust
from under_lattice.rules.repeats.progression import Progression
from under_lattice.rules.repeats.rosette import Rosette
from under_lattice.rules.repeats.seed_head import SeedHead
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.vary.numbers import Varied
from under_lattice.work.edits import with_rule
from under_lattice.work.layers import Chain
from under_lattice.work.model import Design, Sheet
from under_lattice.work.suggest import sources_of, tidy

WHOLE = {"turn_about": "the pivot", "size_about": "the pivot"}


@dataclass(frozen=True)
class Start:
    """One start: its name, what it makes, and the numbers that differ from those of a fresh rule."""

    name: str
    words: str
    changes: dict[str, Any]


def starts_of(rule: Rule, chain: Chain, sheet: Sheet) -> tuple[Start, ...]:
    """Return the starts of a rule where it stands; nothing for a kind that has none."""
    motif = chain.rules[0]
    box = motif.shape().body().box() if isinstance(motif, MotifRule) else (0.0, 0.0, sheet.width / 9, sheet.height / 9)
    size = max(box[2] - box[0], box[3] - box[1], 1e-3)
    if isinstance(rule, Progression):
        return _of_progression(size, min(sheet.width, sheet.height))
    if isinstance(rule, Rosette):
        return _of_rosette(size, min(sheet.width, sheet.height))
    if isinstance(rule, SeedHead):
        return _of_seed_head(size)
    if isinstance(rule, Adjust):
        sources = sources_of(chain, rule, "turn")
        return _of_adjust(size, sources[-1].id) if sources else ()
    return ()


def begun(design: Design, layer: str, rule_id: str, start: Start) -> Design:
    """Return the design with a rule at a start; its id, handle, name and ties to nothing else stay.

    Raises
    ------
    InputError
    """

    def afresh(rule: Rule) -> Rule:
        fresh = type(rule).model_validate({"kind": rule.kind})
        return edited(fresh, id=rule.id, handle=rule.handle, name=rule.name, on=rule.on, **start.changes)

    return with_rule(design, layer, rule_id, afresh)


def _of_progression(size: float, sheet: float) -> tuple[Start, ...]:
    below = Anchor(spot="motif bottom", dy=tidy(sheet * 0.22))
    nested = {"distance": 0.0}
    return (
        Start("row", "Neighbours touch in a row.", {"count": 6, "spacing": "touching"}),
        Start("stack", "Nested outlines, each smaller than the last.", {"count": 12, **nested, **_sized(86.0)}),
        Start("whirl", "Nested and turned a little.", {"count": 24, "turn": 6.0, **nested, **_sized(92.0)}),
        Start(
            "coil",
            "Round a pivot, smaller with each step.",
            {"count": 40, "turn": 18.0, "pivot": below, **nested, **_sized(95.0), **WHOLE},
        ),
        Start(
            "drift",
            "A row that turns and fades away.",
            {"count": 14, "distance": tidy(size * 0.6), "turn": 7.0, **_sized(93.0)},
        ),
        Start(
            "chain",
            "Touching, each turned from the last.",
            {"count": 10, "spacing": "touching", "direction": 20.0, "turn": 15.0},
        ),
    )


def _sized(per_cent: float) -> dict[str, Any]:
    return {"across": per_cent, "along": per_cent}


def _of_rosette(size: float, sheet: float) -> tuple[Start, ...]:
    radius = tidy(sheet * 0.3)
    return (
        Start("ring", "Evenly round the pivot.", {"count": 12, "radius": radius}),
        Start("flower", "Petals on one foot.", {"count": 8, "radius_by": "as it stands", "pivot": Anchor(spot="motif bottom")}),
        Start("fan", "Over part of a turn.", {"count": 9, "radius": radius, "arc": 160.0, "begin": -80.0}),
        Start("necklace", "Neighbours just touch.", {"count": 18, "radius_by": "touching"}),
        Start("dial", "Upright, as numbers on a clock.", {"count": 12, "radius": radius, "facing": "upright"}),
    )


def _of_seed_head(size: float) -> tuple[Start, ...]:
    spacing, close = tidy(size * 0.55), tidy(size * 0.2)
    golden = {"count": 220, "spacing": spacing, "skip": 1}
    spread = {"count": 160, "spacing": close, "law": "power", "power": 80.0, "skip": 4}
    arms = {"count": 200, "spacing": spacing, "divergence": "free", "angle": 45.3, "skip": 2}
    return (
        Start("sunflower", "At the golden angle, evenly dense.", golden),
        Start("burst", "Spreading outwards.", spread),
        Start("spokes", "An angle that makes arms.", arms),
    )


def _of_adjust(size: float, source: str) -> tuple[Start, ...]:
    """Starts over the copies of the nearest repeat."""

    def lots(by: float, seed: int, about: float = 0.0) -> Varied:
        return Varied(rule=source, channel="chance", start=about - by, end=about + by, seed=seed)

    shift = tidy(size * 0.12)
    return (
        Start(
            "jitter",
            "Each a little aside, turned and sized by chance.",
            {"scope": "each", "x": lots(shift, 1), "y": lots(shift, 2), "turn": lots(12.0, 3)}
            | dict.fromkeys(("across", "along"), lots(15.0, 4, 100.0)),
        ),
        Start(
            "squeeze",
            "Ever narrower from column to column.",
            {"scope": "each", "across": Varied(rule=source, channel="column", start=100.0, end=20.0)},
        ),
        Start(
            "each row its own",
            "Ever smaller from row to row.",
            {"scope": "each"} | dict.fromkeys(("across", "along"), Varied(rule=source, channel="row", start=100.0, end=30.0)),
        ),
        Start(
            "swirl",
            "Turned the more, the farther from the pivot.",
            {"scope": "each", "turn": Varied(rule=source, channel="distance", start=0.0, end=180.0)},
        ),
    )
