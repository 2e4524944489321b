"""The loop: what moves in a work, how motions are hung, and the work as it is at one moment."""
