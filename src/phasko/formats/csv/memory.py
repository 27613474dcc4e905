"""Memory that reading a large file leaves behind."""

from __future__ import annotations

import ctypes
from collections.abc import Iterator
from contextlib import contextmanager
from functools import lru_cache

import pyarrow as pa

__all__ = ["memory_given_back"]

_M_MMAP_THRESHOLD = -3
_LARGE_BYTES = 1 << 20


@contextmanager
def memory_given_back() -> Iterator[None]:
    """What is read inside leaves no memory behind: all that lies free is given back to the machine at the end."""
    _large_pieces_apart()
    try:
        yield
    finally:
        # Arrow's pool is the system's here, for which this is malloc_trim(3).
        pa.default_memory_pool().release_unused()


@lru_cache(maxsize=1)
def _large_pieces_apart() -> None:
    """From now on large pieces lie apart and are given back as soon as they are free: by itself the C library puts
    larger and larger ones among the small ones, which hold them there (mallopt(3), M_MMAP_THRESHOLD)."""
    library = ctypes.CDLL(None)
    if hasattr(library, "mallopt"):
        library.mallopt(_M_MMAP_THRESHOLD, _LARGE_BYTES)
