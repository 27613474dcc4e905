"""How far an import has come, the wish to stop it, and the line in which imports wait."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Iterator
from contextlib import AbstractContextManager, contextmanager
from dataclasses import dataclass, field
from typing import Literal

from phasko.core.errors import NotFoundError, RefusedError

__all__ = ["Line", "Progress", "Stage", "begin", "in_line", "look", "stop"]

Stage = Literal["waiting", "reading", "recognising", "storing", "done"]
_MOST = 64
_AT_ONCE = 2
_MOST_WAITING = 8
"""Each that waits holds a thread of the server."""


@dataclass
class Progress:
    """Told by the import at each step; ``step`` raises RefusedError once somebody wants it stopped. ``keep`` is the
    last moment at which that is possible: what is kept then is not taken away again."""

    stage: Stage = "reading"
    share: float = 0.0
    stopped: bool = False
    kept: bool = False
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def step(self, stage: Stage, share: float = 0.0) -> None:
        with self._lock:
            self._go_on()
            self.stage, self.share = stage, share

    def keep(self) -> None:
        """From here on nobody stops it. Raises RefusedError where somebody has."""
        with self._lock:
            self._go_on()
            self.kept, self.share = True, 1.0

    def _go_on(self) -> None:
        if self.stopped and not self.kept:
            raise RefusedError("The import was cancelled", kept="The job is as it was")

    def stop(self) -> bool:
        """Whether it can still be stopped."""
        with self._lock:
            if self.kept or self.stage == "done":
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


class Line:
    """Lets so many through ``at_once``; the others wait in the order in which they came."""

    def __init__(self, at_once: int, most_waiting: int) -> None:
        self._at_once = at_once
        self._most = at_once + most_waiting
        self._line: list[object] = []
        self._moved = threading.Condition()

    @contextmanager
    def turn(self, progress: Progress) -> Iterator[None]:
        """Runs the block when its turn has come; ``progress`` says that it waits, and stops it there too. Raises
        RefusedError when it was cancelled, or too many wait already."""
        own = object()
        with self._moved:
            if len(self._line) >= self._most:
                raise RefusedError(
                    "Too many imports wait already", kept="The job is as it was", remedy="Try again when one is done."
                )
            self._line.append(own)
        try:
            with self._moved:
                while self._line.index(own) >= self._at_once:
                    progress.step("waiting")
                    self._moved.wait(0.2)
            progress.step("reading")
            yield
        finally:
            with self._moved:
                self._line.remove(own)
                self._moved.notify_all()


_imports = Line(_AT_ONCE, _MOST_WAITING)


def in_line(progress: Progress) -> AbstractContextManager[None]:
    """The turn of one import: two at most run at once, so that memory and disk serve the others too."""
    return _imports.turn(progress)
