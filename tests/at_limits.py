"""Works at the limits of each rule: each number at the ends of its range; the rule above and below a thousand million copies."""

from collections.abc import Iterator

from under_lattice.declare.dials import NumberDial
from under_lattice.library.layers import chain
from under_lattice.rules import FAMILIES, Lattice, Polygon, Progression
from under_lattice.rules.base import Rule
from under_lattice.work.model import Design, Sheet

KINDS = {kind.model_fields["kind"].default: kind for _, kinds in FAMILIES for kind in kinds if kind.family != "end"}
MOTIF = Polygon(size=10.0)
GRID = Lattice(form="squares", spacing="free", pitch=12.0, row_pitch=12.0, extent="by number", columns=6, rows=6)
MANY = (
    Lattice(form="squares", spacing="free", pitch=1.0, row_pitch=1.0, extent="by number", columns=1000, rows=1000),
    Progression(count=1000, x=1.0),
)


def of(*rules: Rule) -> Design:
    """Return a work of one layer."""
    return Design(sheet=Sheet(), layers=(chain("Layer", *rules),))


def at_ends(kind: type[Rule]) -> Iterator[tuple[str, Rule]]:
    """Yield a rule with each of its numbers at each end of its range, switched on where it stands still otherwise."""
    plain = kind.model_validate({"kind": kind.model_fields["kind"].default})
    for name, dial in plain.dials().items():
        if not isinstance(dial, NumberDial):
            continue
        needed = {when.field: when.values[0] for when in dial.when}
        for end in (dial.least, dial.most):
            value = int(end) if dial.kind in ("count", "seed") else end
            yield f"{name} {value:g}", kind.model_validate({**plain.model_dump(), **needed, name: value})


def works(kind: type[Rule]) -> Iterator[tuple[str, Design]]:
    """Yield works in which numbers of the rule are at their ends: alone, and with copies above it."""
    for words, rule in at_ends(kind):
        if kind.family == "motif":
            yield words, of(rule, GRID)
        else:
            yield words, of(MOTIF, rule)
            yield f"{words}, of {GRID.columns * GRID.rows} copies", of(MOTIF, GRID, rule)


def crowds(kind: type[Rule]) -> Iterator[tuple[str, Design]]:
    """Yield works in which the rule stands above and below rules that would make a thousand million copies."""
    rule = kind.model_validate({"kind": kind.model_fields["kind"].default})
    yield "above 10^9 copies", of(rule, *MANY) if kind.family == "motif" else of(MOTIF, rule, *MANY)
    if kind.family != "motif":
        yield "below 10^9 copies", of(MOTIF, *MANY, rule)
