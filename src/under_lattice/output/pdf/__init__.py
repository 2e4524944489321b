"""PDF: outlines, ramps, opacity, blends, masks as PDF has them; the objects of the file are kept by a library (pikepdf).

`Pdf` is the format. Streams are drawn in the unit of the work, y down, about the middle of the page; one map brings them to points.
"""

from under_lattice.output.pdf.pdf import Pdf

__all__ = ["Pdf"]
