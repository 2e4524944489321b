"""The tree of painted layers that painters, writers and pickers read."""
