"""How much anybody may ask: so many requests at once, and so many a second in the long run."""

from __future__ import annotations

import threading
import time
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass

__all__ = ["PERSON", "TOKEN", "Pace", "Paces"]

_MOST_KNOWN = 10_000


@dataclass(frozen=True, slots=True)
class Pace:
    """``at_once`` requests, and ``a_second`` more every second."""

    at_once: float
    a_second: float


PERSON = Pace(at_once=300.0, a_second=50.0)
"""A hand on a ruler asks thirty times a second."""
TOKEN = Pace(at_once=60.0, a_second=10.0)
"""What a program should need; captures are large, and measuring one takes half a second."""


class Paces:
    """What everybody has left. A bucket that fills again; the well-known token bucket."""

    def __init__(self, clock: Callable[[], float] = time.monotonic) -> None:
        self._clock = clock
        self._left: OrderedDict[str, tuple[float, float]] = OrderedDict()
        self._lock = threading.Lock()

    def wait_s(self, who: str, pace: Pace) -> float:
        """How long he has to wait; 0 for a request that may pass, which is then counted."""
        with self._lock:
            now = self._clock()
            left, at = self._left.get(who, (pace.at_once, now))
            left = min(pace.at_once, left + (now - at) * pace.a_second)
            passes = left >= 1.0
            self._left[who] = (left - 1.0 if passes else left, now)
            self._left.move_to_end(who)
            while len(self._left) > _MOST_KNOWN:
                self._left.popitem(last=False)
            return 0.0 if passes else (1.0 - left) / pace.a_second
