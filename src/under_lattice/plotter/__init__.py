"""A pen plotter: the simulated one that ships with the program, in a process of its own, and the sender for it or a real one.

`Machine` is what it does, without a port; `python -m under_lattice.plotter` puts it behind a pseudo-terminal or a loopback socket;
`Sender` sends lines and knows which are drawn.
"""
