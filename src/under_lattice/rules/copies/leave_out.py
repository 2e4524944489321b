"""Rule: Leave out, takes copies away: every k-th, by chance, outside a circle or box, overlapping ones, exact doubles."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, ClassVar, Literal, get_args

import numpy as np
import shapely

from under_lattice.core.errors import RuleRefused
from under_lattice.core.units import short
from under_lattice.declare.dials import Choice, Count, Length, Point, Ratio, Seed, When
from under_lattice.declare.drawn_dials import Touches
from under_lattice.geometry.affine import IDENTITY, Array, compose
from under_lattice.geometry.body import hull
from under_lattice.geometry.chance import lots_of_keys
from under_lattice.pattern.doubles import doubles
from under_lattice.pattern.drawn import Drawn
from under_lattice.pattern.findings import Findings
from under_lattice.pattern.marks import draw
from under_lattice.pattern.stage import Stage, share
from under_lattice.rules.base import describe
from under_lattice.rules.families import CopyRule
from under_lattice.rules.findings import SHOWN_MOST, Cure, Site, Warn
from under_lattice.rules.ground import Ground
from under_lattice.rules.shared.anchor import Anchor, resolve
from under_lattice.rules.shared.touches import Touch, picked

Which = Literal[
    "every k-th", "by chance", "outside a circle", "outside a box", "beside the sheet", "overlapping ones", "exact doubles",
    "by hand",
]  # fmt: skip
EVERY = When(field="which", values=("every k-th",), reason="only for every k-th")
LOTS = When(field="which", values=("by chance",), reason="only by chance")
ROUND = When(field="which", values=("outside a circle",), reason="only for a circle")
BOXED = When(field="which", values=("outside a box",), reason="only for a box")
REGION = When(field="which", values=("outside a circle", "outside a box"), reason="only for a circle or a box")
BY_HAND = When(field="which", values=("by hand",), reason="only for copies picked by hand")
TOUCH = 1e-6
MEANT = 0.15  # of a copy's size: a deeper overlap is meant
OVERLAP_MOST = 20_000
TOGETHER = 200_000  # corners of copies that are looked at at once


def beside_sheet(stage: Stage, width: float, height: float, back: Array = IDENTITY) -> Array:
    """Tell which copies (n,) lie wholly outside a sheet, seen through `back`; outlines that pass their bodies counted."""
    ring, reach = hull(stage.body_ring), stage.shape.reach()
    xform, half = compose(back[None], stage.xform), np.array([width, height]) / 2
    far = np.abs(xform[:, :, :2]).sum((1, 2)) * (float(np.hypot(*ring.T).max()) + reach)
    edge = np.flatnonzero((np.abs(xform[:, :, 2]) + far[:, None] > half).any(1))  # the others lie on it for certain
    linear, at = xform[edge][:, :, :2], xform[edge][:, :, 2]
    few = len(edge) * len(ring) <= TOGETHER  # else those turned and sized alike, which reach as far, once
    first, variant = (slice(None), slice(None)) if few else share(linear.reshape(-1, 4))
    heights = [linear[first][:, axis] @ ring.T for axis in (0, 1)]  # (k, P) across and down
    low, high = (np.stack([end(each, 1) for each in heights], 1)[variant] for end in (np.min, np.max))
    grown = half + (np.sqrt(np.abs(np.linalg.det(linear))) * reach)[:, None]
    beside = np.zeros(stage.n, bool)
    beside[edge] = ((at + low > grown) | (at + high < -grown)).any(1)
    return beside


def _slight_overlap(site: Site) -> Iterator[Warn]:
    """An overlap of copies that are not on a net, so small that it is hardly meant."""
    stage, rule = site.end, site.last_repeat
    size = float(np.ptp(stage.body_ring, 0).min()) * float(np.sqrt(np.abs(np.linalg.det(stage.xform[0, :, :2]))))
    if site.gap is None or not site.alike or site.on_net is not None or rule is None or not -MEANT * size < site.gap < -TOUCH:
        return
    cure = rule.overlap_cure(site.gap, site.stages[rule.id]) or Cure("", "", LeaveOut(which="overlapping ones"), "Leave them out")
    cure = cure if cure.dial else replace(cure, rule=site.last)
    yield Warn(f"overlap {-site.gap:.2f} {site.unit}", rule.id, cure)


def _doubles(site: Site) -> Array:
    """Copies (k,) that lie exactly on others; those too small to be seen are none."""
    twice = doubles(site.drawn, site.progress)
    return np.asarray(twice[~site.too_small(site.end)[twice]])


def _outside(site: Site) -> Array:
    """Copies (k,) that lie wholly beside the sheet; of a cover, whose edge may shrink away from it, only where they are many."""
    half = np.array([site.width, site.height]) / 2
    if any(rule.goes_beyond for rule in site.on) or (np.abs(site.drawn.box) <= np.tile(half, 2)).all():
        return np.zeros(0, np.int64)
    beside = np.flatnonzero(beside_sheet(site.end, site.width, site.height))
    covers = any(rule.on_net and rule.extent == "covers the sheet" for rule in site.on)
    return beside if len(beside) > (0.1 * site.end.n if covers else 0) else beside[:0]


class LeaveOut(CopyRule):
    """Take copies away."""

    title: ClassVar[str] = "Leave out"
    words: ClassVar[str] = "Take copies away: every k-th, by chance, outside a region or the sheet, overlapping ones, doubles."
    search: ClassVar[str] = "remove delete thin hide mask region cull duplicates"
    sees_sheet: ClassVar[bool] = True

    pick_words: ClassVar[str] = "Leave this copy out"

    kind: Literal["leave-out"] = "leave-out"
    which: Annotated[
        Which, Choice("Remove", "Which copies go.", unsought=("by hand", "exact doubles"), options=get_args(Which))
    ] = "every k-th"
    every: Annotated[float, Count("Every", "One of so many copies goes.", least=2, slides=(2, 12), when=(EVERY,))] = 3
    first: Annotated[float, Count("From", "The number of the first that goes.", least=1, slides=(1, 12), when=(EVERY,))] = 2
    counted: Annotated[
        Literal["by number", "by row and column"],
        Choice(
            "Counted",
            "Copies are counted one after the other, or along rows and columns together.",
            options=("by number", "by row and column"),
            when=(EVERY,),
        ),
    ] = "by number"
    picks: Annotated[
        tuple[Touch, ...],
        Touches(
            "Copies",
            "Those that go; “Leave this copy out” in the menu of the sheet adds one.",
            moves=False,
            when=(BY_HAND,),
        ),
    ] = ()
    share: Annotated[float, Ratio("Share", "Which part of the copies goes.", slides=(0.0, 100.0), when=(LOTS,))] = 30.0
    seed: Annotated[int, Seed("Seed", "Another seed, other copies.", when=(LOTS,))] = 1
    radius: Annotated[float, Length("Radius", "Of the circle.", least=0.001, slides=(5.0, 200.0), when=(ROUND,))] = 100.0
    width: Annotated[float, Length("Width", "Of the box.", least=0.001, slides=(5.0, 400.0), when=(BOXED,))] = 200.0
    height: Annotated[float, Length("Height", "Of the box.", least=0.001, slides=(5.0, 400.0), when=(BOXED,))] = 200.0
    side: Annotated[
        Literal["outside", "inside"],
        Choice(
            "Goes what is", "What lies outside the region goes, or what lies inside.", options=("outside", "inside"), when=(REGION,)
        ),
    ] = "outside"
    pivot: Annotated[Anchor, Point("Middle", "Where the middle of the region stands.", when=(REGION,))] = Anchor(
        spot="sheet centre"
    )

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return the copies that stay, with their lasting names."""
        kept = np.flatnonzero(self._stays(above, ground))
        return Stage(
            self.id,
            above.shape,
            above.xform[kept],
            np.broadcast_to(np.eye(2, 3), (len(kept), 2, 3)),
            kept.astype(np.int32),
            above.key[kept],
            above,
            {"step": np.arange(len(kept), dtype=float)},
            found=Findings(said={"which": f"{above.n - len(kept):,} left out"}),
        )

    def _stays(self, above: Stage, ground: Ground) -> Array:
        if self.which == "every k-th":
            number = above.key.sum(1) if self.counted == "by row and column" else np.arange(above.n)
            return np.asarray((number - (self.first - 1)) % self.every != 0)
        if self.which == "by chance":
            return np.asarray(lots_of_keys(above.key, self.seed) >= self.share / 100)
        if self.which == "by hand":
            return ~np.any([np.zeros(above.n, bool), *(picked(above, touch) for touch in self.picks)], 0)
        if self.which == "exact doubles":
            stays = np.ones(above.n, bool)
            stays[doubles(Drawn(draw(above, ground.known, ground.progress)), ground.progress)] = False
            return stays
        if self.which == "overlapping ones":
            return self._clear(above)
        if self.which == "beside the sheet":
            return ~beside_sheet(above, ground.width, ground.height, ground.back)
        away = above.xform[:, :, 2] - resolve(self.pivot, above, ground)
        if self.which == "outside a circle":
            inside = np.hypot(*away.T) <= self.radius
        else:
            inside = (np.abs(away) <= np.array([self.width, self.height]) / 2).all(1)
        return inside if self.side == "outside" else ~inside

    @property
    def at_rest(self) -> str:
        """Why nothing changes."""
        return "no copy is of the kind that goes"

    def seen_through(self, above: Stage, ground: Ground) -> Array | None:
        """Return the map (2, 3) that changes nothing: what stays, stays where it is."""
        return IDENTITY

    @property
    def takes_picks(self) -> bool:
        """Whether copies picked by hand go here."""
        return self.which == "by hand"

    @classmethod
    def for_picks(cls) -> LeaveOut:
        """Return a fresh rule that leaves out what is picked."""
        return cls(which="by hand")

    @classmethod
    def mends(cls, site: Site) -> Iterator[Warn]:
        """Yield slight overlaps, copies exactly on others, and copies beside the sheet."""
        yield from _slight_overlap(site)
        twice = _doubles(site)
        if len(twice):
            cure = Cure(site.last, "", cls(which="exact doubles"), "Leave them out")
            words = "copy lies" if len(twice) == 1 else "copies lie"
            yield Warn(f"{len(twice)} {words} exactly on another", "", cure, tuple(site.end.bodies(twice[:SHOWN_MOST])))
        beside = _outside(site)
        if len(beside):
            words = "copy lies" if len(beside) == 1 else "copies lie"
            cure = Cure(site.last, "", cls(which="beside the sheet"), "Leave them out")
            yield Warn(f"{len(beside):,} {words} outside the sheet", "", cure, tuple(site.end.bodies(beside[:SHOWN_MOST])))

    @staticmethod
    def _clear(above: Stage) -> Array:
        """Go through the copies in turn: one that overlaps an earlier one that stays is left out; touching is not overlapping."""
        if above.n < 2:
            return np.ones(above.n, bool)
        if above.n > OVERLAP_MOST:
            raise RuleRefused(f"overlaps are looked for among at most {OVERLAP_MOST:,} copies; there are {above.n:,}")
        shapes = np.asarray(shapely.polygons(above.bodies()))
        size = float(np.sqrt(max(shapely.area(shapes[0]), 1e-30)))
        one, other = shapely.STRtree(list(shapes)).query(shapes, predicate="intersects")
        near = one > other
        one, other = one[near], other[near]
        deep = shapely.area(shapely.intersection(shapes[one], shapes[other])) > 1e-6 * size * size
        stays = np.ones(above.n, bool)
        order = np.argsort(one[deep], kind="stable")
        for late, early in zip(one[deep][order], other[deep][order], strict=True):
            if stays[early]:
                stays[late] = False
        return stays

    def key_line(self, unit: str) -> str:
        """Return what goes."""
        return {
            "every k-th": f"every {short(self.every)}, from {short(self.first)}",
            "by chance": f"{short(self.share)} % by chance",
            "by hand": f"{len(self.picks)} picked by hand",
            "outside a circle": f"{self.side} a circle of {describe(self.radius, unit)}",
            "outside a box": f"{self.side} {short(self.width)} × {short(self.height)}",  # noqa: RUF001
        }.get(self.which, self.which)
