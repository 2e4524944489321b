"""A sure bound over a formula: the interval its values lie in, whatever its readings are (interval arithmetic)."""

from __future__ import annotations

import ast
import math
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from contextvars import ContextVar

from under_lattice.vary.formula import Formula

Interval = tuple[float, float]
ALL: Interval = (-math.inf, math.inf)
FAR, MANY = 1e5, 1e6  # no copy stands further from the middle of a sheet, and none has a higher number
READINGS: Mapping[str, Interval] = {
    "k": (0.0, MANY),
    "n": (1.0, MANY),
    "u": (0.0, 1.0),
    "row": (1.0, MANY),
    "col": (1.0, MANY),
    "x": (-FAR, FAR),
    "y": (-FAR, FAR),
    "r": (0.0, 2 * FAR),
    "a": (-180.0, 360.0),
    "chance": (0.0, 1.0),
    "t": (0.0, 1.0),
    "s": (0.0, 3600.0),
    "pi": (math.pi, math.pi),
}
_FIXED: Mapping[str, Interval] = {
    "sin": (-1.0, 1.0),
    "cos": (-1.0, 1.0),
    "asin": (-90.0, 90.0),
    "acos": (0.0, 180.0),
    "atan2": (-180.0, 180.0),
}


_KNOWN: ContextVar[tuple[str, Mapping[str, Interval]]] = ContextVar("known", default=("", {}))


@contextmanager
def known_readings(rule: str, readings: Mapping[str, Interval]) -> Iterator[None]:
    """Within it, formulas that read the copies of a rule are bounded by what is known of these; lengths in the unit of the work.

    A rule that lays copies by how far their shapes reach knows how many there can be before it lays them.
    """
    before = _KNOWN.set((rule, readings))
    try:
        yield
    finally:
        _KNOWN.reset(before)


def readings_of(rule: str) -> Mapping[str, Interval]:
    """Return what is known of the readings of a rule's copies where this is asked."""
    known, readings = _KNOWN.get()
    return readings if rule == known else {}


def bounds(formula: Formula, named: Mapping[str, float], readings: Mapping[str, Interval] | None = None) -> Interval:
    """Return the least and the greatest value a formula can have; infinite where nothing bounds it, in the unit of the formula.

    Parameters
    ----------
    formula : Formula
    named : mapping
        Values of the named dials it reads.
    readings : mapping, optional
        What is known of what it reads.
    """
    return _of(formula.root, {**READINGS, **(readings or {}), **{name: (value, value) for name, value in named.items()}})


def _of(node: ast.expr, known: Mapping[str, Interval]) -> Interval:
    if isinstance(node, ast.Constant):
        return float(node.value), float(node.value)  # type: ignore[arg-type]
    if isinstance(node, ast.Name):
        return known[node.id]
    if isinstance(node, ast.UnaryOp):
        low, high = _of(node.operand, known)
        return (-high, -low) if isinstance(node.op, ast.USub) else (low, high)
    if isinstance(node, ast.Compare):
        return 0.0, 1.0
    if isinstance(node, ast.BinOp):
        return _two(node.op, _of(node.left, known), _of(node.right, known))
    assert isinstance(node, ast.Call)
    assert isinstance(node.func, ast.Name)
    return _function(node.func.id, [_of(part, known) for part in node.args])


def _hull(*values: float) -> Interval:
    """The interval of some values; all there is where one of them is no number."""
    return ALL if any(map(math.isnan, values)) else (min(values), max(values))


def _times(a: float, b: float) -> float:
    return 0.0 if a == 0.0 or b == 0.0 else a * b


def _two(op: ast.operator, one: Interval, other: Interval) -> Interval:
    match op:
        case ast.Add():
            return one[0] + other[0], one[1] + other[1]
        case ast.Sub():
            return one[0] - other[1], one[1] - other[0]
        case ast.Mult():
            return _hull(*(_times(a, b) for a in one for b in other))
        case ast.Div() if other[0] > 0 or other[1] < 0:
            return _hull(*(_times(a, 1.0 / b) for a in one for b in other))
        case ast.Mod() if other[0] > 0 and math.isfinite(other[1]):
            return 0.0, other[1]
        case ast.Mod() if other[1] < 0 and math.isfinite(other[0]):
            return other[0], 0.0
        case ast.Pow():
            return _power(one, other)
    return ALL


def _power(one: Interval, other: Interval) -> Interval:
    whole = other[0] == other[1] and other[0] >= 0 and other[0] == int(other[0])
    if one[0] < 0 and not whole:
        return ALL
    try:
        ends = [a**b for a in one for b in other]
    except (OverflowError, ZeroDivisionError):
        return ALL
    inner = [0.0] if one[0] < 0 < one[1] else []
    inner += [1.0] if one[0] <= 1.0 <= one[1] else []
    return _hull(*ends, *inner)


def _function(name: str, parts: list[Interval]) -> Interval:
    if name in _FIXED:
        return _FIXED[name]
    (low, high), lows, highs = parts[0], [part[0] for part in parts], [part[1] for part in parts]
    match name:
        case "abs":
            return (0.0 if low <= 0 <= high else min(abs(low), abs(high))), max(abs(low), abs(high))
        case "sqrt":
            return math.sqrt(max(low, 0.0)), math.sqrt(max(high, 0.0))
        case "floor" | "ceil" | "round":
            return low - 1.0, high + 1.0
        case "exp":
            return (math.exp(low) if low < 700 else math.inf), (math.exp(high) if high < 700 else math.inf)
        case "log":
            return (math.log(low) if low > 0 else -math.inf), (math.log(high) if high > 0 else -math.inf)
        case "min":
            return min(lows), min(highs)
        case "max":
            return max(lows), max(highs)
        case "clamp":
            return min(max(lows[0], lows[1]), lows[2]), min(max(highs[0], highs[1]), highs[2])
        case "where":
            return min(lows[1:]), max(highs[1:])
        case "mix":
            return _two(ast.Add(), parts[0], _two(ast.Mult(), _two(ast.Sub(), parts[1], parts[0]), parts[2]))
    return ALL
