"""Formulas: plain arithmetic on documented names, for all copies at once; angles in degrees.

A formula is read as an expression by Python's own parser and then walked through: numbers, + - * / % **, comparisons, the functions
of `FUNCTIONS` and the names of `NAMES`, and nothing else. Nothing of it is ever run as code.
"""

from __future__ import annotations

import ast
import warnings
from collections.abc import Callable, Mapping
from functools import lru_cache

import numpy as np

from under_lattice.core.errors import InputError
from under_lattice.geometry.affine import Array

LENGTH_MOST, PARTS_MOST, DEPTH_MOST = 200, 120, 24
NAMES: dict[str, str] = {
    "k": "number of the step, 0 for the motif",
    "n": "how many steps in all",
    "u": "from 0 at the first step to 1 at the last",
    "row": "row, from 1",
    "col": "column, from 1",
    "x": "across from the pivot",
    "y": "down from the pivot",
    "r": "distance from the pivot",
    "a": "direction from the pivot, degrees clockwise",
    "chance": "a lot between 0 and 1, the same each time",
    "t": "time of the loop, from 0 to 1",
    "s": "the same in seconds",
    "pi": "3.14159…",
}
_SIZE: dict[str, tuple[int, int]] = {"min": (2, 8), "max": (2, 8), "atan2": (2, 2), "mix": (3, 3), "clamp": (3, 3), "where": (3, 3)}
FUNCTIONS: dict[str, Callable[..., Array]] = {
    "sin": lambda v: np.sin(np.radians(v)),
    "cos": lambda v: np.cos(np.radians(v)),
    "tan": lambda v: np.tan(np.radians(v)),
    "asin": lambda v: np.degrees(np.arcsin(v)),
    "acos": lambda v: np.degrees(np.arccos(v)),
    "atan2": lambda y, x: np.degrees(np.arctan2(y, x)),
    "sqrt": np.sqrt,
    "abs": np.abs,
    "floor": np.floor,
    "ceil": np.ceil,
    "round": np.rint,
    "exp": np.exp,
    "log": np.log,
    "min": lambda *v: np.minimum.reduce(np.broadcast_arrays(*v)),
    "max": lambda *v: np.maximum.reduce(np.broadcast_arrays(*v)),
    "mix": lambda a, b, t: a + (b - a) * t,
    "clamp": lambda v, low, high: np.minimum(np.maximum(v, low), high),
    "where": lambda test, a, b: np.asarray(np.where(np.asarray(test, bool), a, b)),
}
_TWO: dict[type[ast.AST], Callable[[Array, Array], Array]] = {
    ast.Add: np.add,
    ast.Sub: np.subtract,
    ast.Mult: np.multiply,
    ast.Div: np.divide,
    ast.Mod: np.mod,
    ast.Pow: np.power,
}
_TEST: dict[type[ast.AST], Callable[[Array, Array], Array]] = {
    ast.Lt: np.less,
    ast.LtE: np.less_equal,
    ast.Gt: np.greater,
    ast.GtE: np.greater_equal,
    ast.Eq: np.equal,
    ast.NotEq: np.not_equal,
}


warnings.filterwarnings("ignore", "invalid .* literal", SyntaxWarning)  # "3or" is refused with a sentence, not told on a terminal


