"""A rule of a kind this version does not know: kept untouched, shown as such, saved back."""

from __future__ import annotations

from typing import Any, ClassVar

from pydantic import model_serializer

from under_lattice.core.plain import one_line
from under_lattice.rules.base import Rule, RuleFamily

SHARED_FIELDS = ("id", "handle", "name", "on", "locked")  # which all rules have


class UnknownRule(Rule):
    """Holds the settings of an unknown rule as they were read."""

    title: ClassVar[str] = "Unknown rule"
    words: ClassVar[str] = "A rule from a newer version; it is kept and saved back, but does nothing here."
    family: ClassVar[RuleFamily] = "unknown"

    settings: dict[str, Any] = {}

    @model_serializer(mode="plain")
    def _back(self) -> dict[str, Any]:
        """Its settings as they were read, with what was changed since."""
        read = {name: type(self).model_fields[name].default for name in SHARED_FIELDS} | self.settings
        read |= {"name": one_line(read["name"]), "locked": tuple(read["locked"])}
        return self.settings | {name: getattr(self, name) for name in SHARED_FIELDS if getattr(self, name) != read[name]}

    def key_line(self, unit: str) -> str:
        """Return its kind."""
        return f"“{self.kind}” needs a newer version"
