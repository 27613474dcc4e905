"""Loading many modules at once."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from contextlib import contextmanager

__all__ = ["collector_paused"]


@contextmanager
def collector_paused() -> Iterator[None]:
    """Pause the cycle collector while modules load, and leave them out of later collections.

    Everything that is made then lives as long as the process, so the collector finds nothing: it took a quarter of the
    server's start to do so.
    """
    gc.disable()
    try:
        yield
        gc.freeze()
    finally:
        gc.enable()
