"""The orders of ``under-lattice``, such as ``render`` and ``facts``; none needs a display."""

from __future__ import annotations

import argparse
import json
from collections.abc import Sequence
from dataclasses import asdict, replace
from typing import Any

import under_lattice
from under_lattice.command_line.exploring import add_siblings, add_strip, write_siblings, write_strip
from under_lattice.command_line.filming import add_film, film
from under_lattice.command_line.plotting import add_plot, plot
from under_lattice.command_line.rendering import add_render, load, render
from under_lattice.command_line.saying import Orders, say, warn
from under_lattice.core.errors import LatticeError
from under_lattice.core.units import short
from under_lattice.declare.dials import Choice, NumberDial
from under_lattice.evaluate.evaluator import Evaluator, evaluate
from under_lattice.evaluate.result import ChainResult
from under_lattice.measure.facts import Facts, measure
from under_lattice.render.coverage import coverage
from under_lattice.rules import RULES
from under_lattice.rules.base import Rule
from under_lattice.rules.findings import Warn
from under_lattice.work.model import Sheet

DONE, REFUSED, MISUSED = 0, 1, 2


def parser() -> argparse.ArgumentParser:
    """Return the grammar of the command."""
    top = Orders(prog="under-lattice", description="Geometric patterns from one simple shape, repeated by rules.")
    top.add_argument("--version", action="version", version=under_lattice.__version__)
    orders = top.add_subparsers(dest="order", required=True)
    write = orders.add_parser("render", help="write works into files: outlines, pictures, pages, cuts, plots, bodies")
    add_render(write)
    add_film(orders.add_parser("film", help="write the loop of a work as a film, an animation or single pictures"))
    add_plot(orders.add_parser("plot", help="draw a work with a pen plotter, or with the simulated one"))
    facts = orders.add_parser("facts", help="say what is measured of a work")
    facts.add_argument("file", help="a work, or demo:NAME")
    facts.add_argument("--set", action="append", default=[], metavar="LAYER.RULE.NUMBER=VALUE", help="turn a number first")
    facts.add_argument("--json", action="store_true", help="as JSON")
    add_siblings(orders.add_parser("siblings", help="write random relatives of a work into a folder"))
    add_strip(orders.add_parser("strip", help="step one or two numbers or choices across a contact sheet"))
    rules = orders.add_parser("rules", help="list every rule and its numbers")
    rules.add_argument("--json", action="store_true", help="as JSON")
    return top


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the command and return its exit code: 0 done, 1 refused with a message, 2 called wrongly."""
    options = parser().parse_args(arguments)
    try:
        match options.order:
            case "render":
                return render(options)
            case "film":
                film(options)
            case "plot":
                plot(options)
            case "facts":
                _facts(options)
            case "siblings":
                write_siblings(options, load(options.file, options.set))
            case "strip":
                write_strip(options, load(options.file, options.set))
            case _:
                _rules(options.json)
    except LatticeError as error:
        warn(str(error))
        return REFUSED
    except BrokenPipeError:
        return REFUSED
    except KeyboardInterrupt:
        warn("stopped")
        return REFUSED
    return DONE


def _facts(options: Any) -> None:
    work = load(options.file, options.set)
    evaluator = Evaluator()
    results = evaluate(work.design, evaluator)
    sheet = work.design.sheet
    found = {chain.handle: _measured(results[chain.id], evaluator, sheet) for chain in work.design.chains()}
    if options.json:
        data = {
            "name": work.design.name,
            "sheet": sheet.model_dump(mode="json"),
            "layers": {k: _plain(f) for k, f in found.items()},
        }
        say(json.dumps(data, indent=1, sort_keys=True, ensure_ascii=False))
        return
    say(f"{work.design.name}, {short(sheet.width)} × {short(sheet.height)} {sheet.unit}")  # noqa: RUF001
    for handle, facts in found.items():
        say(f"{handle}: {facts.copies} in all, {facts.distinct} distinct shapes, {facts.gap_words or 'no neighbours'}")
        if facts.gap_inked is not None:
            say(f"  between strokes {facts.gap_inked:.3f} {sheet.unit}")
        if facts.pitch is not None:
            say(f"  pitch {facts.pitch:.6f} {sheet.unit}")
        for words, box in (("bounds", facts.bounds), ("bounds with strokes", facts.inked)):
            if box:
                say(f"  {words} " + " ".join(f"{v:.3f}" for v in box))
        if facts.coverage is not None:
            say(f"  covers {facts.coverage:.1f} % of the sheet")
        if facts.cell:
            say("  cell " + ", ".join(f"{k} {v:.6g}" if isinstance(v, float) else f"{k} {v}" for k, v in facts.cell.items()))
        for warning in facts.warnings:
            say(f"  attention: {warning.sentence}" + (f" ({warning.cure.words})" if warning.cure else ""))


def _measured(result: ChainResult, evaluator: Evaluator, sheet: Sheet) -> Facts:
    """The facts of a layer, with how much of the sheet it covers."""
    facts, picture = measure(result, evaluator, sheet), evaluator.picture(result)
    return facts if picture is None else replace(facts, coverage=coverage(picture, sheet.width, sheet.height))


def _plain(facts: Facts) -> dict[str, Any]:
    data = asdict(replace(facts, of=None, walks={}))
    del data["of"], data["derived"], data["values"], data["walks"]
    data["steps"] = {rule: walk.steps for rule, walk in facts.walks.items()}
    data["warnings"] = [_plain_warning(warn) for warn in facts.warnings]
    return data


def _plain_warning(warn: Warn) -> dict[str, Any]:
    """A warning as plain data; a cure that is a rule is that rule as it stands in a file."""
    cure = warn.cure
    value = cure.value.model_dump(mode="json") if cure is not None and isinstance(cure.value, Rule) else cure and cure.value
    said = {"rule": cure.rule, "dial": cure.dial, "value": value, "words": cure.words} if cure is not None else None
    return {"sentence": warn.sentence, "rule": warn.rule, "cure": said, "rings": [ring.tolist() for ring in warn.rings]}


def described() -> list[dict[str, Any]]:
    """Return every rule with its numbers, units, ranges and words, from the declarations."""
    out = []
    for rule in RULES:
        dials = []
        for name, dial in rule.dials().items():
            entry: dict[str, Any] = {"name": name, "kind": dial.kind, "label": dial.label, "words": dial.words}
            default = rule.model_fields[name].default
            entry["default"] = default.model_dump(mode="json") if hasattr(default, "model_dump") else default
            if isinstance(dial, NumberDial):
                entry |= {"least": dial.least, "most": dial.most, "step": dial.step, "may_vary": dial.vary}
                entry["unit"] = dial.unit or ("unit of the work" if dial.kind == "length" else "")
            if isinstance(dial, Choice):
                entry["options"] = list(dial.options)
            dials.append(entry | {"allowed": _allowed(entry)})
        out.append(
            {
                "kind": rule.model_fields["kind"].default,
                "title": rule.title,
                "family": rule.family,
                "words": rule.words,
                "dials": dials,
            }
        )
    return out


def _allowed(dial: dict[str, Any]) -> str:
    if "least" in dial:
        return f"{short(dial['least'])} to {short(dial['most'])} {dial['unit']}".strip() + (
            ", may vary" if dial["may_vary"] else ""
        )
    return ", ".join(dial.get("options", [])) or str(dial["kind"])


def _rules(as_json: bool) -> None:
    rules = described()
    if as_json:
        say(json.dumps(rules, indent=1, ensure_ascii=False))
        return
    for rule in rules:
        say(f"{rule['kind']}: {rule['words']}")
        for dial in rule["dials"]:
            say(f"  {dial['name']:15} {dial['words']} ({dial['allowed']})")
