"""Units of length and the numbers a person types: arithmetic, units, per cent."""

from __future__ import annotations

import ast
import math
import operator
import re
from collections.abc import Callable
from typing import Any

from under_lattice.core.errors import InputError

UNITS = ("px", "mm", "cm", "in", "pt")
INCHES = {"mm": 1 / 25.4, "cm": 1 / 2.54, "in": 1.0, "pt": 1 / 72}
PX_PER_INCH = 96.0  # CSS Values and Units: 1 px is 1/96 in, unless a sheet states a resolution
_BINARY: dict[type, Callable[[Any, Any], Any]] = {
    ast.Add: operator.add,
    ast.Sub: operator.sub,
    ast.Mult: operator.mul,
    ast.Div: operator.truediv,
}
_UNIT = re.compile(r"(?<=[\d.)])\s*(px|mm|cm|in|pt)(?![a-z])", re.I)
ANGLES = {"°": 1.0, "deg": 1.0, "grad": 0.9, "rad": 180 / math.pi, "turn": 360.0}  # in degrees, as in CSS Values and Units
_ANGLE = re.compile(r"(?<=[\d.)])\s*(°|deg|grad|rad|turn)(?![a-z])", re.I)
_PARTS = re.compile(r";|,(?=\s)|\s+")
_TIGHT = re.compile(
    r"\s+(?=(?:px|mm|cm|in|pt|deg|grad|rad|turn)(?![a-z])|[%°])|(?<=[*/+])\s+|\s+(?=[*/])|\s+(?=[+-]\s)|(?<=\s-)\s+", re.I
)
_GROUPS = (re.compile(r"(?<![\d.,])[1-9]\d{0,2}(?:,\d{3})+(?![\d,])"), re.compile(r"(?<![\d.,])[1-9]\d{0,2}(?:\.\d{3})+(?![\d.])"))
LONGEST = 200


def convert(value: float, unit: str, to: str, resolution: float = PX_PER_INCH) -> float:
    """Return a length in another unit; `resolution` is px per inch."""
    if unit == to:
        return value
    inches = value / resolution if unit == "px" else value * INCHES[unit]
    return inches * resolution if to == "px" else inches / INCHES[to]


def typed(text: str, unit: str = "", resolution: float = PX_PER_INCH, now: float | None = None, decimal: str = ".") -> float:
    """Read what a person typed as a number in `unit`.

    Takes plain arithmetic (``41.57/2``) with a decimal point or comma, and thousands in groups as the language writes them
    (``1,000`` where its `decimal` sign is the point, ``1.000`` where it is the comma); units of length (``1.2 cm``) where
    `unit` is one, each for the whole product it stands in (``1/2 in`` is half an inch); and of an angle ``°``, ``deg``,
    ``grad``, ``rad`` and ``turn``. Of a length
    ``97 %`` is a part of what it is now, ``-3 %`` and ``+1 %`` change it. Of a ratio in per cent ``97 %`` and ``0.97`` are the
    ratio itself, ``+1 %`` and ``-3 %`` change it, and ``=-3 %`` is what it says.

    Parameters
    ----------
    text : str
    unit : str
        One of px, mm, cm, in, pt, ``°``, ``%`` or nothing.
    resolution : float
        px per inch.
    now : float, optional
        The present value, for parts and changes of it.
    decimal : str
        The decimal sign of the person's language.

    Raises
    ------
    InputError
        When the text is not a number.
    """
    plain = _GROUPS[decimal == ","].sub(lambda groups: re.sub("[.,]", "", groups[0]), text.strip())
    plain = plain.replace("−", "-").replace("×", "*").replace(",", ".")  # noqa: RUF001
    as_said, plain = plain.startswith("="), plain.removeprefix("=").strip()
    if not plain or len(plain) > LONGEST:
        raise InputError("a number is needed here, for instance 12.5 or 41.57/2")
    if unit == "%":
        return _per_cent(plain, None if as_said else now)
    if unit == "°":
        plain = _ANGLE.sub(lambda m: f"*{ANGLES[m[1].lower()]:.17g}", plain)
    if unit in UNITS:
        if plain.endswith("%"):
            return _part_of(plain, None if as_said else now)
        plain = _UNIT.sub(lambda m: f"*{convert(1.0, m[1].lower(), unit, resolution):.14g}", plain)
    return arithmetic(plain)


def in_groups(text: str) -> bool:
    """Tell whether a text may be read in two ways: with a decimal sign before three figures, or with thousands in groups."""
    return any(groups.search(text) for groups in _GROUPS)


def is_relative(text: str, unit: str) -> bool:
    """Tell whether what was typed means a part or a change of what a number is now; `unit` is its own."""
    plain = text.strip().replace("−", "-")  # noqa: RUF001
    return plain.endswith("%") and (unit in UNITS or (unit == "%" and plain[:1] in ("+", "-")))


def parted(text: str) -> list[str]:
    """Return the parts of a list that is parted by semicolons or spaces, without unit of their own.

    A comma before a space parts too; any other is a decimal comma. Spaces round signs of arithmetic and before units part nothing.
    """
    return [part for part in _PARTS.split(_TIGHT.sub("", text.strip())) if part]


def _part_of(plain: str, now: float | None) -> float:
    """A length, in its unit, from per cent of what it is now."""
    if now is None:
        raise InputError("per cent of a length need a length to be a part of; type the length itself")
    value = arithmetic(plain[:-1]) / 100
    return now * (1 + value) if plain[0] in "+-" else now * value


def _per_cent(plain: str, now: float | None) -> float:
    if plain.endswith("%"):
        value = arithmetic(plain[:-1])
        return now + value if now is not None and plain[0] in "+-" else value
    value = arithmetic(plain)
    return value * 100 if re.match(r"^0?\.\d", plain) else value


def arithmetic(text: str) -> float:
    """Return the value of plain arithmetic: numbers, + - * / and brackets, without unit.

    Raises
    ------
    InputError
    """
    try:
        tree = ast.parse(text.strip(), mode="eval")
        value = _value(tree.body, 0)
    except ZeroDivisionError:
        raise InputError("this divides by zero") from None
    except (SyntaxError, ValueError, OverflowError, RecursionError, MemoryError) as error:
        if isinstance(error, InputError):
            raise
        raise InputError(f"“{text.strip()[:40]}” is not a number") from None
    if value != value or abs(value) == float("inf"):
        raise InputError("this number is too large")
    return value


def _value(node: ast.AST, depth: int) -> float:
    if depth > 40:
        raise InputError("this sum is nested too deeply")
    match node:
        case ast.Constant(value) if type(value) in (int, float):
            return float(value)  # type: ignore[arg-type]
        case ast.BinOp(left, op, right) if type(op) in _BINARY:
            return float(_BINARY[type(op)](_value(left, depth + 1), _value(right, depth + 1)))
        case ast.UnaryOp(ast.USub(), value):
            return -_value(value, depth + 1)
        case ast.UnaryOp(ast.UAdd(), value):
            return _value(value, depth + 1)
    raise InputError("only numbers and + - * / ( ) can stand here")


def short(value: float, digits: int = 3) -> str:
    """Return the shortest plain text of a number to so many decimals, with no exponent and no minus zero, without unit."""
    text = f"{value:.{digits}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text
