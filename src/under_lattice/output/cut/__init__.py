"""Closed outlines for cutters: what is seen of each shape, brought beside the cut, in an order, with what is wrong with them.

`gathered` takes the shapes of a scene, `contours` makes paths of them, `faults` looks at these, `Cutter` and `Dxf` write them.
"""

from under_lattice.output.cut.cutter import Cutter, Dxf

__all__ = ["Cutter", "Dxf"]
