"""What finishes do to pixels, in numbers: lengths in the unit of the work, so that a work looks the same at any size."""

from __future__ import annotations

from under_lattice.colour.effects.base import WIDE, Box, Effect
from under_lattice.colour.effects.bent import Ripple, Smear, Streak, Twist
from under_lattice.colour.effects.dots import Cells, Grain, Halftone
from under_lattice.colour.effects.light import Blur, Contour, Relief, Shadow
from under_lattice.colour.effects.tones import Balance, FewTones, Tone, ToneCurve, ToneMap

__all__ = [
    "WIDE", "Balance", "Blur", "Box", "Cells", "Contour", "Effect", "FewTones", "Grain", "Halftone", "Relief", "Ripple", "Shadow",
    "Smear", "Streak", "Tone", "ToneCurve", "ToneMap", "Twist",
]  # fmt: skip
