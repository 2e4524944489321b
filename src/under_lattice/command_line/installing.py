"""Puts launcher, icon, file type and command into the person's own folders, and takes them out again (XDG Base Directory)."""

from __future__ import annotations

import os
import shlex
import shutil
import subprocess
import sys
from pathlib import Path

NAME = "org.under_lattice.Studio"
SHARE = Path(__file__).resolve().parents[3] / "share"
REFRESH = (
    ("update-desktop-database", "applications"),
    ("update-mime-database", "mime"),
    ("gtk-update-icon-cache", "icons/hicolor"),
)


def data_home() -> Path:
    """Return the folder of the person's own data."""
    return Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share")


def bin_home() -> Path:
    """Return the folder of the person's own commands."""
    return Path.home() / ".local" / "bin"


def places(share: Path = SHARE) -> dict[Path, Path]:
    """Return where each file of the desktop goes, by what it is made of."""
    home = data_home()
    return {
        share / f"{NAME}.desktop": home / "applications" / f"{NAME}.desktop",
        share / f"{NAME}.svg": home / "icons" / "hicolor" / "scalable" / "apps" / f"{NAME}.svg",
        share / f"{NAME}.mime.xml": home / "mime" / "packages" / f"{NAME}.xml",
        share / f"{NAME}.metainfo.xml": home / "metainfo" / f"{NAME}.metainfo.xml",
        share / "under-lattice.1": home / "man" / "man1" / "under-lattice.1",
    }


def install(program: Path) -> list[str]:
    """Put everything in place for a program; returns what was done, a line each.

    Raises
    ------
    OSError
    """
    done = []
    for source, target in places().items():
        text = source.read_text(encoding="utf-8")
        if source.suffix == ".desktop":
            text = text.replace("Exec=under-lattice %f", f"Exec={_quoted(program)} %f")
        target.parent.mkdir(parents=True, exist_ok=True)
        target.write_text(text, encoding="utf-8")
        done.append(f"put {target}")
    command = bin_home() / "under-lattice"
    command.parent.mkdir(parents=True, exist_ok=True)
    command.write_text(f'#!/bin/sh\nexec {shlex.quote(str(program))} "$@"\n', encoding="utf-8")
    command.chmod(0o755)
    done.append(f"put {command}")
    _refresh()
    _make_default()
    if str(bin_home()) not in os.environ.get("PATH", "").split(os.pathsep):
        done.append(f"{bin_home()} is not in your PATH yet; most desktops add it at the next log-in")
    return done


def uninstall() -> list[str]:
    """Take everything out that was put in place; works and the pattern book stay. Returns what was done, a line each."""
    done = []
    for target in (*places().values(), bin_home() / "under-lattice"):
        if target.is_file():
            target.unlink()
            done.append(f"removed {target}")
    _refresh()
    return done or ["nothing was installed"]


def _quoted(program: Path) -> str:
    """A path as the Exec key wants it."""
    text = str(program)
    return text if text.replace("/", "").replace("-", "").replace("_", "").replace(".", "").isalnum() else f'"{text}"'


def _refresh() -> None:
    """Let the desktop hear of it, with the tools that are there."""
    for tool, folder in REFRESH:
        where = data_home() / folder
        if shutil.which(tool) and where.is_dir():
            subprocess.run([tool, str(where)], check=False, capture_output=True, timeout=30)


def _make_default() -> None:
    """Open works with it at a double click."""
    if shutil.which("xdg-mime"):
        order = ["xdg-mime", "default", f"{NAME}.desktop", "application/x-under-lattice"]
        subprocess.run(order, check=False, capture_output=True, timeout=30)


def main(arguments: list[str]) -> int:
    """Install for the program that is given, or uninstall; returns the exit code."""
    try:
        lines = uninstall() if arguments == ["--uninstall"] else install(Path(arguments[0]).resolve())
    except (OSError, IndexError) as error:
        print(f"under-lattice: nothing was installed: {error}", file=sys.stderr)
        return 1
    print("\n".join(lines))
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
