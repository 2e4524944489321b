"""Under Lattice: geometric patterns from one simple shape, repeated by rules.

In a script or notebook: `open_work(path)` and `demo(name)` give a work that can be turned, measured, varied and written
(`under_lattice.notebook`).
"""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from under_lattice.notebook import LiveWork, demo, open_work

__version__ = "1.0.0"
__all__ = ["LiveWork", "demo", "open_work"]


def __getattr__(name: str) -> object:
    """Load what scripts use once it is asked for, so that the command starts without it."""
    if name in __all__:
        from under_lattice import notebook

        return getattr(notebook, name)
    raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
