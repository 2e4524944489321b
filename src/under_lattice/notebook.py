"""Works in a script or a notebook: opened, turned, measured, varied and written as the window and the command line do it.

>>> import under_lattice
>>> floor = under_lattice.demo("entrance-floor")
>>> floor
<Entrance floor, 324 x 322 mm>
>>> loose = floor.with_({"floor.push-edges.amount": 0, "floor.lattice.gap": "1.8 mm"})
>>> round(loose.facts()["floor"].gap, 3)
1.8
"""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

from under_lattice import library
from under_lattice.core.errors import InputError
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.evaluator import Evaluator, evaluate
from under_lattice.explore.dealing import COUNT, Terms, deal
from under_lattice.explore.looks import Looks
from under_lattice.explore.strips import Strip, read_axis
from under_lattice.files.recipe import open_any
from under_lattice.files.saving import write_atomically
from under_lattice.files.storage import write
from under_lattice.library.palettes import PALETTES
from under_lattice.loop.turning import in_step
from under_lattice.many.settings import apply_setting
from under_lattice.measure.facts import Facts, measure
from under_lattice.output import BY_ENDING, BY_KEY
from under_lattice.output.contact_sheet import sheet_of
from under_lattice.output.page import job_of
from under_lattice.output.png import Png
from under_lattice.work.model import Work

SHOWN_PX = 480  # px of a work that shows itself in a notebook


class LiveWork:
    """A work; it never changes: what turns a number gives another one.

    Parameters
    ----------
    work : Work
    """

    def __init__(self, work: Work) -> None:
        self.work = work

    def __repr__(self) -> str:
        sheet = self.work.design.sheet
        return f"<{self.name}, {sheet.width:g} x {sheet.height:g} {sheet.unit}>"

    @property
    def name(self) -> str:
        """What it is called."""
        return self.work.design.name

    def with_(self, settings: Mapping[str, object]) -> LiveWork:
        """Return it with dials turned.

        Parameters
        ----------
        settings : mapping of str to value
            ``LAYER.RULE.NUMBER`` and what it is turned to: a number in the unit of the work, or text as on the command line, as
            ``"1.8 mm"``, ``"hexagons on flats"`` or ``"= 40 + 60 * u"``.

        Raises
        ------
        LatticeError
            When there is no such dial, or the value is not allowed; the sentence says what is.
        """
        design = self.work.design
        for name, value in settings.items():
            design = apply_setting(design, f"{name}={value}")
        return LiveWork(edited(self.work, design=in_step(design)))

    def facts(self) -> dict[str, Facts]:
        """Return what is measured of each layer, by its handle."""
        evaluator, design = Evaluator(), self.work.design
        results = evaluate(design, evaluator)
        return {chain.handle: measure(results[chain.id], evaluator, design.sheet) for chain in design.chains()}

    def render(self, path: str | Path, form: str = "", **options: object) -> Path:
        """Write it into a file and return its path.

        Parameters
        ----------
        path : str or Path
            Its ending says the format: svg, pdf, png, jpg, webp, tif, dxf, hpgl, stl, obj or 3mf.
        form : str, optional
            The key of a format that shares its ending with another: ``cutter`` or ``pen``.
        **options
            As they are listed in ``docs/formats.md``, such as ``width=1200`` or ``part="the cell"``.

        Raises
        ------
        LatticeError
        """
        path = Path(path)
        kind = BY_KEY.get(form) if form else BY_ENDING.get(path.suffix.lower())
        if kind is None:
            raise InputError(f"{path.name}: there is no such format; there is {', '.join(BY_KEY)}")
        chosen = kind()
        for name, value in options.items():
            if name not in chosen.dials():
                raise InputError(f"{kind.title} has no option {name}; it has {', '.join(chosen.dials())}")
            chosen = chosen.turned(name, value)
        chosen, job = job_of(self.work, chosen)
        write_atomically(path, chosen.write(job))
        return path

    def save(self, path: str | Path) -> Path:
        """Save it as a ``.lattice`` file and return its path.

        Raises
        ------
        LatticeError
        """
        write(self.work, Path(path))
        return Path(path)

    def deal(self, seed: int = 1, reach: float = 50.0, count: int = COUNT, colours: bool = False) -> list[LiveWork]:
        """Return random relatives, ordered near to far; the same seed deals the same.

        Parameters
        ----------
        seed : int
        reach : float
            How far numbers may roam, 0 to 100 per cent.
        count : int
            From 1 to 24.
        colours : bool
            Whether colours may move too.

        Raises
        ------
        LatticeError
        """
        if not 0 <= reach <= 100 or not 1 <= count <= 24:
            raise InputError("a deal takes a reach of 0 to 100 and a count of 1 to 24")
        terms = Terms(seed, reach / 100, colours=colours, count=count)
        return [LiveWork(Work(design=one.design)) for one in deal(self.work.design, terms, Looks())]

    def strip(self, across: str, down: str = "", width: int = 240) -> bytes:
        """Return a contact sheet, as PNG, of one or two dials stepped.

        Parameters
        ----------
        across, down : str
            ``LAYER.RULE.NUMBER=FROM..TO/STEPS``, as on the command line.
        width : int
            Of each picture, in px.

        Raises
        ------
        LatticeError
        """
        axes = [read_axis(self.work.design, axis, self.work.kept, PALETTES) if axis else None for axis in (across, down)]
        if axes[0] is None:
            raise InputError("a strip needs a number to be stepped across")
        return sheet_of(Strip(self.work.design, axes[0], axes[1]), width).write("png")

    def _repr_png_(self) -> bytes:
        """Show itself in a notebook."""
        chosen, job = job_of(self.work, Png(width=SHOWN_PX, recipe=False))
        return chosen.write(job)


def open_work(path: str | Path) -> LiveWork:
    """Return the work of a ``.lattice`` file, or the live work inside an SVG, PDF or PNG.

    Raises
    ------
    LatticeError
    """
    return LiveWork(open_any(Path(path)).work)


def demo(name: str) -> LiveWork:
    """Return a demo work by its name, such as ``entrance-floor``.

    Raises
    ------
    LatticeError
    """
    if name not in library.DEMOS:
        raise InputError(f"there is no demo “{name}”; there is {', '.join(library.DEMOS)}")
    return LiveWork(library.demo(name))
