"""``under-lattice render``: one work into one file, or many works, their kept versions or rows of values into a folder."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace
from collections.abc import Callable, Iterator, Mapping, Sequence
from concurrent.futures import ProcessPoolExecutor
from itertools import product, repeat
from multiprocessing import get_context
from pathlib import Path
from typing import NamedTuple

from under_lattice.command_line.options import add_options, format_of
from under_lattice.command_line.saying import say, warn
from under_lattice.core.errors import LatticeError
from under_lattice.declare.option_dials import PixelCount
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.evaluate.result import ChainResult
from under_lattice.files.bounded import read_bytes
from under_lattice.files.brought import as_drawn
from under_lattice.files.recipe import open_any
from under_lattice.files.saving import write_atomically
from under_lattice.files.storage import stem_of
from under_lattice.library import DEMOS, demo
from under_lattice.library.palettes import PALETTES
from under_lattice.loop.moment import at_moment
from under_lattice.many.versions import ROWS_MOST, Row, as_kept, in_palette, read_rows, with_settings
from under_lattice.output import BY_ENDING, BY_KEY
from under_lattice.output.page import job_of
from under_lattice.work.model import Design, Work

DONE, REFUSED = 0, 1
JOBS_MOST = 64
ALTERED = (
    "was changed after it was exported; what is read is the recipe inside it, without the changes (--as-drawn reads the drawing)"
)


class Task(NamedTuple):
    """One file to be written: from which work, with which settings, of which version, where to, in which palette, how wide (px)."""

    source: str
    settings: tuple[str, ...]
    kept: str
    out: Path
    palette: str = ""
    width: int = 0


def add_render(order: ArgumentParser) -> None:
    """Put the options of ``render`` on an order."""
    order.add_argument(
        "file", nargs="+", help=f"a .lattice, SVG, PDF or PNG file with its recipe, or demo:NAME ({', '.join(DEMOS)})"
    )
    out = f"{' or '.join(f'OUT{ending}' for ending in BY_ENDING)}; or a folder, which ends in /, with --as"
    order.add_argument("-o", "--out", required=True, help=out)
    order.add_argument("--set", action="append", default=[], metavar="LAYER.RULE.NUMBER=VALUE", help="turn one dial first")
    order.add_argument("--time", type=float, default=0.0, metavar="0..1", help="time of the loop")
    add_options(order)
    order.add_argument("--lenient", action="store_true", help="write the file though a layer or a rule could not act")
    order.add_argument("--as-drawn", action="store_true", help="draw an SVG file as it is, not the recipe inside it")
    each = "into a folder: every kept version of each work, or each in all palettes of the house"
    order.add_argument("--each", choices=["kept", "palette"], help=each)
    order.add_argument("--widths", metavar="PX,PX,…", help="into a folder: each picture at several widths")
    order.add_argument(
        "--values", type=Path, metavar="TABLE", help="into a folder: a CSV or JSON table, a file for each row of numbers"
    )
    order.add_argument("--jobs", type=int, default=1, help="into a folder: how many are written at a time")


def render(options: Namespace) -> int:
    """Write what is asked for; one work that fails does not keep the others from being written.

    Raises
    ------
    LatticeError
    """
    if not 0 <= options.time <= 1:
        raise LatticeError("--time takes 0 to 1, the beginning and the end of the loop")
    folder = options.out.endswith("/") or Path(options.out).is_dir()
    options.out = Path(options.out)
    if not folder:
        if len(options.file) > 1 or options.each or options.values or options.widths:
            raise LatticeError("several files go into a folder: give one that ends in / with -o")
        _write(Task(options.file[0], tuple(options.set), "", options.out), options, warn)
        return DONE
    return _many(options)


def _many(options: Namespace) -> int:
    """Write many files into a folder, a line for each in their order, and a summary."""
    if not 1 <= options.jobs <= JOBS_MOST:
        raise LatticeError(f"--jobs takes 1 to {JOBS_MOST}")
    if not options.form:
        raise LatticeError(f"--as says the form of files in a folder: {', '.join(BY_KEY)}")
    try:
        options.out.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise LatticeError(f"{options.out} cannot be made: {error.strerror}") from None
    tasks, failed = list(_tasks(options)), 0
    for task, (done, sentences) in zip(tasks, _answers(tasks, options), strict=True):
        failed += not done
        say(f"{task.out.name}" if done else f"{task.out.name}: not written")
        for sentence in sentences:
            warn(f"{task.out.name}: {sentence}")
    say(f"{len(tasks) - failed} of {len(tasks)} files in {options.out}")
    return REFUSED if failed else DONE


def _answers(tasks: Sequence[Task], options: Namespace) -> Iterator[tuple[bool, list[str]]]:
    """What came of each task, in their order."""
    if options.jobs == 1 or len(tasks) < 2:
        yield from (_tried(task, options) for task in tasks)
        return
    with ProcessPoolExecutor(min(options.jobs, len(tasks)), mp_context=get_context("spawn")) as pool:
        yield from pool.map(_tried, tasks, repeat(options))


def _tried(task: Task, options: Namespace) -> tuple[bool, list[str]]:
    """Write one file; tells whether it is written, and what there is to say."""
    said: list[str] = []
    try:
        _write(task, options, said.append)
    except LatticeError as error:
        return False, [*said, str(error)]
    return True, said


def _tasks(options: Namespace) -> Iterator[Task]:
    """The files to be written, each under a name of its own."""
    taken: set[str] = set()
    ending, widths = BY_KEY[options.form].ending, _widths(options)
    for source in options.file:
        stem = stem_of(source.removeprefix("demo:") if source.startswith("demo:") else Path(source).stem)
        rows = read_rows(options.values) if options.values else [Row("", ())]
        kept: Sequence[tuple[str, str]] = [("", "")]
        palettes = list(PALETTES) if options.each == "palette" else [""]
        if options.each == "kept":
            try:
                kept = [(one.id, stem_of(one.name)) for one in load(source, []).kept]
            except LatticeError:
                kept = [("", "")]  # said when it is written
        for name, settings in rows:
            for (version, called), palette, width in product(kept, palettes, widths):
                parts = (stem, name, called, stem_of(palette) if palette else "", str(width or ""))
                own = "-".join(part for part in parts if part)
                free = next(one for one in (own, *(f"{own}-{k}" for k in range(2, ROWS_MOST))) if one not in taken)
                taken.add(free)
                yield Task(source, (*options.set, *settings), version, options.out / f"{free}.{ending}", palette, width)


def _widths(options: Namespace) -> list[int]:
    """The widths each picture is written at, px; one of 0 where none are given."""
    if not options.widths:
        return [0]
    kind = BY_KEY[options.form]
    dial = kind.dials().get("width")
    if not isinstance(dial, PixelCount):
        raise LatticeError(f"{kind.title} has no width in px; --widths takes pictures")
    try:
        found = list(dict.fromkeys(int(one) for one in options.widths.split(",")))
    except ValueError:
        raise LatticeError(f"--widths takes whole numbers of px with commas between, as 600,1200; not “{options.widths}”") from None
    if any(not 1 <= one <= dial.most for one in found):
        raise LatticeError(f"--widths takes 1 to {dial.most:,.0f} px")
    return found


def _write(task: Task, options: Namespace, tell: Callable[[str], None]) -> None:
    """Write one file; tells what there is to say of it.

    Raises
    ------
    LatticeError
    """
    own = Namespace(**vars(options) | {"out": task.out})
    chosen = format_of(own)
    if task.width:
        chosen = chosen.turned("width", task.width)
    settings = list(task.settings)
    work = _as_drawn(Path(task.source), settings) if options.as_drawn else load(task.source, settings)
    if task.kept:
        work = as_kept(work, task.kept)
    if task.palette:
        work = in_palette(work, task.palette)
    evaluator = Evaluator()
    refused = _refusals(work.design, evaluator.design(at_moment(work.design, options.time), time=options.time))
    for sentence in refused:
        tell(sentence)
    if refused and not options.lenient:
        raise LatticeError(f"{task.out.name} is not written; --lenient writes it without what could not act")
    for sentence in chosen.notes(work.design):
        tell(sentence)
    chosen, job = job_of(work, chosen, evaluator=evaluator, time=options.time)
    write_atomically(task.out, chosen.write(job))


def load(name: str, orders: list[str]) -> Work:
    """Return a work by its file, or by ``demo:`` and its name, with settings.

    Raises
    ------
    LatticeError
    """
    if name.startswith("demo:"):
        if name[5:] not in DEMOS:
            raise LatticeError(f"there is no demo “{name[5:]}”; there is: {', '.join(DEMOS)}")
        work = demo(name[5:])
    else:
        opened = open_any(Path(name))
        if opened.altered:
            warn(f"{Path(name).name} {ALTERED}")
        work = opened.work
    return with_settings(work, orders)


def _as_drawn(path: Path, orders: list[str]) -> Work:
    """A drawing as it is, whatever recipe is inside; what cannot be followed is told."""
    if path.suffix.lower() != ".svg" or orders:
        raise LatticeError("--as-drawn takes an SVG file, and no --set: there is no recipe then")
    work, left_out = as_drawn(read_bytes(path), path.name)
    for one in left_out:
        warn(f"left out: {one}")
    return work


def _refusals(design: Design, results: Mapping[str, ChainResult]) -> list[str]:
    """What could not act in the layers that are seen or read, each in a sentence."""
    names = {rule.id: f"{layer.name}, {rule.shown_name()}" for layer, rule in design.every_rule()}
    hidden = {one.id for layer in design.all_layers() if layer.hidden for one in layer.walk()}
    read = {one for read in design.tree.reads.values() for one in read}
    return [
        f"{names.get(step.rule.id, name)}: {step.problem}"
        for name, result in results.items()
        if name not in hidden or name in read
        for step in result.steps
        if step.problem
    ]
