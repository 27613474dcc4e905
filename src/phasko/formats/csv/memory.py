"""Memory that reading a large file leaves behind."""

from __future__ import annotations

import ctypes
from functools import lru_cache

import pyarrow as pa

__all__ = ["give_back_memory"]


def give_back_memory() -> None:
    """Gives free memory back to the machine: Arrow's pool keeps what threads that have ended filled, and the C library
    keeps what lies between pieces in use."""
    pa.default_memory_pool().release_unused()
    library = _c_library()
    if hasattr(library, "malloc_trim"):
        library.malloc_trim(0)


@lru_cache(maxsize=1)
def _c_library() -> ctypes.CDLL:
    return ctypes.CDLL(None)
