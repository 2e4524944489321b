"""Remakes what the pages of docs/ take from the declarations: the schema of the file and the reference of the rules."""

import json
import runpy
from pathlib import Path

from under_lattice.command_line.main import described
from under_lattice.command_line.options import flags
from under_lattice.files.schema import schema
from under_lattice.output import FORMATS
from under_lattice.rules import KINDS

DOCS = Path(__file__).parent.parent / "docs"


def reference() -> str:
    """Return the reference page of all rules."""
    lines = ["# Rules", "", "Made from the declarations by `tools/remake_docs.py`. Lengths are in the unit of the work.", ""]
    for rule in described():
        lines += [
            f"## {rule['title']} (`{rule['kind']}`)",
            "",
            rule["words"] + (f" Works in {KINDS[rule['kind']].works_in}." if KINDS[rule["kind"]].works_in else ""),
            "",
            "| number | what it is | allowed | at first |",
            "|---|---|---|---|",
        ]
        for dial in rule["dials"]:
            default = dial["default"]
            shown = (
                default["spot"]
                if isinstance(default, dict)
                else ", ".join(default)
                if isinstance(default, (list, tuple))
                else default
            )
            lines.append(f"| {dial['label']} (`{dial['name']}`) | {dial['words']} | {dial['allowed']} | {shown} |")
        lines.append("")
    return "\n".join(lines)


def formats() -> str:
    """Return the reference page of all formats of files."""
    lines = ["# Formats", "", "Made from the declarations by `tools/remake_docs.py`.", ""]
    for kind in FORMATS:
        lines += [
            f"## {kind.title} (`.{kind.ending}`)",
            "",
            f"{kind.words.capitalize()}. Needs: {', '.join(sorted(kind.needs))}.",
            "",
        ]
        lines += ["| option | what it is | at first | of `render` |", "|---|---|---|---|"]
        for flag, (_, dial, default) in flags((kind,)).items():  # its own words, where others have an option of that name
            said = {True: "yes", False: "no"}.get(default, default) if isinstance(default, bool) else default
            lines.append(f"| {dial.label} | {dial.words} | {said} | `{flag}` |")
        lines.append("")
    return "\n".join(lines)


def schema_text() -> str:
    """Return the schema as text."""
    return json.dumps(schema(), indent=1, sort_keys=True, ensure_ascii=False) + "\n"


def man_page() -> str:
    """Return the man page of the command."""
    return str(runpy.run_path(str(Path(__file__).parent / "man_page.py"))["man_page"]())


if __name__ == "__main__":
    (DOCS.parent / "share" / "under-lattice.1").write_text(man_page(), encoding="utf-8")
    (DOCS / "rules.md").write_text(reference(), encoding="utf-8")
    (DOCS / "formats.md").write_text(formats(), encoding="utf-8")
    (DOCS / "lattice.schema.json").write_text(schema_text(), encoding="utf-8")
