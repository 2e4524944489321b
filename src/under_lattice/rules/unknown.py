"""A rule of a kind this version does not know: kept untouched, shown as such, saved back."""

from __future__ import annotations

from typing import Any, ClassVar

from pydantic import model_serializer

from under_lattice.rules.base import Rule, RuleFamily


class UnknownRule(Rule):
    """Holds the settings of an unknown rule as they were read."""

    title: ClassVar[str] = "Unknown rule"
    words: ClassVar[str] = "A rule from a newer version; it is kept and saved back, but does nothing here."
    family: ClassVar[RuleFamily] = "unknown"

    settings: dict[str, Any] = {}

    @model_serializer(mode="plain")
    def _back(self) -> dict[str, Any]:
        return self.settings | {"id": self.id, "handle": self.handle, "name": self.name, "on": self.on, "locked": self.locked}

    def key_line(self, unit: str) -> str:
        """Return its kind."""
        return f"“{self.kind}” needs a newer version"
