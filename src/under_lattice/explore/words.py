"""What changed between two designs, in words."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from under_lattice.core.units import short
from under_lattice.declare.colour_dials import Colour, Palette
from under_lattice.declare.dials import Choice, Dial, NumberDial, Point
from under_lattice.rules import KINDS
from under_lattice.vary.numbers import Varied
from under_lattice.vary.parts import Several

MOST = 40  # letters of a value in words


@dataclass(frozen=True)
class Change:
    """One thing that differs.

    Attributes
    ----------
    layer, rule, dial : str
        Their names.
    was, now : str
        Its values, in words; the unit stands once, behind the second.
    """

    layer: str
    rule: str
    dial: str
    was: str
    now: str

    @property
    def what(self) -> str:
        """What differs: the rule and its dial."""
        return f"{self.rule}, {self.dial[:1].lower()}{self.dial[1:]}" if self.rule else self.dial

    def words(self) -> str:
        """Return it in one line."""
        return f"{self.layer + ': ' if self.layer else ''}{self.what} {self.was} → {self.now}"


def said(value: Any, dial: Dial, unit: str) -> str:
    """Return a value in words; `unit` is that of the work, for lengths."""
    if isinstance(value, Varied):
        return (
            value.sentence()
            if value.formula or value.taken
            else f"{_number(value.start, dial)} to {_with_unit(value.end, dial, unit)}"
        )
    if isinstance(dial, NumberDial):
        return _with_unit(value, dial, unit)
    if isinstance(dial, Several):
        return ", ".join(short(one, 2) for one in value)
    if isinstance(dial, Palette):
        return f"{len(value)} colours" if len(value) > 1 else value[0]
    if isinstance(dial, Colour):
        return value or "none"
    if isinstance(dial, Point):
        return str(value.words())
    if value in KINDS and KINDS[value].family == "motif":
        return KINDS[value].noun().lower()
    if isinstance(dial, Choice) and value in dial.options and dial.spoken:
        return dial.spoken[dial.options.index(value)]
    return _short(str(value))


def _number(value: float, dial: Dial, more: int = 0) -> str:
    return short(float(value), getattr(dial, "digits", 2) + 1 + more).replace("-", "−")  # noqa: RUF001


def _with_unit(value: float, dial: Dial, unit: str, more: int = 0) -> str:
    own = dial.unit or (unit if dial.kind == "length" else "")
    return f"{_number(value, dial, more)}{'' if own in ('', '°') else ' '}{own}"


def _short(text: str) -> str:
    line = " ".join(text.split())
    return line if len(line) <= MOST else line[: MOST - 1].rstrip() + "…"


def pair(was: Any, now: Any, dial: Dial, unit: str) -> tuple[str, str]:
    """Return two values of a dial in words, the unit behind the second alone."""
    if isinstance(dial, NumberDial) and not isinstance(was, Varied) and not isinstance(now, Varied):
        more = next((more for more in range(4) if _number(was, dial, more) != _number(now, dial, more)), 0)
        first = _number(was, dial, more)
        return (f"{first}°" if dial.unit == "°" else first), _with_unit(now, dial, unit, more)
    return said(was, dial, unit), said(now, dial, unit)
