"""Rule: Construction only, what others hang on is drawn as outlines on the sheet and never goes out."""

from __future__ import annotations

from typing import ClassVar, Literal

from under_lattice.rules.base import Rule, RuleFamily


class ConstructionOnly(Rule):
    """The layer is a construction: outlines on the sheet, nothing in a file."""

    title: ClassVar[str] = "Construction only"
    words: ClassVar[str] = "What stands above is drawn as outlines on the sheet and never goes out; other layers may follow it."
    search: ClassVar[str] = "guide helper hidden not printed scaffold auxiliary reference line"
    family: ClassVar[RuleFamily] = "paint"
    construction: ClassVar[bool] = True

    kind: Literal["construction-only"] = "construction-only"

    def key_line(self, unit: str) -> str:
        """Return what it means."""
        return "as outlines, never goes out"
