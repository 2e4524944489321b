"""The test strip: its axes, its pictures on threads, and the one that is picked."""
