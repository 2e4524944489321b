"""Rule: Warp, all that stands above is twisted, bulged, waved, tapered or bent round, its outlines as curves."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Annotated, Any, ClassVar, Literal, get_args

import numpy as np

from under_lattice.core.errors import LimitError, RuleRefused
from under_lattice.core.progress import Progress
from under_lattice.core.units import short
from under_lattice.declare.dials import Angle, Choice, LayerChoice, Length, Point, Ratio, When
from under_lattice.geometry.affine import IDENTITY, Array, apply, nearest_affine
from under_lattice.geometry.curves import LOOKED_AT
from under_lattice.geometry.outline import CLOSE, CURVE, MOVE, POINTS_OF
from under_lattice.geometry.path import Path, line_through, paths_of
from under_lattice.pattern.ask import Ask, rest
from under_lattice.pattern.marks import Marks, draw, paths_of_marks
from under_lattice.pattern.pieces import stage_of_outlines
from under_lattice.pattern.stage import Family, Stage
from under_lattice.rules.base import describe
from under_lattice.rules.families import CopyRule
from under_lattice.rules.ground import Ground
from under_lattice.rules.handles import Drag, Handle, HandleSet
from under_lattice.rules.repeats.along_curve import PointList
from under_lattice.rules.repeats.spots import read_spots
from under_lattice.rules.shared.anchor import Anchor, nearest_spot, resolve
from under_lattice.vary.numbers import Number

Form = Literal["twist", "bulge", "wave", "taper", "round", "along a line"]
Map = Callable[[Array], Array]  # places (n, T, 2) of n copies -> places
Numbers = Mapping[str, Array]  # by dial, (n, 1) or (1, 1)
VARY = ("angle", "amount", "height", "phase")
ERROR = 2e-4  # of the size of the whole, by which warped curves may stray
PIECES_MOST = 2048
POINTS_MOST = 4_000_000
LINE_ERROR = 1e-4  # in the work's unit, by which the line that is bent along may stray
NEAR = 1e-6  # of the size: for directions by differences


def _when(*forms: str) -> tuple[When, ...]:
    return (When(field="form", values=forms, reason=f"only for {' and '.join(forms)}"),)


ABOUT = _when("twist", "bulge", "wave", "taper", "round")


class Warp(CopyRule):
    """Bend the place itself."""

    title: ClassVar[str] = "Warp"
    words: ClassVar[str] = "Twist, bulge, wave, taper or bend round all that stands above; outlines stay curves."
    search: ClassVar[str] = "distort deform vortex swirl fisheye lens ripple perspective polar arch bend op art"

    kind: Literal["warp"] = "warp"
    form: Annotated[Form, Choice("Form", "How places are moved.", options=get_args(Form))] = "twist"
    angle: Annotated[
        Number,
        Angle(
            "Angle",
            "How far the middle is turned; less and less outwards.",
            vary=True,
            winds=True,
            slides=(-360.0, 360.0),
            when=_when("twist"),
        ),
    ] = 120.0
    amount: Annotated[
        Number,
        Ratio("Amount", "Bulge: how much its middle grows. Taper: the width at the reach.", least=-99.0, most=1000.0, vary=True,
              slides=(-95.0, 200.0), when=_when("bulge", "taper")),
    ] = 80.0  # fmt: skip
    height: Annotated[
        Number,
        Length("Height", "How far a crest reaches.", least=-1e4, most=1e4, vary=True, slides=(-40.0, 40.0), when=_when("wave")),
    ] = 10.0
    wavelength: Annotated[
        float, Length("Wavelength", "From crest to crest.", least=0.01, slides=(5.0, 300.0), when=_when("wave"))
    ] = 110.0
    direction: Annotated[float, Angle("Direction", "The direction in which waves run.", when=_when("wave"))] = 0.0
    phase: Annotated[Number, Angle("Phase", "Where in a wave the pivot stands.", vary=True, main=False, when=_when("wave"))] = 0.0
    line: Annotated[
        Literal["points", "another layer"],
        Choice("Line", "Through points, or the longest outline of a layer.",
               options=("points", "another layer"), unsought=("another layer",),
               when=_when("along a line")),
    ] = "points"  # fmt: skip
    points: Annotated[
        str,
        PointList("Points", "Points of the line: x, y of each, from the middle of the sheet, with semicolons between.",
                  when=(*_when("along a line"), When(field="line", values=("points",), reason="only through points"))),
    ] = "-110, 40; -40, -40; 40, 40; 110, -40"  # fmt: skip
    layer: Annotated[
        str,
        LayerChoice("Layer", "Its longest outline is the line.",
                    when=(*_when("along a line"), When(field="line", values=("another layer",), reason="only for a layer"))),
    ] = ""  # fmt: skip
    spread: Annotated[
        Literal["true lengths", "over the whole line"],
        Choice("Spread", "Lengths as they are, from the middle of the line; or the whole fitted to it.",
               options=("true lengths", "over the whole line"), when=_when("along a line")),
    ] = "true lengths"  # fmt: skip
    reach: Annotated[
        float,
        Length("Reach", "Radius within which it acts; of a taper half the height; bent round, the length of one turn.", least=0.01,
               slides=(10.0, 400.0), when=_when("twist", "bulge", "taper", "round")),
    ] = 150.0  # fmt: skip
    pivot: Annotated[Anchor, Point("Pivot", "Where the middle of the warp stands.", when=ABOUT)] = Anchor(spot="sheet centre")

    def layers(self) -> tuple[str, ...]:
        """Return the layer whose outline is the line."""
        return (self.layer,) if self.form == "along a line" and self.line == "another layer" and self.layer else ()

    def mapping(self, numbers: Numbers | None = None) -> Map:
        """Return the map about the pivot, with numbers (n, 1) for n copies or at their starts; not that along a line."""
        forms = {"twist": self._twist, "bulge": self._bulge, "wave": self._wave, "taper": self._taper, "round": self._round}
        form, told = forms[self.form], numbers or {name: np.full((1, 1), rest(getattr(self, name))) for name in VARY}
        return lambda away: form(away, told)

    def _numbers(self, ask: Ask) -> Numbers:
        return {name: ask.each(getattr(self, name))[:, None] for name in VARY}

    def _fading(self, away: Array) -> Array:
        """1 at the pivot, 0 from the reach on, smooth at both."""
        share = np.clip(np.hypot(away[..., 0], away[..., 1]) / self.reach, 0.0, 1.0)
        return np.asarray((1 - share**2) ** 2)

    def _twist(self, away: Array, numbers: Numbers) -> Array:
        angle = np.radians(numbers["angle"]) * self._fading(away)
        x, y = away[..., 0], away[..., 1]
        return np.stack([x * np.cos(angle) - y * np.sin(angle), x * np.sin(angle) + y * np.cos(angle)], -1)

    def _bulge(self, away: Array, numbers: Numbers) -> Array:
        """A lens: the middle grows by the amount, the rim stays; ``s (1 + k) / (1 + k s)`` only grows with s, so nothing folds."""
        share, k = np.clip(np.hypot(away[..., 0], away[..., 1]) / self.reach, 0.0, 1.0), numbers["amount"] / 100
        return np.asarray(away * ((1 + k) / (1 + k * share))[..., None])

    def _wave(self, away: Array, numbers: Numbers) -> Array:
        angle = np.radians(self.direction)
        along = np.array([np.cos(angle), np.sin(angle)])
        rise = numbers["height"] * np.sin(2 * np.pi * (away @ along) / self.wavelength + np.radians(numbers["phase"]))
        return np.asarray(away + rise[..., None] * np.array([along[1], -along[0]]))

    def _taper(self, away: Array, numbers: Numbers) -> Array:
        factor = np.maximum(1 + numbers["amount"] / 100 * away[..., 1] / self.reach, 0.0)
        return np.stack([away[..., 0] * factor, away[..., 1]], -1)

    def _round(self, away: Array, numbers: Numbers) -> Array:
        """Across becomes round, down becomes inwards; lengths on the level of the pivot stay as they are."""
        angle, radius = 2 * np.pi * away[..., 0] / self.reach, self.reach / (2 * np.pi) - away[..., 1]
        return np.stack([radius * np.sin(angle), -radius * np.cos(angle)], -1)

    def place(self, above: Stage, ground: Ground) -> Stage:
        """Return the same copies, each with its warped outlines.

        Raises
        ------
        LimitError
        """
        marks, pivot = draw(above, ground.known, ground.progress), resolve(self.pivot, above, ground)
        faces = len(marks.families)
        warp = self._along(marks, ground) if self.form == "along a line" else self._about(pivot, Ask(above, ground.known))
        warped = []
        for f, family in enumerate(marks.families):
            ground.progress.step(f / faces)
            own = apply(marks.xform[f::faces], family.points[np.maximum(marks.variant[f::faces], 0)])
            warped.append(_warped(family.verbs, own, marks.variant[f::faces], warp, self._bends_over(own), ground.progress))
        if sum(family.points.size for family in warped) > 2 * POINTS_MOST:
            raise LimitError(f"warped outlines would have more than {POINTS_MOST:,} points; there are too many copies")
        bent = nearest_affine(above.bodies(), warp(above.bodies()))
        return stage_of_outlines(self.id, above, np.arange(above.n), warped, bent=bent, pivot=pivot)

    def _bends_over(self, own: Array) -> float:
        """A length, in the work's unit, over which it bends little: no piece is begun with that is longer."""
        across = float(np.ptp(own.reshape(-1, 2), 0).max())
        by = {"wave": self.wavelength / 2, "twist": self.reach / 2, "bulge": self.reach / 2, "round": self.reach / 8}
        return by.get(self.form, across / 8)

    def _about(self, pivot: Array, ask: Ask) -> Map:
        warp = self.mapping(self._numbers(ask))
        return lambda points: warp(points - pivot) + pivot

    def _along(self, marks: Marks, ground: Ground) -> Map:
        """Across becomes along the line, down stays across it; beyond its ends the line goes straight on."""
        path, at = self._path(ground), marks.xform[marks.variant >= 0]
        low, high = _extent(marks) if len(at) else (0.0, 1.0)
        middle = (low + high) / 2
        scale = path.length / max(high - low, 1e-9) if self.spread == "over the whole line" else 1.0

        def warp(points: Array) -> Array:
            s = path.length / 2 + (points[..., 0] - middle) * scale
            place, heading = path.at(s.ravel())
            angle = np.radians(heading).reshape(s.shape)
            along, aside = np.stack([np.cos(angle), np.sin(angle)], -1), np.stack([-np.sin(angle), np.cos(angle)], -1)
            over = np.zeros_like(s) if path.closed else s - np.clip(s, 0.0, path.length)
            return np.asarray(place.reshape(points.shape) + along * over[..., None] + aside * points[..., 1:])

        return warp

    def _path(self, ground: Ground) -> Path:
        """The line.

        Raises
        ------
        RuleRefused
        """
        if self.line == "points":
            outline = line_through(read_spots(self.points)[:, :2], False, True)
            found = paths_of(outline.verbs, outline.points, LINE_ERROR)
        else:
            marks = ground.layers.get(self.layer)
            found = paths_of_marks(marks, LINE_ERROR) if marks is not None else []
        if not found:
            raise RuleRefused("there is no line to bend along; choose a layer that shows one, or points that are apart")
        return max(found, key=lambda one: one.length)

    def seen_through(self, above: Stage, ground: Ground) -> Array | None:
        """Return the map (2, 3) that changes nothing: it bends what lies on the sheet, and does not move it elsewhere."""
        return IDENTITY

    @property
    def at_rest(self) -> str:
        """Why nothing changes."""
        return "all its numbers are at rest"

    def handles(self, above: Stage, stage: Stage, ground: Ground, unit: str) -> HandleSet | None:
        """Return the pivot and the reach."""
        if self.form == "along a line":
            spots = read_spots(self.points)[:, :2] if self.line == "points" else np.zeros((0, 2))
            points = tuple(Handle(f"point {k}", at, f"point {k} of the line", "bead") for k, at in enumerate(spots, 1))
            try:
                line: tuple[Array, ...] = (self._path(ground).points,)
            except RuleRefused:
                line = ()
            return HandleSet(points, lines=line)
        pivot = resolve(self.pivot, above, ground)
        beads = [Handle("pivot", pivot, "pivot: the middle", "pivot")]
        if not self.idle("reach"):
            beads.append(Handle("reach", pivot + np.array([self.reach, 0.0]), f"reach {describe(self.reach, unit)}", "bead"))
        return HandleSet(tuple(beads), None, stage.body_ring)

    def dragged(self, drag: Drag, above: Stage, stage: Stage, ground: Ground) -> dict[str, Any]:
        """Return pivot, reach or the points of the line."""
        if drag.name.startswith("point "):
            spots = read_spots(self.points)
            spots[int(drag.name.removeprefix("point ")) - 1, :2] = drag.on_grid()
            return {"points": "; ".join(f"{short(x, 2)}, {short(y, 2)}" for x, y in spots[:, :2])}
        if drag.name == "pivot":
            return {"pivot": nearest_spot(drag.to, above, ground, drag)}
        away = drag.to - resolve(self.pivot, above, ground)
        return {"reach": max(0.01, drag.length(float(np.hypot(*away))))}

    def key_line(self, unit: str) -> str:
        """Return the form and its number."""
        number = {
            "twist": describe(self.angle, "°", 0),
            "wave": f"{describe(self.height, unit)} high",
            "round": f"one turn on {describe(self.reach, unit)}",
            "along a line": self.spread,
        }.get(self.form, describe(self.amount, "%", 0))
        return f"{self.form}, {number}"


