"""``under-lattice film``: the loop of a work as a film, an animation, single pictures or a drawing that moves."""

from __future__ import annotations

import sys
from argparse import ArgumentParser, Namespace
from pathlib import Path

from under_lattice.command_line.options import add_flags, with_flags
from under_lattice.command_line.rendering import load
from under_lattice.command_line.saying import say, warn
from under_lattice.core.errors import InputError, LatticeError
from under_lattice.core.progress import Progress
from under_lattice.files.saving import write_atomically
from under_lattice.frames.closing import loop_closes
from under_lattice.library import DEMOS
from under_lattice.output import FORMATS, Format, Job
from under_lattice.output.film import Film, Sequence
from under_lattice.output.page import job_of

KINDS: tuple[type[Format], ...] = tuple(kind for kind in FORMATS if issubclass(kind, Film))
BY_ENDING = {f".{kind.ending}": kind for kind in KINDS}


def add_film(order: ArgumentParser) -> None:
    """Put the options of ``film`` on an order."""
    order.add_argument("file", help=f"a .lattice, SVG, PDF or PNG file with its recipe, or demo:NAME ({', '.join(DEMOS)})")
    out = f"{' or '.join(f'OUT{ending}' for ending in BY_ENDING)}; or a folder, which ends in /, for single pictures"
    order.add_argument("-o", "--out", required=True, help=out)
    order.add_argument("--set", action="append", default=[], metavar="LAYER.RULE.NUMBER=VALUE", help="turn one dial first")
    order.add_argument("--jobs", type=int, help="how many processes paint side by side")
    add_flags(order, KINDS)


def film(options: Namespace) -> None:
    """Write a film.

    Raises
    ------
    LatticeError
    """
    folder = options.out.endswith(("/", "\\")) or Path(options.out).is_dir()
    out = Path(options.out)
    kind = Sequence if folder else BY_ENDING.get(out.suffix.lower())
    if kind is None:
        raise LatticeError(f"{out.name}: the name must end in {' or '.join(BY_ENDING)}, or in / for a folder of pictures")
    work = load(options.file, options.set)
    chosen = with_flags(kind(), options, KINDS)
    if options.jobs is not None:
        chosen = _with_jobs(chosen, options.jobs)
    for sentence in chosen.notes(work.design):
        say(sentence)
    closing = loop_closes(work.design)
    if not closing.closes:
        warn(closing.words)
    chosen, job = job_of(work, chosen, progress=_progress())
    if folder:
        assert isinstance(chosen, Sequence)
        _into(out, chosen, job)
        return
    write_atomically(out, chosen.write(job))
    say(f"{out.name}, {chosen.size_words(job.sheet)}")


def _with_jobs(chosen: Format, jobs: int) -> Format:
    try:
        return chosen.turned("processes", jobs)
    except InputError as error:
        raise LatticeError(f"--jobs: {error.message}") from None


def _into(folder: Path, chosen: Sequence, job: Job) -> None:
    """Write single pictures; those that are there already are written anew."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise LatticeError(f"{folder} cannot be made: {error.strerror}") from None
    count = 0
    for name, data in chosen.numbered(job):
        write_atomically(folder / name, data)
        count += 1
    say(f"{count:,} pictures in {folder}")


def _progress() -> Progress:
    """Tells on a terminal how far it is."""
    if not sys.stderr.isatty():
        return Progress()

    def tell(_: str, share: float) -> None:
        sys.stderr.write(f"\r{share:5.0%}" if share < 1 else "\r     \r")
        sys.stderr.flush()

    return Progress(tell=tell)
