"""What was changed, told to every screen that listens as soon as it is stored, whichever process stored it. A job that
was changed is called anew meanwhile, so that lists show its call without anybody opening it."""

from __future__ import annotations

import asyncio
import queue
import threading
from collections.abc import AsyncIterator, Callable, Iterator, Sequence
from contextlib import contextmanager, suppress
from dataclasses import dataclass

from pydantic import BaseModel, ConfigDict

from phasko.core.errors import PhaskoError
from phasko.store import Database, results
from phasko.store.audit import log_after, newest_entry
from phasko.store.models import LogEntry

__all__ = ["Change", "Live"]

_EVERY_S = 0.15
"""So often the log is asked for new lines while anybody listens: one look at the end of an index."""
_MOST = 200
"""Lines a telling; after more than that, everything counts as changed."""
_ALIKE = {"known good", "engine profile"}
"""What other jobs are compared with, too."""


class Change(BaseModel):
    """What to ask for again: these jobs and captures, or, ``everywhere``, all there is; ``called``: jobs with a new
    result. ``entry``: the last line of the log that it tells of."""

    model_config = ConfigDict(frozen=True)
    entry: int
    jobs: list[int]
    captures: list[int]
    everywhere: bool
    called: list[int] = []


@dataclass(frozen=True, slots=True, eq=False)
class _Listener:
    loop: asyncio.AbstractEventLoop
    told: asyncio.Queue[Change | None]

    def tell(self, change: Change | None) -> None:
        # A loop that has ended meanwhile has nobody left to tell.
        if not self.loop.is_closed():
            self.loop.call_soon_threadsafe(self.told.put_nowait, change)


class Live:
    """Reads the log's new lines for all who listen, on a thread of its own while there are any."""

    def __init__(self, database: Database, call: Callable[[int], object] = lambda _: None) -> None:
        """``call`` calls a job anew; PhaskoError that it raises is told to whoever opens the job."""
        self._database = database
        self._call = call
        self._to_call: queue.SimpleQueue[int | None] = queue.SimpleQueue()
        self._listeners: list[_Listener] = []
        self._lock = threading.Lock()
        self._closed = threading.Event()
        self._thread: threading.Thread | None = None

    def close(self) -> None:
        """Ends every stream."""
        self._closed.set()
        with self._lock:
            for listener in self._listeners:
                listener.tell(None)

    async def changes(self, since: int | None, patience_s: float) -> AsyncIterator[Change | None]:
        """Every change from now on, or since that line of the log; ``None`` whenever nothing was told for so long. Ends
        when the server stops."""
        listener = _Listener(asyncio.get_running_loop(), asyncio.Queue())
        before = await asyncio.to_thread(self.newest)
        with self._listening(listener, before):
            # Once more, now that whatever follows is told: nothing may fall in between.
            newest = await asyncio.to_thread(self.newest)
            if since is None:
                yield Change(entry=newest, jobs=[], captures=[], everywhere=False)
            elif since != newest:
                yield await asyncio.to_thread(self._missed, since, newest)
            while not self._closed.is_set():
                try:
                    change = await asyncio.wait_for(listener.told.get(), patience_s)
                except TimeoutError:
                    yield None
                    continue
                if change is None:
                    return
                if change.entry > newest or change.called:
                    yield change

    @contextmanager
    def _listening(self, listener: _Listener, before: int) -> Iterator[None]:
        with self._lock:
            self._listeners.append(listener)
            if self._thread is None:
                self._thread = threading.Thread(target=self._watch, args=(before,), name="live", daemon=True)
                self._thread.start()
                threading.Thread(target=self._call_waiting, name="live-calls", daemon=True).start()
        try:
            yield
        finally:
            with self._lock:
                self._listeners.remove(listener)

    def newest(self) -> int:
        """The last line of the log: what is asked for from here on is at least as new."""
        with self._database.reading() as session:
            return newest_entry(session)

    def _newest_result(self) -> int:
        with self._database.reading() as session:
            return results.newest_number(session)

    def _missed(self, since: int, newest: int) -> Change:
        """What whoever was away has missed; everything where that cannot be told: another file was put back."""
        if since > newest:
            return Change(entry=newest, jobs=[], captures=[], everywhere=True)
        return self._since(since) or Change(entry=newest, jobs=[], captures=[], everywhere=False)

    def _since(self, since: int) -> Change | None:
        with self._database.reading() as session:
            lines = log_after(session, since, _MOST + 1)
            if len(lines) > _MOST:
                return Change(entry=newest_entry(session), jobs=[], captures=[], everywhere=True)
        return _told(lines) if lines else None

    def _called_since(self, result: int) -> tuple[int, list[int]]:
        with self._database.reading() as session:
            found = results.jobs_called_after(session, result)
        return max([result, *found]), sorted(set(found.values()))

    def _call_waiting(self) -> None:
        while (job := self._to_call.get()) is not None:
            if not self._closed.is_set():
                with suppress(PhaskoError):
                    self._call(job)

    def _watch(self, last: int) -> None:
        called = -1
        while not self._closed.wait(_EVERY_S):
            with self._lock:
                if not self._listeners:
                    self._thread = None
                    self._to_call.put(None)
                    return
            try:
                change = self._since(last)
                after, jobs = self._called_since(called) if called >= 0 else (self._newest_result(), [])
            except PhaskoError:
                # Whoever asks for anything is told what is wrong with the file; here the next look may do better.
                continue
            called = after
            if change is not None:
                last = change.entry
                for job in change.jobs:
                    self._to_call.put(job)
            if change is None and not jobs:
                continue
            told = change or Change(entry=last, jobs=[], captures=[], everywhere=False)
            with self._lock:
                for listener in self._listeners:
                    listener.tell(told.model_copy(update={"called": jobs}))
        self._to_call.put(None)


def _told(lines: Sequence[LogEntry]) -> Change:
    return Change(
        entry=lines[-1].id,
        jobs=sorted({line.job_id for line in lines if line.job_id is not None}),
        captures=sorted({line.capture_id for line in lines if line.capture_id is not None}),
        everywhere=any(line.job_id is None or _ALIKE & set(line.fields.split("\n")) for line in lines),
    )
