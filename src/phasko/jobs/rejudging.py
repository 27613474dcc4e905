"""After a new version: what it would say of the jobs that an older one called, shown before it replaces anything."""

from __future__ import annotations

import threading
from collections.abc import Sequence

from pydantic import BaseModel, ConfigDict
from sqlalchemy.orm import Session

from phasko.code_hash import software_label
from phasko.core import numbers
from phasko.core.documents import Analysis
from phasko.core.errors import PhaskoError
from phasko.core.revisions import Weight, revision_of
from phasko.jobs.analysing import analyse_stored_job, judged, new_result, readable_result, rests_on
from phasko.jobs.logbook.heads import ResultHead, head_of, read_head
from phasko.store import Database, jobs, results
from phasko.store.audit import note

__all__ = [
    "EarlierResult",
    "OlderCalls",
    "Rejudged",
    "Rejudging",
    "Revised",
    "count_older_calls",
    "earlier_results",
    "take_over",
]

_WEIGHTS: tuple[Weight, ...] = ("gate", "call", "figures", "nothing")


class Revised(BaseModel):
    """A job that an older version called: what stands, what this one would say, and what is different in words."""

    model_config = ConfigDict(frozen=True)
    job_id: int
    vehicle: str
    engine: str
    closed: bool
    software: str
    before: ResultHead
    after: ResultHead
    weight: Weight
    sentences: list[str]


class Rejudged(BaseModel):
    """All jobs that an older version called: those read anew, the heaviest changes first, and how many are not yet;
    ``trouble``: by job, why one could not be read."""

    model_config = ConfigDict(frozen=True)
    software: str
    running: bool
    unread: list[int]
    revised: list[Revised]
    trouble: dict[int, str]


class OlderCalls(BaseModel):
    """How many jobs another version than this one called."""

    model_config = ConfigDict(frozen=True)
    software: str
    jobs: int


class EarlierResult(BaseModel):
    """One result of a job: when it was made, by which version, whether it stands, and what it says."""

    model_config = ConfigDict(frozen=True)
    made_at: str
    software: str
    standing: bool
    head: ResultHead


def earlier_results(database: Database, job_id: int) -> list[EarlierResult]:
    """All results of a job, the newest first; none is ever changed. Raises NotFoundError."""
    with database.reading() as session:
        jobs.get_job(session, job_id)
        return [
            EarlierResult(
                made_at=row.created_at,
                software=row.software,
                standing=row.standing,
                head=read_head(row.head) or ResultHead(),
            )
            for row in results.results_of(session, job_id)
        ]


def count_older_calls(database: Database) -> OlderCalls:
    """For the board: counted, not read."""
    with database.reading() as session:
        return OlderCalls(software=_this_version(), jobs=len(_older(session)))


def take_over(database: Database, job_ids: Sequence[int]) -> int:
    """Lets what this version says of these jobs stand; how many there were. The older results stay stored. Raises
    NotFoundError."""
    taken = 0
    with database.transaction() as session:
        for job_id in job_ids:
            if results.let_stand(session, rests_on(session, job_id).key):
                note(session, "took over", f"the newer version's call of job {job_id}", job_id=job_id)
                taken += 1
    return taken


class Rejudging:
    """Reads the jobs of a workshop anew, one after the other, on a thread of its own."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self._lock = threading.Lock()
        self._ended = threading.Event()
        self._thread: threading.Thread | None = None
        self._trouble: dict[int, str] = {}
        self._known: dict[tuple[int, int], Revised | None] = {}

    def start(self) -> None:
        """Begins with what is not read yet; nothing where it is at it already."""
        with self._lock:
            if self._thread is None or not self._thread.is_alive():
                self._ended.clear()
                self._trouble.clear()
                self._thread = threading.Thread(target=self._read, name="rejudging", daemon=True)
                self._thread.start()

    def close(self) -> None:
        """Stops after the job that it reads; what was read stays, and it goes on from there."""
        self._ended.set()
        if self._thread is not None:
            self._thread.join()

    def now(self) -> Rejudged:
        """How it stands."""
        unread, revised = [], []
        with self._database.reading() as session:
            for call in _older(session):
                one = self._revised(session, call)
                if one is None:
                    unread.append(call.job_id)
                else:
                    revised.append(one)
        running = self._thread is not None and self._thread.is_alive()
        revised.sort(key=lambda one: (_WEIGHTS.index(one.weight), -one.job_id))
        trouble = dict(self._trouble)
        return Rejudged(software=_this_version(), running=running, unread=unread, revised=revised, trouble=trouble)

    def _revised(self, session: Session, call: results.OlderCall) -> Revised | None:
        """``None`` while this version has not read it. Two results never change: what differs is worked out once."""
        if call.waiting is None:
            return None
        pair = (call.standing, call.waiting)
        if pair not in self._known:
            before, after = (readable_result(results.get_result(session, number)) for number in pair)
            self._known[pair] = None if before is None or after is None else _difference(call, before, after)
        return self._known[pair]

    def _read(self) -> None:
        for job_id in self.now().unread:
            if self._ended.is_set():
                return
            try:
                self._read_one(job_id)
            except PhaskoError as error:
                self._trouble[job_id] = str(error)

    def _read_one(self, job_id: int) -> None:
        with self._database.reading() as session:
            rests = rests_on(session, job_id)
            held = results.standing_result(session, job_id, rests.rests)
        if held is None:
            # Something of the job has changed since: its next call is this version's anyway.
            analyse_stored_job(self._database, job_id)
            return
        new = new_result(job_id, rests, judged(self._database, rests), standing=False)
        with self._database.transaction() as session:
            results.store_result(session, new)


def _this_version() -> str:
    return software_label().removeprefix("phasko ")


def _older(session: Session) -> list[results.OlderCall]:
    return results.older_calls(session, software_label(), numbers.digest())


def _difference(call: results.OlderCall, before: Analysis, after: Analysis) -> Revised:
    revision = revision_of(before, after)
    return Revised(
        job_id=call.job_id,
        vehicle=call.vehicle,
        engine=call.engine,
        closed=call.closed,
        software=f"{before.provenance.label}, numbers {before.provenance.numbers}",
        before=head_of(before),
        after=head_of(after),
        weight=revision.weight,
        sentences=list(revision.sentences),
    )
