"""What was just worked out of a capture's samples, kept for the next question about the same picture."""

from __future__ import annotations

import hashlib
import threading
from collections import OrderedDict
from collections.abc import Callable
from typing import Generic, TypeVar

from phasko.store.models import Capture, EngineVersion

__all__ = ["Remembered", "state_key"]

Value = TypeVar("Value")


def state_key(capture: Capture, engine: EngineVersion) -> str:
    """Of everything that a picture of a capture rests on: its file, what is said about it, and the engine profile."""
    return hashlib.sha256(f"{capture.sha256}:{capture.description}:{engine.sha256}".encode()).hexdigest()


class Remembered(Generic[Value]):
    """The last few values by key; a key holds everything that the value rests on, so nothing here is ever stale."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._values: OrderedDict[str, Value] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, key: str, make: Callable[[], Value]) -> Value:
        """The value under ``key``; made, outside the lock, where it is not known."""
        with self._lock:
            if key in self._values:
                self._values.move_to_end(key)
                return self._values[key]
        value = make()
        with self._lock:
            self._values[key] = value
            while len(self._values) > self._most:
                self._values.popitem(last=False)
        return value