class Formula:
    """A formula that has been read and found good."""

    def __init__(self, text: str, root: ast.expr, names: frozenset[str]) -> None:
        self.text, self.names = text, names
        self.root = root

    def values(self, known: Mapping[str, Array | float]) -> Array:
        """Return the values for readings of its names, all at once, in the unit of the formula.

        Raises
        ------
        InputError
            When some value is not a number.
        """
        with np.errstate(all="ignore"):
            found = np.asarray(self._of(self.root, {"pi": np.pi, **known}), float)
        if not np.isfinite(found).all():
            at = int(np.argmin(np.isfinite(found.ravel())))
            raise InputError(f"the formula “{self.text}” gives no number for copy {at + 1}")
        return found

    def _of(self, node: ast.expr, known: Mapping[str, Array | float]) -> Array:
        if isinstance(node, ast.Constant):
            return np.float64(node.value)  # type: ignore[arg-type,return-value]
        if isinstance(node, ast.Name):
            return np.asarray(known[node.id], float)
        if isinstance(node, ast.UnaryOp):
            value = self._of(node.operand, known)
            return -value if isinstance(node.op, ast.USub) else value
        if isinstance(node, ast.BinOp):
            return _TWO[type(node.op)](self._of(node.left, known), self._of(node.right, known))
        if isinstance(node, ast.Compare):
            test = _TEST[type(node.ops[0])](self._of(node.left, known), self._of(node.comparators[0], known))
            return np.asarray(test, float)
        assert isinstance(node, ast.Call)
        assert isinstance(node.func, ast.Name)
        return np.asarray(FUNCTIONS[node.func.id](*(self._of(part, known) for part in node.args)), float)


@lru_cache(maxsize=256)
def read_formula(text: str, more: frozenset[str] = frozenset()) -> Formula:
    """Read a formula on the documented names, and on `more`: the handles of named dials.

    Raises
    ------
    InputError
        The sentence says what is not understood, and what is.
    """
    text = text.strip().removeprefix("=").strip()
    if not text:
        raise InputError("a formula is empty")
    if len(text) > LENGTH_MOST:
        raise InputError(f"a formula has at most {LENGTH_MOST} characters")
    try:
        root = ast.parse(text.replace("^", "**"), mode="eval").body
    except (SyntaxError, ValueError, MemoryError, RecursionError):
        raise InputError(f"“{text[:40]}” is not a formula; for instance 12 + 3 * k, or 40 * sin(a)") from None
    names: set[str] = set()
    _check(root, names, frozenset(NAMES) | more, 0, [0])
    return Formula(text, root, frozenset(names))


def _check(node: ast.AST, names: set[str], known: frozenset[str], depth: int, parts: list[int]) -> None:
    parts[0] += 1
    if depth > DEPTH_MOST or parts[0] > PARTS_MOST:
        raise InputError("the formula is too long or too deep")
    inner: list[ast.AST] = []
    if isinstance(node, ast.Constant):
        if isinstance(node.value, bool) or not isinstance(node.value, (int, float)) or abs(node.value) > 1e12:
            raise InputError(f"“{str(node.value)[:20]}” is not a number that a formula can hold")
    elif isinstance(node, ast.Name):
        if node.id not in known:
            listed = [*NAMES, *sorted(known - NAMES.keys())]
            raise InputError(f"“{node.id[:20]}” is not known here; there are {', '.join(listed)}")
        names.add(node.id)
    elif isinstance(node, ast.UnaryOp) and isinstance(node.op, (ast.USub, ast.UAdd)):
        inner = [node.operand]
    elif isinstance(node, ast.BinOp) and type(node.op) in _TWO:
        inner = [node.left, node.right]
    elif isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in _TEST:
        inner = [node.left, *node.comparators]
    elif isinstance(node, ast.Call) and isinstance(node.func, ast.Name):
        inner = _arguments(node, node.func.id)
    else:
        raise InputError("a formula has numbers, names, + - * / % ^, comparisons and functions, nothing else")
    for part in inner:
        _check(part, names, known, depth + 1, parts)


def _arguments(node: ast.Call, name: str) -> list[ast.AST]:
    if name not in FUNCTIONS or node.keywords:
        raise InputError(f"“{name[:20]}” is not a function here; there are {', '.join(FUNCTIONS)}")
    least, most = _SIZE.get(name, (1, 1))
    if not least <= len(node.args) <= most:
        wanted = str(least) if least == most else f"{least} to {most}"
        raise InputError(f"{name} takes {wanted} numbers, not {len(node.args)}")
    return list(node.args)
