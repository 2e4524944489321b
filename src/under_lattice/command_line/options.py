"""Options of ``render`` from the declarations of the formats: a number as ``--width PX``, what is on or off as a flag."""

from __future__ import annotations

import argparse
from collections.abc import Sequence
from typing import Any

from under_lattice.command_line.saying import warn
from under_lattice.core.errors import InputError, LatticeError
from under_lattice.declare.dials import Choice, Dial, LayerChoice, NumberDial
from under_lattice.declare.option_dials import Colours, Switch
from under_lattice.output import BY_ENDING, BY_KEY, FORMATS, Format

FLAG = "option_"


def flags(kinds: Sequence[type[Format]] = FORMATS) -> dict[str, tuple[str, Dial, Any]]:
    """Return each flag with the option it sets, its dial and its default; formats that share an option share its flag."""
    out: dict[str, tuple[str, Dial, Any]] = {}
    for kind in kinds:
        for name, dial in kind.dials().items():
            default = kind.model_fields[name].default
            no = "no-" if default is True else ""
            out.setdefault(f"--{no}{name.replace('_', '-')}", (name, dial, default))
    return out


def add_options(order: argparse.ArgumentParser) -> None:
    """Add the options of all formats to an order of the command."""
    order.add_argument("--as", dest="form", choices=list(BY_KEY), help="the form of the file; its ending tells it without")
    add_flags(order, FORMATS)


def add_flags(order: argparse.ArgumentParser, kinds: Sequence[type[Format]]) -> None:
    """Add a flag for each option of some formats."""
    for flag, (name, dial, default) in flags(kinds).items():
        where = [kind.title for kind in kinds if name in kind.dials()]
        words = f"{dial.label}: {dial.words}" + (f" ({', '.join(where)} only)" if len(where) < len(kinds) else "")
        if isinstance(dial, Switch):
            said = f"not “{words}”" if default else words
            order.add_argument(flag, dest=FLAG + name, action="store_const", const=not default, help=said)
        elif isinstance(dial, LayerChoice):
            order.add_argument(flag, dest=FLAG + name, metavar="LAYER", help=words)
        elif isinstance(dial, Colours):
            order.add_argument(flag, dest=FLAG + name, metavar="COLOURS", help=words)
        elif isinstance(dial, Choice):
            order.add_argument(flag, dest=FLAG + name, choices=dial.options, help=words)
        else:
            assert isinstance(dial, NumberDial)
            unit, said = dial.unit.upper() or "N", f"{words} {dial.allowed()}".replace("%", "%%")
            order.add_argument(flag, dest=FLAG + name, type=float, metavar=unit, help=said)


def format_of(options: Any) -> Format:
    """Return the format the name of the file asks for, with the options given.

    Raises
    ------
    LatticeError
        When there is no such format, or an option is out of its range.
    """
    kind = BY_KEY[options.form] if options.form else BY_ENDING.get(options.out.suffix.lower())
    if kind is not None and options.out.suffix.lower() != f".{kind.ending}":
        raise LatticeError(f"{options.out.name}: the name of such a file must end in .{kind.ending}")
    if kind is None:
        raise LatticeError(f"{options.out.name}: the name must end in {' or '.join(BY_ENDING)}")
    return with_flags(kind(), options, FORMATS)


def with_flags(chosen: Format, options: Any, kinds: Sequence[type[Format]]) -> Format:
    """Return a format with the options given by flags of some formats; those it has not are told and left aside.

    Raises
    ------
    LatticeError
        When one is out of its range.
    """
    for flag, (name, dial, _) in flags(kinds).items():
        value = getattr(options, FLAG + name)
        if value is None:
            continue
        if name not in chosen.dials():
            warn(f"{chosen.title} has no option {flag}; it is left aside")
            continue
        try:
            chosen = chosen.turned(name, value)
        except InputError as error:
            raise LatticeError(f"{flag}: {error.message.removeprefix(f'{dial.label}: ')}") from None
    return chosen
