"""Dialogs and choosers."""
