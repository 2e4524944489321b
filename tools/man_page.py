"""The man page of the command, made from its parser: roff with the macros of man(7)."""

import argparse

from under_lattice.command_line.main import parser

HEAD = r""".\" made from the parser by tools/remake_docs.py
.TH UNDER-LATTICE 1 "" "Under Lattice" "User commands"
.SH NAME
under\-lattice \- geometric patterns from one simple shape, repeated by rules
.SH SYNOPSIS
.B under\-lattice
.RI [ --demo ]
.RI [ FILE ]
.br
.B under\-lattice
.I ORDER
.RI [ options ]
.SH DESCRIPTION
Without an order it opens the window: on a work, a drawing or a picture where one is named, on the pattern book else.
With an order it works in the terminal, without a display.
.SH ORDERS"""
TAIL = r""".SH FILES
.TP
.I *.lattice
A work: text in JSON, described by docs/lattice.schema.json.
.TP
.I $XDG_STATE_HOME/under\-lattice
Copies of unsaved work, what was opened lately, and faults.
.TP
.I $XDG_CACHE_HOME/under\-lattice
Compiled kernels, which come back when they are taken away.
.SH EXIT STATUS
0 when all was done, 1 when something could not be, 2 when an order cannot be read."""


def man_page() -> str:
    """Return the page."""
    lines = [HEAD]
    for group in parser()._subparsers._group_actions:  # type: ignore[union-attr]
        words = {one.dest: one.help or "" for one in group._choices_actions}  # type: ignore[attr-defined]
        for name, order in group.choices.items():  # type: ignore[union-attr]
            lines += [f".SS {_told(name)}", f"{_told(_sentence(words[name]))}.", *_options(order)]
    return "\n".join([*lines, TAIL, ""])


def _options(order: argparse.ArgumentParser) -> list[str]:
    """What an order takes, each as a paragraph with a tag."""
    out = []
    for action in order._actions:
        if isinstance(action, argparse._HelpAction):
            continue
        value = ""
        if action.nargs != 0:
            value = action.metavar or ("|".join(map(str, action.choices)) if action.choices else action.dest.upper())
        name = ", ".join(action.option_strings)
        tag = rf"\fB{_told(name)}\fR" + (rf" \fI{_told(str(value))}\fR" if value else "") if name else rf"\fI{_told(str(value))}\fR"
        out += [".TP", tag, _told(_sentence((action.help or "").replace("%%", "%")))]
    return out


def _sentence(words: str) -> str:
    return words[:1].upper() + words[1:]


def _told(words: str) -> str:
    """Words with what roff would take for orders written out."""
    said = words.replace("\\", r"\e").replace("-", r"\-")
    said = "".join(letter if letter.isascii() else rf"\[u{ord(letter):04X}]" for letter in said)
    return r"\&" + said if said.startswith((".", "'")) else said
