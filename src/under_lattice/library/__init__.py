"""Works of the Tern Harbour Bathhouse, an invented seaside bathhouse being refitted, and blank starts by family."""

from under_lattice.library.bathhouse import DEMOS, demo
from under_lattice.library.blank import EMPTY, SINGLE, STARTS, blank, start_layer

__all__ = ["DEMOS", "EMPTY", "SINGLE", "STARTS", "blank", "demo", "start_layer"]
