"""What goes out of a work: the sheet, its smallest upright repeat, or a region, each as a page of its own."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from under_lattice.core.errors import InputError
from under_lattice.core.progress import QUIET, Progress
from under_lattice.declare.frozen import edited
from under_lattice.evaluate.beyond import goes_on
from under_lattice.evaluate.evaluator import Evaluator
from under_lattice.loop.moment import at_moment
from under_lattice.output.format import Format, Job
from under_lattice.periods.cell import aslant_scene, cell_scene, find_cell
from under_lattice.periods.cropped import cropped_scene
from under_lattice.scene.tree import Scene, brought, make_scene
from under_lattice.work.edits import replaced
from under_lattice.work.model import Design, Sheet, Work
from under_lattice.work.several import shown_alone


def job_of(
    work: Work, options: Format, progress: Progress = QUIET, evaluator: Evaluator | None = None, time: float = 0.0
) -> tuple[Format, Job]:
    """Return what is written of a work: the options as they come out, and the page they are for.

    Raises
    ------
    InputError
        When there is no cell, or no such layer.
    GivenUp
    """
    evaluator = evaluator or Evaluator()
    design = at_moment(_chosen(work.design, options.layer), time)
    if options.layer and "frames" in options.needs:
        work = edited(work, design=_chosen(work.design, options.layer))
    if options.part == "the cell":
        return _cell_page(design, options, work, progress, evaluator)
    scene = _drawn(design, options.room, progress, evaluator, time)
    if options.part == "the sheet":
        return options, Job(scene, design.sheet, work, progress)
    return options, Job(*_region_page(scene, design.sheet, options), work, progress)


def _chosen(design: Design, told: str) -> Design:
    """The design with one layer alone, told by its id or its name; all of it where none is told.

    Raises
    ------
    InputError
    """
    if not told:
        return design
    found = [one.id for one in design.all_layers() if one.id == told] or [one.id for one in design.all_layers() if one.name == told]
    if len(found) != 1:
        names = ", ".join(f"“{one.name}”" for one in design.all_layers())
        raise InputError(f"{'several layers are' if found else 'no layer is'} called “{told[:60]}”; there are {names}")
    for one in design.tree.around(found[0]):  # what is a source alone, or stands in one, is seen where it is asked for
        if one.source_only:
            design = replaced(design, one.id, lambda layer: edited(layer, source_only=False))
    return shown_alone(design, found[0])


def _drawn(design: Design, room: float, progress: Progress, evaluator: Evaluator, time: float) -> Scene:
    """The sheet, and where its patterns go on beyond it, what lies in some room about it."""
    sheet = design.sheet
    if room and goes_on(design.chains()):
        design = edited(design, sheet=edited(sheet, width=sheet.width + 2 * room, height=sheet.height + 2 * room))
    scene = make_scene(design, evaluator.design(design, progress, time), evaluator, progress=progress)
    return replace(scene, width=sheet.width, height=sheet.height)


def sheet_of(design: Design, options: Format, progress: Progress = QUIET) -> Sheet:
    """Return the size of the page that goes out, as a sheet.

    Raises
    ------
    InputError, GivenUp
    """
    design = _chosen(design, options.layer)
    if options.part == "a region":
        return _region_sheet(design.sheet, options)
    if options.part == "the sheet" or options.fills_sheet:
        return design.sheet
    box = find_cell(design, progress).box
    return edited(design.sheet, width=box.width, height=box.height)


def _cell_page(design: Design, options: Format, work: Work, progress: Progress, evaluator: Evaluator) -> tuple[Format, Job]:
    cell = find_cell(design, progress, evaluator)
    if options.fills_sheet and cell.aslant:
        scene = aslant_scene(cell)
        own = edited(design.sheet, width=scene.width, height=scene.height)
        return options, Job(cropped_scene(scene, options.room), own, work, progress, cell.basis)
    own = edited(design.sheet, width=cell.box.width, height=cell.box.height)
    width, height, options = options.proportions(own)
    scene, own = cell_scene(cell, width, height), edited(own, width=width, height=height)
    return options, Job(cropped_scene(scene, options.room), own, work, progress)


def _region_sheet(sheet: Sheet, options: Format) -> Sheet:
    return edited(sheet, width=options.region_width, height=options.region_height)


def _region_page(scene: Scene, sheet: Sheet, options: Format) -> tuple[Scene, Sheet]:
    """The part of a page in the region."""
    own = _region_sheet(sheet, options)
    middle = np.array([options.region_x + own.width / 2, options.region_y + own.height / 2])
    through = np.concatenate([np.eye(2), -middle[:, None]], 1)
    layers = tuple(brought(layer, through) for layer in scene.layers)
    return cropped_scene(replace(scene, width=own.width, height=own.height, layers=layers), options.room), own
