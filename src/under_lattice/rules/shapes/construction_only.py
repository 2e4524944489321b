"""Rule: Construction only, what others hang on is drawn as outlines on the sheet and never goes out."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from under_lattice.rules.base import Rule, RuleFamily
from under_lattice.rules.shapes.cut import NumberList, read_numbers


class ConstructionOnly(Rule):
    """The layer is a construction: outlines on the sheet, nothing in a file."""

    title: ClassVar[str] = "Construction only"
    words: ClassVar[str] = "What stands above, or some of its parts, is drawn as outlines on the sheet and never goes out."
    search: ClassVar[str] = "guide helper hidden not printed scaffold auxiliary reference line"
    family: ClassVar[RuleFamily] = "paint"

    kind: Literal["construction-only"] = "construction-only"
    parts: Annotated[str, NumberList("Parts", "Numbers of parts, such as 1, 3; empty for all that stands above.", whole=True)] = ""

    @property
    def construction(self) -> frozenset[int] | None:
        """The numbers of the parts, from 1 on; empty where all are meant."""
        return frozenset(int(one) for one in read_numbers(self.parts, "Parts", True))

    def key_line(self, unit: str) -> str:
        """Return what it means."""
        return f"parts {self.parts}, as outlines" if self.parts.strip() else "as outlines, never goes out"
