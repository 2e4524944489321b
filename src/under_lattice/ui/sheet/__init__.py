"""The sheet: the picture with its surround, and the handles of the open rule."""
