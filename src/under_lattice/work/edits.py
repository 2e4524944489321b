"""Edits: each makes a new design that shares all that did not change, and validates what did."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from under_lattice.core.errors import InputError
from under_lattice.core.units import convert
from under_lattice.declare.dials import Length, Touches
from under_lattice.rules.base import MotifRule, Rule
from under_lattice.rules.copies.leave_out import LeaveOut
from under_lattice.rules.copies.touch_up import TouchUp
from under_lattice.rules.shared.anchor import Anchor
from under_lattice.rules.shared.touches import Touch
from under_lattice.vary.numbers import Varied
from under_lattice.work.model import Chain, Design, Group, Sheet, new_id, slug
from under_lattice.work.pictures import StoredPicture
from under_lattice.work.reading import AnyLayer, refuse_circle

Model = TypeVar("Model", bound=BaseModel)


def edited(model: Model, **changes: Any) -> Model:
    """Return `model` with fields changed and validated; unchanged parts stay the same objects.

    Raises
    ------
    InputError
        With the sentence of the field that refuses.
    """
    fields = {name: getattr(model, name) for name in type(model).model_fields}
    try:
        return type(model).model_validate(fields | changes)
    except ValidationError as error:
        raise InputError(first_sentence(error)) from None


def with_picture(design: Design, picture: StoredPicture) -> Design:
    """Return the design with a picture its rules may use; the same one is there once."""
    if any(one.id == picture.id for one in design.pictures):
        return design
    return edited(design, pictures=(*design.pictures, picture))


def first_sentence(error: ValidationError) -> str:
    """Return the first complaint of a validation error in words."""
    first = error.errors()[0]
    place = ", ".join(str(part) for part in first["loc"] if part not in ("constant", "varied", "chain"))
    message = str(first["msg"]).removeprefix("Value error, ")
    if first["type"] == "literal_error":
        allowed = str(first["ctx"]["expected"]).replace("' or '", "', '").replace("'", "")
        return f"“{str(first['input'])[:40]}” is not one of: {allowed}"
    return message if first["type"] == "value_error" else f"{place}: {message}"


def with_layer(design: Design, layer_id: str, change: Callable[[AnyLayer], AnyLayer]) -> Design:
    """Return the design with one layer of the tree changed."""

    def walk(layers: tuple[AnyLayer, ...]) -> tuple[AnyLayer, ...]:
        out = []
        for layer in layers:
            if layer.id == layer_id:
                out.append(change(layer))
            elif isinstance(layer, Group):
                members = walk(layer.layers)
                same = all(a is b for a, b in zip(members, layer.layers, strict=True))
                out.append(layer if same else edited(layer, layers=members))
            else:
                out.append(layer)
        return tuple(out)

    return edited(design, layers=walk(design.layers))


def with_chain(design: Design, layer_id: str, change: Callable[[Chain], Chain]) -> Design:
    """Return the design with one chain changed."""

    def only_chains(layer: AnyLayer) -> AnyLayer:
        if not isinstance(layer, Chain):
            raise InputError("this layer has no chain")
        if layer.locked:
            raise InputError(f"the layer {layer.name} is locked; unlock it first")
        return change(layer)

    return with_layer(design, layer_id, only_chains)


def with_rule(design: Design, layer_id: str, rule_id: str, change: Callable[[Rule], Rule]) -> Design:
    """Return the design with one rule changed; the end of a chain counts as a rule named ``layer``."""

    def in_chain(chain: Chain) -> Chain:
        if rule_id == chain.end.id or rule_id == "layer":
            return edited(chain, end=change(chain.end))
        return edited(chain, rules=tuple(change(rule) if rule.id == rule_id else rule for rule in chain.rules))

    return refuse_circle(with_chain(design, layer_id, in_chain), layer_id)


def set_dial(design: Design, layer_id: str, rule_id: str, name: str, value: Any) -> Design:
    """Return the design with one dial of a rule set; settings that hang together follow.

    Raises
    ------
    InputError
    """
    return with_rule(design, layer_id, rule_id, lambda rule: edited(rule, **rule.converted(name, value)))


def set_dials(design: Design, layer_id: str, rule_id: str, changes: dict[str, Any]) -> Design:
    """Return the design with several dials of a rule set at once.

    Raises
    ------
    InputError
    """
    return with_rule(design, layer_id, rule_id, lambda rule: edited(rule, **changes))


def add_rule(design: Design, layer_id: str, rule: Rule, after: str) -> Design:
    """Return the design with `rule` put after the rule `after`; gives it an id and a handle."""

    def put(chain: Chain) -> Chain:
        named = edited(rule, id=new_id(), handle=free_handle(rule.kind, (r.handle for r in chain.rules)))
        at = next((k for k, r in enumerate(chain.rules) if r.id == after), len(chain.rules) - 1)
        return edited(chain, rules=(*chain.rules[: at + 1], named, *chain.rules[at + 1 :]))

    return with_chain(design, layer_id, put)


def remove_rule(design: Design, layer_id: str, rule_id: str) -> Design:
    """Return the design without a rule; the motif stays."""

    def drop(chain: Chain) -> Chain:
        if chain.rules[0].id == rule_id:
            raise InputError("a chain keeps its motif")
        return edited(chain, rules=tuple(r for r in chain.rules if r.id != rule_id))

    return with_chain(design, layer_id, drop)


def move_rule(design: Design, layer_id: str, rule_id: str, to: int) -> Design:
    """Return the design with a rule moved to place `to` of the chain, counted without it; the motif stays first."""

    def move(chain: Chain) -> Chain:
        rule = next(r for r in chain.rules if r.id == rule_id)
        if isinstance(rule, MotifRule):
            raise InputError("the motif stays first")
        rest = [r for r in chain.rules if r.id != rule_id]
        at = min(max(1, to), len(rest))
        return edited(chain, rules=(*rest[:at], rule, *rest[at:]))

    return with_chain(design, layer_id, move)


def duplicate_rule(design: Design, layer_id: str, rule_id: str) -> Design:
    """Return the design with a rule put once more after itself."""
    rule = next(r for r in design.chain(layer_id).rules if r.id == rule_id)
    if isinstance(rule, MotifRule):
        raise InputError("a chain has one motif")
    return add_rule(design, layer_id, rule, rule_id)


def by_hand(chain: Chain, kind: type[TouchUp] | type[LeaveOut]) -> TouchUp | LeaveOut | None:
    """Return the rule that takes copies picked by hand at the end of a chain, after all its repeats, if there is one."""
    for rule in reversed(chain.rules):
        if isinstance(rule, kind) and rule.on and (isinstance(rule, TouchUp) or rule.which == "by hand"):
            return rule
        if rule.family == "repeat":
            break
    return None


def add_pick(design: Design, layer_id: str, kind: type[TouchUp] | type[LeaveOut], touch: Touch) -> Design:
    """Return the design with one more copy picked by hand, in a rule at the end of the chain that is made where it is missing.

    Raises
    ------
    InputError
    """
    chain = design.chain(layer_id)
    rule = by_hand(chain, kind)
    if rule is None:
        fresh = TouchUp() if kind is TouchUp else LeaveOut(which="by hand")
        design = add_rule(design, layer_id, fresh, chain.rules[-1].id)
        rule = by_hand(design.chain(layer_id), kind)
        assert rule is not None
    if any(one.at == touch.at for one in rule.picks):
        raise InputError("this copy is picked already")
    return set_dial(design, layer_id, rule.id, "picks", (*rule.picks, touch))


def exchange_motif(design: Design, layer_id: str, motif: MotifRule) -> Design:
    """Return the design with another motif at the head of a layer; id, handle and name stay, and with them all that refers to it.

    Raises
    ------
    InputError
    """
    old = design.chain(layer_id).rules[0]
    kept = edited(motif, id=old.id, handle=old.handle, name=old.name)
    return with_chain(design, layer_id, lambda chain: edited(chain, rules=(kept, *chain.rules[1:])))


def copy_rules(design: Design, layer_id: str, rule_ids: tuple[str, ...], to: str) -> Design:
    """Return the design with rules of one layer put at the end of another, their numbers naming each other as before.

    Raises
    ------
    InputError
    """
    rules = [r for r in design.chain(layer_id).rules if r.id in rule_ids and not isinstance(r, MotifRule)]
    ids = {rule.id: new_id() for rule in rules}

    def put(chain: Chain) -> Chain:
        handles, put_in = [one.handle for one in chain.rules], []
        for rule in rules:
            handles.append(free_handle(rule.handle, handles))
            put_in.append(edited(_renamed(rule, ids), handle=handles[-1]))
        return edited(chain, rules=(*chain.rules, *put_in))

    return with_chain(design, to, put)


def add_layer(design: Design, layer: Chain, at: int = 0) -> Design:
    """Return the design with a layer put at place `at`, front first; ids inside are made anew."""
    fresh = with_new_ids(layer)
    fresh = edited(fresh, handle=free_handle(slug(fresh.name), (one.handle for one in design.all_layers())))
    return edited(design, layers=(*design.layers[:at], fresh, *design.layers[at:]))


def remove_layer(design: Design, layer_id: str) -> Design:
    """Return the design without a layer; a group left empty goes with it."""

    def walk(layers: tuple[AnyLayer, ...]) -> tuple[AnyLayer, ...]:
        out = []
        for layer in layers:
            kept = edited(layer, layers=walk(layer.layers)) if isinstance(layer, Group) else layer
            if layer.id != layer_id and not (isinstance(kept, Group) and not kept.layers):
                out.append(kept)
        return tuple(out)

    return edited(design, layers=walk(design.layers))


def with_new_ids(chain: Chain) -> Chain:
    """Return a copy of a chain whose ids are new; what names them inside follows."""
    ids = {rule.id: new_id() for rule in (*chain.rules, chain.end)}
    rules = tuple(_renamed(rule, ids) for rule in chain.rules)
    return edited(chain, id=new_id(), rules=rules, end=_renamed(chain.end, ids))


def _renamed(rule: Rule, ids: dict[str, str]) -> Rule:
    changes: dict[str, Any] = {"id": ids.get(rule.id, rule.id)}
    for name, dial in rule.dials().items():
        value = getattr(rule, name)
        if isinstance(value, Varied):
            second = value.second and edited(value.second, rule=ids.get(value.second.rule, value.second.rule))
            changes[name] = edited(value, rule=ids.get(value.rule, value.rule), second=second)
        elif isinstance(value, str) and value in ids:
            changes[name] = ids[value]
        elif isinstance(dial, Touches):
            changes[name] = tuple(edited(one, at=tuple((ids.get(r, r), a, b) for r, a, b in one.at)) for one in value)
    return edited(rule, **changes)


def free_handle(wanted: str, taken: Iterable[str]) -> str:
    """Return a handle that is not taken yet: the wanted one, or with a number."""
    taken, k, handle = set(taken), 1, wanted
    while handle in taken:
        k += 1
        handle = f"{wanted}-{k}"
    return handle


def set_unit(design: Design, unit: str) -> Design:
    """Return the design in another unit of length; its real size stays."""
    sheet = design.sheet
    if unit == sheet.unit:
        return design
    factor = convert(1.0, sheet.unit, unit, sheet.resolution)
    changed = edited(
        sheet,
        unit=unit,
        width=sheet.width * factor,
        height=sheet.height * factor,
        grid=edited(sheet.grid, spacing=sheet.grid.spacing * factor, down=sheet.grid.down * factor),
    )
    lengths = frozenset(d.handle for d in design.dials if d.measure == "length")
    dials = tuple(edited(d, value=d.value * factor) if d.measure == "length" else d for d in design.dials)
    return edited(
        design, sheet=changed, layers=tuple(_scaled_layer(layer, factor, lengths) for layer in design.layers), dials=dials
    )


def _scaled_layer(layer: AnyLayer, factor: float, lengths: frozenset[str]) -> AnyLayer:
    if isinstance(layer, Group):
        return edited(layer, layers=tuple(_scaled_layer(one, factor, lengths) for one in layer.layers))
    return edited(layer, rules=tuple(_scaled(rule, factor, lengths) for rule in layer.rules))


def _scaled(rule: Rule, factor: float, lengths: frozenset[str]) -> Rule:
    changes: dict[str, Any] = {}
    for name, dial in rule.dials().items():
        value = getattr(rule, name)
        if isinstance(value, Anchor):
            changes[name] = edited(value, dx=value.dx * factor, dy=value.dy * factor)
        elif isinstance(value, Varied):
            changes[name] = _scaled_varied(value, factor, isinstance(dial, Length), lengths)
        elif isinstance(dial, Length):
            changes[name] = value * factor
        elif (other := dial.in_unit(value, factor)) != value:
            changes[name] = other
    return edited(rule, **changes) if changes else rule


def _scaled_varied(value: Varied, factor: float, is_length: bool, lengths: frozenset[str]) -> Varied:
    """A number that varies, in another unit; a formula is wrapped so that what it reads and gives keeps its real length."""
    size = factor if is_length else 1.0
    changes: dict[str, Any] = {"start": value.start * size, "end": value.end * size, "taken": tuple(v * size for v in value.taken)}
    if value.midway is not None:
        changes["midway"] = (value.midway[0] * size, value.midway[1] * size)
    if value.formula:
        names = "|".join(["x", "y", "r", *sorted(lengths)])
        inner = re.sub(rf"\b({names})\b", rf"(\1 / {factor:.9g})", value.formula)
        changes["named"] = tuple((name, v * factor if name in lengths else v) for name, v in value.named)
        changes["formula"] = f"({inner}) * {factor:.9g}" if is_length else inner
    return edited(value, **changes)


def set_sheet(design: Design, **changes: Any) -> Design:
    """Return the design on a changed sheet; a change of unit keeps the real size."""
    unit = changes.pop("unit", design.sheet.unit)
    design = set_unit(design, unit)
    return edited(design, sheet=edited(design.sheet, **changes)) if changes else design


def presets() -> dict[str, Sheet]:
    """Return sheets of common sizes by name."""
    return {
        "Floor bay, 324 × 322 mm": Sheet(),  # noqa: RUF001
        "A4 upright": Sheet(width=210, height=297),
        "A4 lying": Sheet(width=297, height=210),
        "A3 upright": Sheet(width=297, height=420),
        "Square, 200 mm": Sheet(width=200, height=200),
        "Letter upright": Sheet(width=8.5, height=11, unit="in"),
        "Cloth repeat, 64 cm": Sheet(width=64, height=64, unit="cm"),
        "Screen, 1920 × 1080 px": Sheet(width=1920, height=1080, unit="px"),  # noqa: RUF001
        "Square, 1080 px": Sheet(width=1080, height=1080, unit="px"),
    }
