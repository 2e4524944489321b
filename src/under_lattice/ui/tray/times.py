"""The time a version was kept at, in words."""

from __future__ import annotations

from datetime import datetime


def said(at: str) -> str:
    """Return a time as it is shown: the hour if it is today, else the day."""
    try:
        then = datetime.fromisoformat(at)
    except ValueError:
        return ""
    return f"{then:%H:%M}" if then.date() == datetime.now().date() else f"{then:%Y-%m-%d}"
