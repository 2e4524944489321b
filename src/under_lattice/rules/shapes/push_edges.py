"""Rule: Push edges, so that tiles which share whole edges stay tiles."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

import numpy as np

from under_lattice.core.errors import InputError, RuleRefused
from under_lattice.core.units import short
from under_lattice.declare.dials import Choice, Count, Length, RuleChoice, Text, When
from under_lattice.geometry.affine import Array, apply
from under_lattice.geometry.outline import is_straight_polygon
from under_lattice.geometry.profiles import Profile, profile_of, read_drawn
from under_lattice.pattern.ask import largest, rest
from under_lattice.pattern.stage import Shape, Stage
from under_lattice.rules.base import describe
from under_lattice.rules.families import ShapeRule
from under_lattice.rules.findings import Cure, Placed, Site, Warn
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet
from under_lattice.rules.shapes.pushed import PushedShape, first_crossing, forward
from under_lattice.rules.surroundings import Surroundings, tidy
from under_lattice.vary.numbers import Number, Varied

OWN = (When(field="classes", values=("each its own",), reason="the classes of edges are tied"),)


AT_LIMIT = 1e-5  # of the amount at which an edge first meets itself, from which on it is warned of


def _inside(limit: float) -> float:
    """A round amount a little below a limit, in its unit."""
    if limit <= 0:
        return 0.0
    step = 10.0 ** (np.floor(np.log10(limit)) - 2)
    return float((np.ceil(limit * (1 - 3 * AT_LIMIT) / step) - 1) * step)


def _places(limit: float) -> int:
    """How many decimals show three figures of a limit, at least two."""
    return max(2, 2 - int(np.floor(np.log10(limit)))) if limit > 0 else 2


def _ends(amount: Number) -> float:
    """The greater size of a number's two ends; what a formula gives in between is not looked at."""
    return max(abs(amount.start), abs(amount.end)) if isinstance(amount, Varied) and amount.formula else largest(amount)


@dataclass(frozen=True)
class DrawnProfile(Text):
    """Places of a profile as text."""

    def check(self, value: str) -> str:
        """Hold to places that can be read.

        Raises
        ------
        InputError
        """
        read_drawn(value)
        return super().check(value)


DRAWN = When(field="profile", values=("drawn",), reason="only for a drawn profile")


