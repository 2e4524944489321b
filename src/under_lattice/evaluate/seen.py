"""What other layers see of a layer or a group: its chains, with what their ends bring together, and what is left aside."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from under_lattice.evaluate.result import ChainResult, Step
from under_lattice.pattern.known import NOTHING_KNOWN, Known
from under_lattice.work.layers import AnyLayer, Chain


@dataclass(frozen=True)
class Part:
    """A chain as part of what is seen of a layer: the opacity (0..1) and blend that come together on the way to it."""

    chain: Chain
    last: Step | None
    known: Known
    opacity: float
    blend: str
    bones: bool = False

    def told(self) -> tuple[object, ...]:
        """Return what tells it from others; what numbers read of the work is in the stage and the inks."""
        stage, inks = (self.last.stage, self.last.inks) if self.last is not None else (None, ())
        finishes = tuple(id(rule) for rule in self.chain.rules if rule.on and rule.family == "finish")
        laid = tuple((id(ink), standing) for ink, standing in inks)
        own = (self.known.time, self.known.seconds, self.known.width, self.known.height, self.known.rules)
        return (id(stage), laid, own, id(self.chain.rules[0]), finishes, self.opacity, self.blend, self.bones)


def parts_of(layer: AnyLayer, done: Mapping[str, ChainResult], opacity: float = 1.0, blend: str = "normal") -> list[Part]:
    """Return the chains that are seen of a layer, from back to front."""
    known = next((result.known for result in done.values()), NOTHING_KNOWN)
    lies = layer.end.lies(known)
    opacity, blend = opacity * lies.opacity, lies.blend if lies.blend != "normal" else blend
    out = []
    for member in reversed(layer.members):
        if not member.hidden:
            out += parts_of(member, done, opacity, blend)
    for chain in () if layer.members else layer.chains():
        out.append(Part(chain, done[chain.id].last, done[chain.id].known, opacity, blend))
    return out


def aside_of(layer: AnyLayer, known: Known) -> set[str]:
    """Return what of a layer, and of those in it, is not taken along when all of it is one shape."""
    lies = layer.end.lies(known)
    found = {"clip"} if lies.clip else set()
    found |= {"mask"} if lies.masked else set()
    found |= {"veil"} if layer.veils else set()
    if layer.members and lies.opacity < 1:
        found.add("opacity of the group as a whole")
    return found.union(*(aside_of(member, known) for member in layer.members if not member.hidden))
