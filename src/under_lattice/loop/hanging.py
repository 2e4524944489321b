"""Edits of what moves: values hung at times, moved along the string, copied, stretched, taken off; and who moves by them."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

from under_lattice.core.errors import InputError
from under_lattice.declare.dials import Angle, Count, Dial, NumberDial, Ratio, Seed
from under_lattice.declare.frozen import edited
from under_lattice.loop.moment import found_at, is_number, motion_at, stored, value_at
from under_lattice.vary.motion import BEADS_MOST, NEAR, Bead, Lag, Motion, Place
from under_lattice.vary.numbers import Varied
from under_lattice.work.edits import replaced
from under_lattice.work.model import MOTIONS_MOST, Design, new_id
from under_lattice.work.named import set_named

TURN = 360.0


@dataclass(frozen=True)
class Moved:
    """What a place is: its dial, and what it is called with its layer and rule."""

    dial: Dial | None
    words: str


def told(design: Design, place: Place) -> Moved:
    """Return what a place is; of one that is gone it says so."""
    if not place.layer:
        one = next((one for one in design.dials if one.id == place.dial), None)
        return Moved(None, one.name if one is not None else "a named dial that is gone")
    found = found_at(design, place)
    if found is None:
        return Moved(None, "what it moved is gone")
    layer, (rule, dial) = design.tree.by_id[place.layer], found
    end = {"start": ", its start", "end": ", its end"}.get(place.end, "")
    return Moved(dial, f"{layer.name}: {rule.shown_name()}, {dial.label.lower()}{end}")


def as_one_with(design: Design, place: Place) -> tuple[Place, ...]:
    """Return the places that move with this one: of dials that usually equal its own, as height does width, and do so now."""
    found = found_at(design, place)
    if found is None:
        return ()
    rule, own = found[0], getattr(found[0], place.dial)
    names = [name for name, dial in rule.dials().items() if isinstance(dial, NumberDial) and dial.beside == place.dial]
    return tuple(edited(place, dial=name) for name in names if getattr(rule, name) == own)


def title_of(design: Design, motion: Motion) -> str:
    """Return what a motion moves: its first place, and how many more; two that are turned as one have one name."""
    first, *more = motion.places
    moved = told(design, first)
    for place in more:
        dial = told(design, place).dial
        if edited(place, dial=first.dial) == first and isinstance(dial, NumberDial) and dial.beside == first.dial and moved.dial:
            words = moved.words.replace(f", {moved.dial.label.lower()}", f", {dial.both.lower()}")
            moved, more = Moved(moved.dial, words), [one for one in more if one is not place]
    return moved.words + (f" and {len(more)} more" if more else "")


def refuse_to_move(design: Design, place: Place) -> None:
    """Refuse what cannot move as a whole, or no more than there is room for.

    Raises
    ------
    InputError
    """
    value = stored(design, place)
    if value is None:
        raise InputError("this dial is gone")
    if isinstance(value, Varied):
        raise InputError("this number varies; move its start or its end")
    if len(design.motions) >= MOTIONS_MOST and motion_at(design, place) is None:
        raise InputError(f"a work has at most {MOTIONS_MOST} motions")


def hang(design: Design, place: Place, time: float, value: Any) -> Design:
    """Return the design with a value hung at a time of the loop; what did not move moves from now on.

    Raises
    ------
    InputError
    """
    refuse_to_move(design, place)
    motion = motion_at(design, place)
    if motion is None:
        motion = Motion(id=new_id(), places=(place,), beads=(Bead(time=0.0, value=stored(design, place)),))
        design = edited(design, motions=(*design.motions, motion))
    value = _as_first(design, motion, place, value)
    if motion.course != "hung":
        k = 0 if float(motion.share(motion.within(time, design.loop.closed)[1])) < 0.5 else len(motion.beads) - 1
        return set_bead(design, motion.id, k, value=value)
    at = next((k for k, bead in enumerate(motion.beads) if abs(bead.time - time) < NEAR), None)
    if at is not None:
        return set_bead(design, motion.id, at, value=value)
    if len(motion.beads) >= BEADS_MOST:
        raise InputError(f"at most {BEADS_MOST} values hang on one string")
    before = next((bead for bead in reversed(motion.beads) if bead.time < time), motion.beads[-1])
    bead = Bead(time=time, value=value, way=before.way, points=before.points)
    return with_motion(design, motion.id, lambda one: edited(one, beads=(*one.beads, bead)))


def _as_first(design: Design, motion: Motion, place: Place, value: Any) -> Any:
    """A value of any place of a motion as its first place would have it."""
    first = motion.places[0]
    if place == first or not is_number(value):
        return value
    return value - (stored(design, place) - (stored(design, first) or 0.0))


def with_motion(design: Design, motion: str, change: Callable[[Motion], Motion]) -> Design:
    """Return the design with one motion changed; what it moves stands where it is at the beginning of the loop.

    Raises
    ------
    InputError
    """
    old = motion_of(design, motion)
    new = change(old)
    design = edited(design, motions=tuple(new if one.id == motion else one for one in design.motions))
    return _at_rest(design, old, new)


def motion_of(design: Design, motion: str) -> Motion:
    """Return a motion by its id.

    Raises
    ------
    InputError
    """
    found = next((one for one in design.motions if one.id == motion), None)
    if found is None:
        raise InputError("this motion is gone")
    return found


def _at_rest(design: Design, old: Motion, new: Motion) -> Design:
    """The design with all that a motion moves where it is at the beginning of the loop."""
    closed = design.loop.closed
    for place in new.places:
        own = stored(design, place)
        if is_number(own) and all(is_number(bead.value) for bead in (*old.beads, *new.beads)):
            by = float(new.numbers(0.0, closed) - old.numbers(0.0, closed))
            wanted: Any = own + by
        else:
            wanted = value_at(design, new, place, 0.0)
        if wanted is not None and wanted != own:
            design = put_at(design, place, wanted)
    return design


def put_at(design: Design, place: Place, value: Any) -> Design:
    """Return the design with a value at a place, whatever is locked."""
    if not place.layer:
        return set_named(design, place.dial, value)
    found = found_at(design, place)
    if found is None:
        return design
    rule, dial = found
    if isinstance(dial, NumberDial):
        value = dial.held(value)
        value = round(value) if isinstance(dial, (Count, Seed)) else value
    if place.end:
        changes = {place.dial: edited(getattr(rule, place.dial), **{place.end: value})}
    else:
        changes = rule.converted(place.dial, value)
    return replaced(design, place.layer, lambda layer: layer.with_rule(place.rule, lambda own: edited(own, **changes)))


def set_bead(design: Design, motion: str, at: int, **changes: Any) -> Design:
    """Return the design with one bead changed: its `time`, its `value`, its `way` on or the `points` of that.

    Raises
    ------
    InputError
        When another hangs at that time, or the value is not allowed there.
    """
    own = motion_of(design, motion)
    bead = edited(own.beads[at], **changes)
    if "value" in changes:
        _refuse_value(design, own, bead.value)
    beads = tuple(bead if k == at else one for k, one in enumerate(own.beads))
    return with_motion(design, motion, lambda one: edited(one, beads=beads))


def _refuse_value(design: Design, motion: Motion, value: Any) -> None:
    """Refuse a value that its dial does not take."""
    found = found_at(design, motion.places[0])
    if found is not None and is_number(value) and isinstance(found[1], NumberDial):
        found[1].check(value)


def drop_beads(design: Design, motion: str, which: Iterable[int]) -> Design:
    """Return the design without some beads of a motion; with the last of them it ends, and its dials stay where they are.

    Raises
    ------
    InputError
    """
    gone = set(which)
    own = motion_of(design, motion)
    left = tuple(bead for k, bead in enumerate(own.beads) if k not in gone)
    if not left:
        return remove_motion(design, motion)
    return with_motion(design, motion, lambda one: edited(one, beads=left))


def stretch(design: Design, motion: str, which: Iterable[int], by: float, shift: float = 0.0) -> Design:
    """Return the design with beads so many times as far from the first of them, and all later by `shift` (of the loop).

    Raises
    ------
    InputError
        When one would hang beyond the string, or at the time of another.
    """
    own, chosen = motion_of(design, motion), sorted(set(which))
    first = own.beads[chosen[0]].time if chosen else 0.0
    times = {k: first + (own.beads[k].time - first) * by + shift for k in chosen}
    if any(not -NEAR <= time <= 1.0 + NEAR for time in times.values()):
        raise InputError("a value would hang beyond the string")
    beads = tuple(edited(bead, time=min(max(times[k], 0.0), 1.0)) if k in times else bead for k, bead in enumerate(own.beads))
    return with_motion(design, motion, lambda one: edited(one, beads=beads))


def copy_beads(design: Design, motion: str, which: Iterable[int], shift: float) -> Design:
    """Return the design with beads hung once more, later by `shift` (of the loop).

    Raises
    ------
    InputError
    """
    own = motion_of(design, motion)
    made = [own.beads[k] for k in sorted(set(which))]
    if any(not 0.0 <= bead.time + shift <= 1.0 for bead in made):
        raise InputError("a value would hang beyond the string")
    later = tuple(edited(bead, time=bead.time + shift) for bead in made)
    taken = [bead for bead in own.beads if all(abs(bead.time - one.time) >= NEAR for one in later)]
    return with_motion(design, motion, lambda one: edited(one, beads=(*taken, *later)))


def begin_motion(design: Design, place: Place, course: str, along: Iterable[Place] = ()) -> Design:
    """Return the design with a place that moves: a first value hung at the beginning, and for a course a second for it to go to.

    Places ``along`` that stand still till then move with it.

    Raises
    ------
    InputError
        When it varies as a whole, or nothing lies between two of its values.
    """
    refuse_to_move(design, place)
    if motion_at(design, place) is not None:
        raise InputError("this moves already")
    own, dial = stored(design, place), told(design, place).dial
    beads = [Bead(time=0.0, value=own)]
    if course == "whole turn":
        if not is_number(own):
            raise InputError("only a number can go round")
        beads.append(Bead(time=1.0, value=own + TURN))
    elif course != "hung":
        if not is_number(own):
            raise InputError("only a number follows a course; hang values of this one at times")
        beads.append(Bead(time=0.5, value=other_end(dial, float(own))))
    way = "hung" if course == "whole turn" else course
    motion = Motion.model_validate({"id": new_id(), "places": (place,), "beads": beads, "course": way})
    design = edited(design, motions=(*design.motions, motion))
    return link(design, motion.id, *(other for other in along if motion_at(design, other) is None))


def other_end(dial: Dial | None, own: float) -> float:
    """Return a good second value for a number that begins to move, in its unit."""
    if isinstance(dial, Angle):
        wanted = own + 90.0
    elif isinstance(dial, Ratio) and dial.bounded:
        wanted = own / 2 if own > 50 else own + 50
    elif isinstance(dial, Count):
        wanted = own + max(1, round(own / 2))
    else:
        wanted = own * 1.5 if own else 10.0
    return dial.held(wanted) if isinstance(dial, NumberDial) else wanted


def remove_motion(design: Design, motion: str, time: float = 0.0) -> Design:
    """Return the design without a motion; what it moved stays as it is at a time of the loop.

    Raises
    ------
    InputError
    """
    own = motion_of(design, motion)
    values = [(place, value_at(design, own, place, time)) for place in own.places]
    design = edited(design, motions=tuple(one for one in design.motions if one.id != motion))
    for place, value in values:
        if value is not None and value != stored(design, place):
            design = put_at(design, place, value)
    return design


def link(design: Design, motion: str, *places: Place) -> Design:
    """Return the design with more places that move by a motion, as far from where each stands as the first does.

    Raises
    ------
    InputError
        When one moves already, or is another kind of dial.
    """
    for place in places:
        refuse_to_move(design, place)
        if motion_at(design, place) is not None:
            raise InputError("this moves already; take it off its own string first")
        first = stored(design, motion_of(design, motion).places[0])
        if is_number(first) != is_number(stored(design, place)):
            raise InputError("a number moves by that of another, a colour by that of a colour")
        new = [edited(one, places=(*one.places, place)) if one.id == motion else one for one in design.motions]
        design = edited(design, motions=tuple(new))
    return design


def unlink(design: Design, place: Place) -> Design:
    """Return the design with a place that moves no more; the motion of the others stays."""
    motion = motion_at(design, place)
    if motion is None:
        return design
    rest = tuple(one for one in motion.places if one != place)
    if not rest:
        return remove_motion(design, motion.id)
    new = edited(motion, places=rest)
    shift = difference(stored(design, rest[0]), motion.numbers(0.0, design.loop.closed) if numeric(motion) else None)
    if place == motion.places[0] and shift:
        new = shifted(new, shift)
    return edited(design, motions=tuple(new if one is motion else one for one in design.motions))


def set_lag(design: Design, motion: str, lag: Lag | None) -> Design:
    """Return the design with copies that are behind by a lag, or that all move at one time.

    Raises
    ------
    InputError
        When what moves cannot differ from copy to copy.
    """
    own = motion_of(design, motion)
    if lag is not None:
        for place in own.places:
            found = found_at(design, place)
            if place.end or found is None or not isinstance(found[1], NumberDial) or not found[1].vary:
                raise InputError(f"{told(design, place).words} is one for all copies; a wave needs a number that can vary")
    return with_motion(design, motion, lambda one: edited(one, lag=lag))


def numeric(motion: Motion) -> bool:
    """Tell whether a motion moves a number."""
    return all(is_number(bead.value) for bead in motion.beads)


def difference(own: Any, first: Any) -> float:
    """Return how far a dial has been turned from where its motion begins, in its unit; rounding is none."""
    if first is None or not is_number(own):
        return 0.0
    by = float(own) - float(first)
    return 0.0 if abs(by) <= 1e-9 * max(1.0, abs(float(own))) else by


def shifted(motion: Motion, by: float) -> Motion:
    """Return a motion of which all values are larger by so much, in their unit."""
    return edited(motion, beads=tuple(edited(bead, value=float(bead.value) + by) for bead in motion.beads))
