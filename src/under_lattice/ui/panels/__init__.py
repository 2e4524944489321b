"""The panels round the sheet and the first page."""
