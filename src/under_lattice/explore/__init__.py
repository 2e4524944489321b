"""Where a work could go: what in it can move, siblings of it, two works mixed, one number stepped across a strip.

Pure functions on frozen designs. `deal`, `mix` and `Strip` may be used from outside, with the addresses of what moves.
"""
