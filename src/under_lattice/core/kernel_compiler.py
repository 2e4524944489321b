"""The compiler: every kernel takes `njit` from here, so that the place of compiled ones is known before it is loaded."""

from __future__ import annotations

from under_lattice.core import kernel_cache  # noqa: F401 - says where; first

from collections.abc import Callable  # isort: skip
from typing import Any, TypeVar  # isort: skip

from llvmlite import ir  # isort: skip
from numba import njit as _njit, types  # isort: skip
from numba.extending import intrinsic as _intrinsic, models, register_model  # isort: skip
from numba.np import linalg  # isort: skip

__all__ = ["intrinsic", "ir", "models", "njit", "register_model", "types"]

Kernel = TypeVar("Kernel", bound=Callable[..., Any])


def njit(**options: Any) -> Callable[[Kernel], Kernel]:
    """Return what compiles a kernel; divisions by zero give what arrays give and are not asked about each time."""
    compiled: Callable[[Kernel], Kernel] = _njit(error_model="numpy", **options)
    return compiled


def intrinsic(make: Callable[..., Any]) -> Any:
    """Return what kernels call as a function, made of instructions of the compiler by what `make` returns."""
    return _intrinsic(make)


def _no_blas() -> None:
    raise ImportError("no kernel of ours calls BLAS")


# it would look for BLAS in SciPy and load half of that, for what no kernel of ours calls: 0.2 s of the start
linalg.ensure_blas = _no_blas