def _extent(marks: Marks) -> tuple[float, float]:
    """Leftmost and rightmost place of what is drawn."""
    low, high = np.inf, -np.inf
    for f, family in enumerate(marks.families):
        own = np.flatnonzero((marks.family == f) & (marks.variant >= 0))
        if len(own):
            x = apply(marks.xform[own], family.points[marks.variant[own]])[..., 0]
            low, high = min(low, float(x.min())), max(high, float(x.max()))
    return low, high


def _warped(verbs: bytes, own: Array, variant: Array, warp: Map, over: float, progress: Progress) -> Family:
    """A face of all copies (n, K, 2) as it lies, warped: lines and curves in as many cubics as bring them within the error.

    No piece is longer than `over`, as far as so many may be had.
    """
    size = float(np.ptp(own.reshape(-1, 2), 0).max()) or 1.0
    legs = np.diff(np.concatenate([own, own[:, :1]], 1), axis=1)
    longest = float(np.hypot(legs[..., 0], legs[..., 1]).max()) * (3 if CURVE in verbs else 1)
    pieces = min(2 ** int(np.ceil(np.log2(max(longest / over, 1.0)))), PIECES_MOST)
    while True:
        _limit_points(verbs, len(own), pieces)
        progress.step(np.log2(pieces) / np.log2(PIECES_MOST))
        made, points, miss = _cubics(verbs, own, pieces, warp, NEAR * size, progress)
        if miss <= ERROR * size or pieces >= PIECES_MOST:
            break
        pieces *= 2
    return Family(made, points, np.where(variant < 0, -1, np.arange(len(own))).astype(np.int32))


