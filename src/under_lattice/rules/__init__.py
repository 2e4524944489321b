"""The kinds of rules, in one explicit list; adding a rule is adding one file, its test and its line here."""

from __future__ import annotations

from under_lattice.rules.adjust import Adjust
from under_lattice.rules.base import Rule
from under_lattice.rules.ink import Ink
from under_lattice.rules.lattice import Lattice
from under_lattice.rules.layer_end import LayerEnd
from under_lattice.rules.polygon import Polygon
from under_lattice.rules.push_edges import PushEdges
from under_lattice.rules.split import Split

RULES: tuple[type[Rule], ...] = (Polygon, Split, PushEdges, Lattice, Adjust, Ink, LayerEnd)
KINDS: dict[str, type[Rule]] = {str(rule.model_fields["kind"].default): rule for rule in RULES}
