"""Rule: Seed head, copies on a spiral at a divergence angle, as seeds stand in a flower."""

from __future__ import annotations

from collections import Counter
from typing import Annotated, Any, ClassVar, Literal, get_args

import numpy as np

from under_lattice.core.errors import RuleRefused
from under_lattice.core.units import short
from under_lattice.declare.dials import Angle, Choice, Count, Length, Point, Ratio, When
from under_lattice.geometry.affine import Array, about, apply, inverse, linear
from under_lattice.pattern.ask import StepAsk, rest
from under_lattice.pattern.findings import Findings
from under_lattice.pattern.stage import Stage, limit_copies
from under_lattice.rules.base import describe
from under_lattice.rules.copies.loosen import Loosen
from under_lattice.rules.findings import Cure
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Arrow, Drag, Handle, HandleSet, polar, with_start
from under_lattice.rules.shared.anchor import Anchor, nearest_spot, resolve
from under_lattice.rules.shared.runs import LEVEL, STACKING, Repeat, Stacking, laid_out, meets_sheet
from under_lattice.rules.surroundings import Start, Surroundings, tidy
from under_lattice.vary.numbers import Number

GOLDEN = 180.0 * (3.0 - 5.0**0.5)  # degrees
NAMED = {
    "golden": GOLDEN,
    "lucas": 360.0 / (3.0 + 2.0 / (1.0 + 5.0**0.5)),  # of the sequence 1, 3, 4, 7, 11
    "side golden": 360.0 / (4.0 + 2.0 / (1.0 + 5.0**0.5)),  # 1, 4, 5, 9, 14
}
Divergence = Literal["golden", "lucas", "side golden", "free", "by the total"]
Law = Literal["even density", "linear", "power"]
MOST = 200_000
GIVEN = When(field="extent", values=("by number",), reason="the sheet gives the count")