def _limit_points(verbs: bytes, copies: int, pieces: int) -> None:
    """Refuse outlines in so many pieces before they are made.

    Raises
    ------
    LimitError
    """
    each = 3 * pieces * sum(verb != MOVE for verb in verbs) + verbs.count(MOVE)
    if each * copies > POINTS_MOST:
        fits = f"{POINTS_MOST // each:,} such copies fit" if each <= POINTS_MOST else "not one such copy fits"
        told = f"bent so finely, outlines have {each:,} points each, {each * copies:,} in all"
        raise LimitError(f"{told}; at most {POINTS_MOST:,} are allowed: {fits}")


def _cubics(verbs: bytes, own: Array, pieces: int, warp: Map, near: float, progress: Progress) -> tuple[bytes, Array, float]:
    """Each line and curve as so many warped cubics; also how far they stray at most."""
    out: list[Array] = []
    made, at, miss = bytearray(), 0, 0.0
    start = here = own[:, 0]
    home = here[:, None]
    for verb in progress.each(verbs):
        if verb == MOVE:
            start = here = own[:, at]
            made.append(MOVE)
            home = warp(here[:, None])
            out.append(home)
        else:
            controls = own[:, at : at + POINTS_OF[verb]]
            end = start if verb == CLOSE else controls[:, -1]
            if verb != CLOSE or np.abs(end - here).max() > near:
                third = (end - here) / 3
                c1, c2 = (controls[:, 0], controls[:, 1]) if verb == CURVE else (here + third, end - third)
                points, stray = _run(np.stack([here, c1, c2, end], 1), pieces, warp, near)
                if verb == CLOSE:  # exactly where it began, whatever was rounded on the way
                    points[:, -1:] = home
                out.append(points)
                miss = max(miss, stray)
                made += bytes([CURVE]) * pieces
            here = end
            if verb == CLOSE:
                made.append(CLOSE)
        at += POINTS_OF[verb]
    return bytes(made), np.concatenate(out, 1), miss


