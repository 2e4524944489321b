"""Works of the Tern Harbour Bathhouse, an invented seaside bathhouse being refitted, and blank starts by family."""

from under_lattice.library.bathhouse import DEMOS, demo
from under_lattice.library.blank import EMPTY, SINGLE, STARTS, WORDS, blank, start_layer, start_veil

__all__ = ["DEMOS", "EMPTY", "SINGLE", "STARTS", "WORDS", "blank", "demo", "start_layer", "start_veil"]
