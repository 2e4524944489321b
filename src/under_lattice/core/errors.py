"""Errors that reach a person: each says what, where and what is allowed."""

from __future__ import annotations


class LatticeError(Exception):
    """Base of all errors with a message for a person."""


class InputError(LatticeError, ValueError):
    """A number, choice or text that cannot be taken.

    Parameters
    ----------
    message : str
        What is wrong, in a sentence.
    where : str
        The place it stands, for instance ``Lattice, Gap``.
    """

    def __init__(self, message: str, where: str = "") -> None:
        super().__init__(f"{where}: {message}" if where else message)
        self.message = message
        self.where = where


class FileError(LatticeError, ValueError):
    """A file that cannot be read or written; nothing of it was taken over."""


class LimitError(LatticeError, ValueError):
    """More copies or pixels than are allowed; found before memory is taken."""


class RuleRefused(LatticeError, ValueError):
    """A rule that cannot act on what stands above it; it is passed over and says why."""


class GivenUp(Exception):
    """A newer request has come, or the person has stopped this one; the answer is not wanted any more."""