class PushEdges(ShapeRule):
    """Bend each edge into one curve; what one tile gains its neighbour loses."""

    title: ClassVar[str] = "Push edges"
    words: ClassVar[str] = "Bend the edges shared by tiles, so that the tiles still fit."
    search: ClassVar[str] = "wavy curve bend interlock bulge round puzzle"

    kind: Literal["push-edges"] = "push-edges"
    profile: Annotated[
        Literal["S", "bow", "peak", "sawtooth", "step", "drawn"],
        Choice(
            "Profile",
            "S: one wave on each edge. Bow: one arch. Drawn: through places of your own, moved on the sheet.",
            options=("S", "bow", "peak", "sawtooth", "step", "drawn"),
            pictures=True,
        ),
    ] = "S"
    teeth: Annotated[
        int,
        Count("Teeth", "How many teeth each edge has.", most=40, slides=(1, 12),
              when=(When(field="profile", values=("sawtooth",), reason="only for a sawtooth"),)),
    ] = 4  # fmt: skip
    drawn_profile: Annotated[
        str,
        DrawnProfile("Drawn", "Places along the edge and heights, in per cent: 25 60; 60 -40.", when=(DRAWN,)),
    ] = "30 100; 60 -50"
    bends: Annotated[
        Literal["smooth", "straight"],
        Choice(
            "Bends",
            "One smooth curve through the places, or straight.",
            options=("smooth", "straight"),
            main=False,
            group="Profile",
            when=(DRAWN,),
        ),
    ] = "smooth"
    amount: Annotated[
        Number,
        Length("Amount", "How far each edge is pushed at most.", vary=True, least=-1e4, most=1e4, slides=(-8.0, 8.0)),
    ] = 2.0
    way: Annotated[
        Literal["one way", "in and out by turns"],
        Choice(
            "Pushed",
            "One way all over; or by turns, upright edges of squares towards every second tile and level ones away from it.",
            options=("one way", "in and out by turns"),
            main=False,
            group="Profile",
        ),
    ] = "one way"
    classes: Annotated[
        Literal["tied", "each its own"],
        Choice(
            "Edges", "Edges of one direction form a class.", options=("tied", "each its own"), main=False, group="Classes of edges"
        ),
    ] = "tied"
    second: Annotated[
        Number,
        Length(
            "Second class",
            "How far edges of the second class are pushed.",
            main=False,
            group="Classes of edges",
            vary=True,
            when=OWN,
            slides=(-8.0, 8.0),
        ),
    ] = 2.0
    third: Annotated[
        Number,
        Length(
            "Third class",
            "How far edges of the third class are pushed.",
            main=False,
            group="Classes of edges",
            vary=True,
            when=OWN,
            slides=(-8.0, 8.0),
        ),
    ] = 2.0
    tiling: Annotated[
        str,
        RuleChoice(
            "Tiles of", "The repeat whose tiles must fit.", main=False, group="Classes of edges", nearest="the nearest repeat below"
        ),
    ] = ""

    def reshape(self, shape: Shape, ground: Ground) -> Shape:
        """Return the pushed shape; refuses edges that are already curved."""
        if getattr(shape, "curved", False) or not is_straight_polygon(shape.body().verbs):
            raise RuleRefused("Push edges needs straight edges; put it above the rule that bends them")
        by_turns = self.way != "one way"
        if by_turns and (shape.faces > 1 or len(shape.body().points) not in (3, 4)):
            raise RuleRefused("in and out by turns needs undivided tiles of three or four sides")
        amounts = (self.amount,) if self.classes == "tied" else (self.amount, self.second, self.third)
        return PushedShape(shape, amounts, self.outline(), self.tiling or ground.repeat_below or ground.here, by_turns)

    def outline(self) -> Profile:
        """Return the profile of an edge."""
        return profile_of(self.profile, int(self.teeth), self.drawn_profile, self.bends == "smooth")

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return the places of a drawn profile, on the first edge of the motif."""
        if self.profile != "drawn":
            return None
        start, run, aside = self._first_edge(stage)
        beads = []
        for k, (t, height) in enumerate(read_drawn(self.drawn_profile), 1):
            beads.append(Handle(f"place {k}", start + t * run + height * aside, f"{t:.0%}, {height:.0%} of the push", "point"))
        return HandleSet(tuple(beads), apply(stage.xform[stage.origin], stage.body_ring))

    def _first_edge(self, stage: Stage) -> tuple[Array, Array, Array]:
        """Where the first edge begins, how it runs, and where its greatest push goes, all (2,), in the place of the rule."""
        corners = apply(stage.xform[stage.origin], stage.shape.body().points)
        run = corners[1] - corners[0]
        way = float(forward(run[None])[0])
        normal = np.array([-run[1], run[0]]) / max(float(np.hypot(*run)), 1e-12)
        start = corners[0] if way > 0 else corners[1]
        return start, run * way, normal * way * (rest(self.amount) or 1.0)

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Move a place, between its neighbours."""
        start, run, aside = self._first_edge(stage)
        places, k = read_drawn(self.drawn_profile), int(drag.name.removeprefix("place ")) - 1
        low, high = places[k - 1, 0] if k else 0.0, places[k + 1, 0] if k + 1 < len(places) else 1.0
        away = drag.to - start
        places[k] = np.clip(away @ run / (run @ run), low + 0.005, high - 0.005), np.clip(away @ aside / (aside @ aside), -10, 10)
        return self._as_text(places)

    @staticmethod
    def _as_text(places: Array) -> dict[str, Any]:
        return {"drawn_profile": "; ".join(f"{short(100 * t, 1)} {short(100 * height, 1)}" for t, height in places)}

    def reworked(self, work: str, name: str, at: Array) -> dict[str, Any]:
        """Add a place half way in the longest stretch, or remove the picked one.

        Raises
        ------
        InputError
        """
        places = read_drawn(self.drawn_profile)
        if self.profile != "drawn" or work not in ("add", "remove"):
            raise InputError("places are added to a drawn profile and removed from it")
        if work == "remove":
            if len(places) < 2 or not name.startswith("place "):
                raise InputError("pick one of at least two places first")
            return self._as_text(np.delete(places, int(name.removeprefix("place ")) - 1, 0))
        stops = np.array([(0.0, 0.0), *places, (1.0, 0.0)])
        k = int(np.diff(stops[:, 0]).argmax())
        return self._as_text(np.insert(places, k, (stops[k] + stops[k + 1]) / 2, 0))

    def as_it_lies(self, above: Stage) -> PushEdges:
        """Return the rule as it is: it tells lengths in the place of its tiles by itself."""
        return self

    def rests(self, stages: Mapping[str, Stage], repeat_below: str) -> str:
        """Return why the tiles it pushes cannot be pushed, or nothing."""
        tiles = stages.get(self.tiling or repeat_below)
        return f"Push edges rests: {tiles.refuses}" if tiles is not None and tiles.refuses and self.greatest() > 0 else ""

    def said(self, placed: Placed, unit: str) -> Mapping[str, str]:
        """Return from which amount on an edge crosses itself."""
        if placed.above is None:
            return {}
        limit = first_crossing(placed.above.shape, self.outline())
        return {"amount": f"first crosses itself at {describe(limit, unit, _places(limit))}" if np.isfinite(limit) else ""}

    def warnings(self, placed: Placed, site: Site) -> Iterable[Warn]:
        """Return that edges cross themselves, and the amount that keeps clear."""
        limit = np.inf if placed.above is None else first_crossing(placed.above.shape, self.outline())
        if self.greatest() < limit * (1 - AT_LIMIT):
            return ()
        cure = None
        if isinstance(self.amount, float) and self.classes == "tied":
            value = float(np.copysign(_inside(limit), self.amount))
            cure = Cure(self.id, "amount", value, f"Set amount to {short(value, 6)}")
        return (Warn(f"edges cross themselves from {describe(limit, site.unit, _places(limit))} on", self.id, cure),)

    @classmethod
    def suggested(cls, around: Surroundings) -> dict[str, Any]:
        """Return amounts in proportion to the motif."""
        return dict.fromkeys(("amount", "second", "third"), tidy(around.size * 0.07))

    def greatest(self) -> float:
        """Return the greatest push any edge may get, in the unit of the work."""
        return max(_ends(a) for a in ((self.amount,) if self.classes == "tied" else (self.amount, self.second, self.third)))

    def key_line(self, unit: str) -> str:
        """Return the amount and the profile."""
        return f"{describe(self.amount, unit)}, {'S wave' if self.profile == 'S' else self.profile}"
