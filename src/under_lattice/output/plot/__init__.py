"""Lines for pens: what is drawn once, in which order, and as files for plotters.

`once` leaves out what lies on others and joins the rest.
"""
