"""The last few values that were worked out, kept for the next question about the same thing."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import Future
from typing import Generic, TypeVar

__all__ = ["Remembered"]

Value = TypeVar("Value")


class Remembered(Generic[Value]):
    """The last few values by key; a key holds everything that the value rests on, so nothing here is ever stale.

    Two that ask for the same key at once wait for one answer. What raises is not remembered.
    """

    def __init__(self, most: int) -> None:
        self._most = most
        self._values: OrderedDict[str, Future[Value]] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, key: str, make: Callable[[], Value]) -> Value:
        """The value under ``key``; made, outside the lock, where it is not known. Raises what ``make`` raises."""
        with self._lock:
            known = self._values.get(key)
            if known is not None:
                self._values.move_to_end(key)
            else:
                mine: Future[Value] = Future()
                self._values[key] = mine
                while len(self._values) > self._most:
                    self._values.popitem(last=False)
        if known is not None:
            return known.result()
        try:
            mine.set_result(make())
        except BaseException as error:
            with self._lock:
                if self._values.get(key) is mine:
                    del self._values[key]
            mine.set_exception(error)
        return mine.result()

    def forget(self) -> None:
        """Everything is worked out anew."""
        with self._lock:
            self._values.clear()