class SeedHead(Repeat):
    """Repeat as seeds stand."""

    title: ClassVar[str] = "Seed head"
    words: ClassVar[str] = "Repeat on a spiral at a divergence angle, as seeds stand in a flower; the golden angle by name."
    search: ClassVar[str] = "phyllotaxis sunflower spiral fibonacci golden vogel pine cone daisy"
    own_steps: ClassVar[tuple[str, ...]] = ("size", "turn", *Repeat.own_steps)

    kind: Literal["seed-head"] = "seed-head"
    extent: Annotated[
        Literal["by number", "covers the sheet"], Choice("Extent", "How far it goes.", options=("by number", "covers the sheet"))
    ] = "by number"
    count: Annotated[float, Count("Copies", "How many copies in all.", most=MOST, slides=(10, 1200), when=(GIVEN,))] = 300
    divergence: Annotated[
        Divergence,
        Choice("Divergence", "The angle from each copy to the next.", options=get_args(Divergence), shows="angle"),
    ] = "golden"
    angle: Annotated[
        float,
        Angle(
            "Angle",
            "Clockwise, from each copy to the next.",
            roams=8.0,
            step=0.1,
            digits=4,
            slides=(0.0, 180.0),
            when=(When(field="divergence", values=("free",), reason="the divergence has a name"),),
        ),
    ] = 137.5
    total: Annotated[
        float,
        Angle(
            "Total",
            "From the first copy to the last; the angle is an even part of it.",
            least=-360.0 * MOST,
            most=360.0 * MOST,
            roams=90.0,
            slides=(0.0, 36000.0),
            winds=True,
            when=(When(field="divergence", values=("by the total",), reason="the divergence gives it"),),
        ),
    ] = 36000.0
    spacing: Annotated[
        Number, Length("Spacing", "How far out the first copy stands; the rest by the law.", least=0.001, slides=(0.5, 20.0))
    ] = 6.0
    law: Annotated[
        Law,
        Choice(
            "Law", "How far out copy k stands: by the root of k (evenly dense), by k, or by a power of k.", options=get_args(Law)
        ),
    ] = "even density"
    power: Annotated[
        float,
        Ratio(
            "Power",
            "The power of k: 50 % is evenly dense, 100 % goes out by even steps.",
            least=5.0,
            most=400.0,
            slides=(20.0, 150.0),
            when=(When(field="law", values=("power",), reason="the law gives the power"),),
        ),
    ] = 60.0
    skip: Annotated[
        float,
        Count(
            "Leave out first", "How many of the innermost copies are left out.", least=0, most=10_000, slides=(0, 40), main=False
        ),
    ] = 0
    size: Annotated[
        Number,
        Ratio(
            "Size",
            "Size of each copy; let it vary by step to grow outwards.",
            least=0.1,
            most=10000.0,
            vary=True,
            slides=(10.0, 200.0),
        ),
    ] = 100.0
    facing: Annotated[
        Literal["outwards", "upright"],
        Choice("Orientation", "Turned to face outwards, or as they are.", options=("outwards", "upright")),
    ] = "outwards"
    turn: Annotated[Number, Angle("Turn each", "Turns each copy about its own middle.", vary=True, main=False)] = 0.0
    begin: Annotated[float, Angle("Begins at", "Where the first copy stands, clockwise from the right.", main=False)] = 0.0
    pivot: Annotated[Anchor, Point("Pivot", "The middle of the head.")] = Anchor()
    stacking: Annotated[Stacking, STACKING] = "smaller on top"
    level: Annotated[Number, LEVEL] = 0.0

    def divergence_angle(self) -> float:
        """Return the divergence in degrees."""
        if self.divergence == "by the total":
            return self.total / max(1.0, float(self.count) - 1)
        return NAMED.get(self.divergence, self.angle)

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return the copies: copy k stands at ``k · d`` and radius ``c · k^p``; for p = 1/2 see “A better way to construct the
        sunflower head”, 1979.

        Raises
        ------
        RuleRefused, LimitError
        """
        pivot, home = resolve(self.pivot, above, ground), above.xform[above.origin, :, 2]
        count = int(self.count) if self.extent == "by number" else self._covering(above, ground, pivot)
        limit_copies(float(count) * above.n)
        k = np.arange(count) + int(self.skip)
        at = self.places(k)
        ask = StepAsk(above, ground.known, self.id, count)
        size, turn = ask.steps(self.size) / 100, ask.steps(self.turn)
        if self.facing == "outwards":
            turn = turn + (k * self.divergence_angle() + self.begin + 90.0)[:, None]
        own = about(linear(turn, size, size), home)
        own = np.array(np.broadcast_to(own, (count, own.shape[1], 2, 3)))
        own[..., 2] += (at + pivot - home)[:, None]
        if self.extent == "covers the sheet":
            keep = meets_sheet(own[:, 0], above.together, ground)
            own, at, count = own[keep], at[keep], int(keep.nonzero()[0].max(initial=0)) + 1
            if not len(own):
                raise RuleRefused("no copy meets the sheet")
        said = {"count": arms_words(at), "extent": f"{len(own):,} in all"}
        apart = self.divergence_angle()
        said["divergence"] = (
            f"total {short(apart * (count - 1), 2)}°" if self.divergence != "by the total" else f"{short(apart, 4)}°"
        )
        found = Findings({"angle": apart, "count": count, "total": apart * (count - 1)}, said)
        return laid_out(above, self.id, own, self.stacking, None, pivot=pivot, found=found)

    def places(self, k: Array) -> Array:
        """Return where copies `k` (n,) stand about the pivot (n, 2)."""
        power = {"even density": 0.5, "linear": 1.0, "power": self.power / 100}[self.law]
        heading = np.radians(k * self.divergence_angle() + self.begin)
        radius = rest(self.spacing) * np.power(np.asarray(k, float), power)
        return np.stack([radius * np.cos(heading), radius * np.sin(heading)], -1)

    def _covering(self, above: Stage, ground: Ground, pivot: Array) -> int:
        corners = apply(inverse(ground.back), ground.sheet())
        bodies = above.together.reshape(-1, 2)
        far = float(np.hypot(*(corners - pivot).T).max()) + float(np.hypot(*np.ptp(bodies, 0)))
        power = {"even density": 0.5, "linear": 1.0, "power": self.power / 100}[self.law]
        count = (far / rest(self.spacing)) ** (1 / power) - self.skip + 2
        limit_copies(count, MOST)
        return max(1, int(count))

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return the pivot, a copy that carries the spacing, the next one with the divergence, and the last with the count."""
        ring = above.bodies(np.array([above.origin]))[0]
        pivot = resolve(self.pivot, above, ground)
        k = max(1, int(self.skip))
        first, second = self.places(np.array([k, k + 1])) + pivot
        handles = [
            Handle("pivot", pivot, f"pivot: {self.pivot.words()}", "pivot"),
            Handle("spacing", first, f"spacing {describe(rest(self.spacing), unit)}", "bead"),
            Handle("divergence", second, f"divergence {describe(self.divergence_angle(), '°', 3)}", "bead"),
        ]
        if self.extent == "by number":
            last = self.places(np.array([int(self.skip + self.count) - 1]))[0] + pivot
            handles.append(Handle("end", last, f"{short(self.count)} in all", "bead"))
        arrows = (Arrow(pivot, first, ""), Arrow(pivot, second, ""))
        return HandleSet(tuple(handles), ring, None, arrows)

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return pivot, spacing, divergence or count."""
        if drag.name == "pivot":
            return {"pivot": nearest_spot(drag.to, above, ground, drag)}
        pivot = resolve(self.pivot, above, ground)
        away, heading = polar(drag.to - pivot)
        k = max(1, int(self.skip))
        power = {"even density": 0.5, "linear": 1.0, "power": self.power / 100}[self.law]
        if drag.name == "spacing":
            return {"spacing": with_start(self.spacing, max(0.01, drag.length(away / k**power)))}
        if drag.name == "end":
            count = (away / rest(self.spacing)) ** (1 / power) - self.skip + 1
            return {"count": float(np.clip(round(count), 1, MOST))}
        before = polar(self.places(np.array([k]))[0])[1]
        angle = (heading - before) % 360.0
        for name, known in NAMED.items():
            if not drag.free and abs(angle - known) < 0.6:
                return {"divergence": name}
        return {"divergence": "free", "angle": round(angle, 2)}

    def overlap_cure(self, gap: float, stage: Stage) -> Cure | None:
        """Return a rule that pushes overlapping copies apart."""
        return Cure("", "", Loosen(), "Loosen them")

    def starts(self, around: Surroundings) -> tuple[Start, ...]:
        """Return a sunflower, a burst and spokes."""
        spacing, close = tidy(around.size * 0.55), tidy(around.size * 0.2)
        golden = {"count": 220, "spacing": spacing, "skip": 1}
        spread = {"count": 160, "spacing": close, "law": "power", "power": 80.0, "skip": 4}
        arms = {"count": 200, "spacing": spacing, "divergence": "free", "angle": 45.3, "skip": 2}
        return (
            Start("sunflower", "At the golden angle, evenly dense.", golden),
            Start("burst", "Spreading outwards.", spread),
            Start("spokes", "An angle that makes arms.", arms),
        )

    @classmethod
    def suggested(cls, around: Surroundings) -> dict[str, Any]:
        """Return many copies, close to each other."""
        return {"spacing": tidy(max(around.size * 0.55, around.least * 0.012)), "count": 200, "skip": 1}

    def key_line(self, unit: str) -> str:
        """Return count and divergence."""
        named = self.divergence if self.divergence in NAMED else describe(self.divergence_angle(), "°", 3)
        return f"{named}, spacing {describe(self.spacing, unit)}"


def arms_words(at: Array) -> str:
    """Say how many arms one can count among places (n, 2): the commonest differences of number between near neighbours."""
    if len(at) < 30:
        return ""
    from scipy.spatial import cKDTree  # takes a third of a second to load, and the first picture does not need it

    outer = np.argsort(np.hypot(*at.T))[int(len(at) * 0.6) :][-400:]
    near = np.asarray(cKDTree(at).query(at[outer], 5)[1])[:, 1:]
    found = Counter(np.abs(near - outer[:, None]).ravel().tolist()).most_common(2)
    arms = sorted(number for number, _ in found)
    return f"{arms[0]} and {arms[1]} arms" if len(arms) == 2 else ""
