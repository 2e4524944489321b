"""Dials carried from their rows to a test strip."""

from __future__ import annotations

from PySide6.QtCore import QMimeData

from under_lattice.work.address import Address

FORM = "application/x-under-lattice-dial"


def carried(address: Address) -> QMimeData:
    """Return a dial as it is carried."""
    data = QMimeData()
    data.setData(FORM, "\n".join((address.layer, address.rule, address.dial, address.end)).encode())
    return data


def brought(data: QMimeData) -> Address | None:
    """Return the dial that is carried, if one is."""
    parts = bytes(data.data(FORM).data()).decode(errors="replace").split("\n") if data.hasFormat(FORM) else []
    return Address(*parts) if len(parts) == 4 else None
