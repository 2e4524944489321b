"""The compiler: every kernel takes `njit` from here, so that the place of compiled ones is known before it is loaded."""

from __future__ import annotations

from under_lattice.core import kernel_cache  # noqa: F401 - says where; first

from llvmlite import ir  # isort: skip
from numba import njit, types  # isort: skip
from numba.extending import intrinsic  # isort: skip
from numba.np import linalg  # isort: skip

__all__ = ["intrinsic", "ir", "njit", "types"]


def _no_blas() -> None:
    raise ImportError("no kernel of ours calls BLAS")


# it would look for BLAS in SciPy and load half of that, for what no kernel of ours calls: 0.2 s of the start
linalg.ensure_blas = _no_blas
