"""Memory that reading a large file leaves behind."""

from __future__ import annotations

import pyarrow as pa

__all__ = ["give_back_memory"]


def give_back_memory() -> None:
    """Gives memory back to the machine that was filled and is free again: of the system's pool, which is Arrow's here,
    that is all that lies free in this process (malloc_trim(3))."""
    pa.default_memory_pool().release_unused()
