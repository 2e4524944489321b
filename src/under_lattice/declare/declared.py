"""What is declared: a frozen class whose fields carry dials, and holds to their ranges."""

from __future__ import annotations

from functools import cache
from typing import Any, Self

from pydantic import PrivateAttr, model_validator

from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Dial
from under_lattice.declare.frozen import Frozen

PLAIN = (float, int, str, bool, tuple)


class Declared(Frozen):
    """Settings with declared dials."""

    _checked: bool = PrivateAttr(False)  # whether it holds to the ranges of its dials

    @classmethod
    def dials(cls) -> dict[str, Dial]:
        """Return the declared dials by field name, in order."""
        return dials_of(cls)

    @model_validator(mode="after")
    def _in_range(self) -> Self:
        if self._checked:  # it runs again whenever a checked one becomes part of something
            return self
        for name, dial in self.dials().items():
            value = getattr(self, name)
            try:
                kept = dial.check(value) if type(value) in PLAIN else self._kept(dial, value)
            except InputError as error:
                raise ValueError(f"{dial.label}: {error.message}") from None
            if kept is not value and kept != value:
                object.__setattr__(self, name, kept)
        self._checked = True
        return self

    def _kept(self, dial: Dial, value: Any) -> Any:
        """Return what a dial keeps of a value.

        Raises
        ------
        InputError
        """
        return dial.check(value)


@cache
def dials_of(cls: type[Frozen]) -> dict[str, Dial]:
    """Return the dials a class declares by field name, in order."""
    return {name: extra for name, info in cls.model_fields.items() for extra in info.metadata if isinstance(extra, Dial)}
