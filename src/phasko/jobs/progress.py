"""How far an import has come, and the wish to stop it."""

from __future__ import annotations

import threading
from collections import OrderedDict
from dataclasses import dataclass, field
from typing import Literal

from phasko.core.errors import NotFoundError, RefusedError

__all__ = ["Progress", "Stage", "begin", "look", "stop"]

Stage = Literal["reading", "recognising", "storing", "done"]
_MOST = 64


@dataclass
class Progress:
    """Told by the import at each step; ``step`` raises RefusedError once somebody wants it stopped."""

    stage: Stage = "reading"
    share: float = 0.0
    stopped: bool = False
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def step(self, stage: Stage, share: float = 0.0) -> None:
        with self._lock:
            if self.stopped and stage != "done":
                raise RefusedError("The import was cancelled", kept="The job is as it was")
            self.stage, self.share = stage, share

    def stop(self) -> bool:
        """Whether it can still be stopped."""
        with self._lock:
            if self.stage == "done":
                return False
            self.stopped = True
            return True


_running: OrderedDict[str, Progress] = OrderedDict()
_lock = threading.Lock()


def begin(token: str | None) -> Progress:
    """A new import under the name that its sender chose; without one nobody can ask."""
    made = Progress()
    if token:
        with _lock:
            _running[token] = made
            while len(_running) > _MOST:
                _running.popitem(last=False)
    return made


def look(token: str) -> Progress:
    """Raises NotFoundError."""
    with _lock:
        found = _running.get(token)
    if found is None:
        raise NotFoundError("No import runs under that name")
    return found


def stop(token: str) -> bool:
    """Asks an import to stop; false when it was done already. Raises NotFoundError."""
    return look(token).stop()
