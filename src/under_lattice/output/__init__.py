"""File writers: each takes a scene and options and returns bytes; none changes the scene."""