def _run(cubic: Array, pieces: int, warp: Map, near: float) -> tuple[Array, float]:
    """A cubic (n, 4, 2) as warped ones, all points after the first (n, 3 pieces, 2), and how far they stray at most.

    It is looked at in several uneven places of each, since a warp may be right in the middle of a long piece by chance.
    """
    ends, slope = _on(cubic, np.arange(pieces + 1) / pieces)
    size = np.maximum(np.hypot(slope[..., 0], slope[..., 1]), 1e-300)[..., None]
    unit = slope / size * near
    there = warp(ends)
    third = (warp(ends + unit) - warp(ends - unit)) / (2 * near) * size / (3 * pieces)
    c0, c1, c2, c3 = there[:, :-1], there[:, :-1] + third[:, :-1], there[:, 1:] - third[:, 1:], there[:, 1:]
    stray = 0.0
    for u in LOOKED_AT:
        wanted = warp(_on(cubic, (np.arange(pieces) + u) / pieces)[0])
        found = (1 - u) ** 3 * c0 + 3 * u * (1 - u) ** 2 * c1 + 3 * u * u * (1 - u) * c2 + u**3 * c3
        stray = max(stray, float(np.abs(found - wanted).max(initial=0.0)))
    return np.stack([c1, c2, c3], 2).reshape(len(cubic), 3 * pieces, 2), stray


def _on(cubic: Array, t: Array) -> tuple[Array, Array]:
    """Places and slopes (n, T, 2) on cubics (n, 4, 2) at parameters (T,)."""
    t = t[None, :, None]
    p = [cubic[:, None, k] for k in range(4)]
    on = (1 - t) ** 3 * p[0] + 3 * t * (1 - t) ** 2 * p[1] + 3 * t * t * (1 - t) * p[2] + t**3 * p[3]
    return on, 3 * ((1 - t) ** 2 * (p[1] - p[0]) + 2 * t * (1 - t) * (p[2] - p[1]) + t * t * (p[3] - p[2]))
