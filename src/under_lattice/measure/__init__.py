"""What is measured of an evaluated work, and what needs attention."""
