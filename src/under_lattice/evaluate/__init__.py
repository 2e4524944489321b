"""From a frozen design to stages, marks and coats; what did not change is not done again."""
