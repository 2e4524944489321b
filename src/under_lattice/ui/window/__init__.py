"""The window that lays out all of it, its commands and what they do."""
