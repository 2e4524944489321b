"""Works opened lately, in the state folder of the person; the chosen theme, and whether the tray is shown."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import platformdirs

from under_lattice.core.errors import FileError
from under_lattice.files.saving import write_atomically

MOST = 8


def state_file() -> Path:
    """Return where the state is kept."""
    return Path(platformdirs.user_state_dir("under-lattice")) / "window.json"


def _read() -> dict[str, Any]:
    try:
        data = json.loads(state_file().read_text(encoding="utf-8"))
    except (OSError, ValueError):
        return {}
    return data if isinstance(data, dict) else {}


def _write(**changes: Any) -> None:
    try:
        state_file().parent.mkdir(parents=True, exist_ok=True)
        write_atomically(state_file(), json.dumps(_read() | changes, indent=1).encode())
    except (OSError, FileError):
        return  # a list of recent works is not worth a message


def recent_works() -> list[Path]:
    """Return the works opened lately that are still there, newest first."""
    listed = _read().get("recent", [])
    return [Path(one) for one in listed if isinstance(one, str) and Path(one).is_file()] if isinstance(listed, list) else []


def remember(path: Path) -> None:
    """Put a work at the head of the list."""
    path = path.resolve()
    _write(recent=[str(path), *(str(one) for one in recent_works() if one != path)][:MOST])


def tray_shown() -> bool:
    """Return whether the tray is shown; it is until it was put away."""
    return _read().get("tray") is not False


def remember_tray(shown: bool) -> None:
    """Keep whether the tray is shown."""
    _write(tray=shown)


def geometry() -> str:
    """Return where the window stood last, as it was kept, or nothing."""
    kept = _read().get("window")
    return kept if isinstance(kept, str) and len(kept) < 4000 else ""


def remember_geometry(kept: str) -> None:
    """Keep where the window stands."""
    _write(window=kept)


def theme() -> str:
    """Return the chosen theme: light, dark or desktop."""
    wish = _read().get("theme")
    return wish if wish in ("light", "dark") else "desktop"


def remember_theme(wish: str) -> None:
    """Keep the chosen theme."""
    _write(theme=wish)
