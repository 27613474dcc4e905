"""The complaint of a job as its station shows it: codes explained, misfires read as a pattern, what to test first."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from phasko.core.call.plan import PlannedTest, plan_tests
from phasko.core.call.repaired import evidence_now
from phasko.core.codes import (
    TITLES,
    ExplainedCode,
    MisfirePattern,
    explain_codes,
    lamp_words,
    misfire_pattern,
    pasted_codes,
)
from phasko.core.documents.job import Code, Lamp
from phasko.core.errors import DocumentError
from phasko.core.evidence import JobEvidence
from phasko.core.hookup import LostSignal, hook_up_question, lost_signals, proposed_question, question_of_test
from phasko.core.looks import Look
from phasko.core.road import judge_road_test
from phasko.formats import read_scan_log
from phasko.jobs.measured import job_state, measured_captures
from phasko.jobs.told import job_document
from phasko.store import Database, looks

__all__ = ["ComplaintPage", "Pasted", "Plan", "code_titles", "complaint_page", "job_plan", "read_pasted"]

_MOST_TEXT = 200_000


class ComplaintPage(BaseModel):
    """Codes in words, what the misfire codes say together, what the lamp means, and what the loss of each signal does
    on this engine."""

    model_config = ConfigDict(frozen=True)
    codes: list[ExplainedCode]
    misfires: MisfirePattern | None
    lamp: str | None
    lost_signals: list[LostSignal]


class PlannedTestOut(BaseModel):
    """One test of the plan; ``hook_up``: the question of the hook-up that it needs; ``look``: where it is noted."""

    model_config = ConfigDict(frozen=True)
    test: str
    title: str
    how: str
    why: str
    minutes: float
    risk_minutes: float
    gain_bits: float
    cranks: bool
    look: str | None
    hook_up: str | None


class Plan(BaseModel):
    """What to test first, second, third; and the hook-up to begin with."""

    model_config = ConfigDict(frozen=True)
    tests: list[PlannedTestOut]
    begin_with: str
    begin_title: str


class Pasted(BaseModel):
    """What a pasted text held; ``left``: lines of which nothing was taken."""

    model_config = ConfigDict(frozen=True)
    codes: list[Code]
    lamp: Lamp | None
    distance_km: float | None
    left: list[str]


def complaint_page(database: Database, job_id: int) -> ComplaintPage:
    """Raises NotFoundError."""
    with database.reading() as session:
        profile = job_state(session, job_id).profile
    told = job_document(database, job_id)
    return ComplaintPage(
        codes=list(explain_codes(told.codes, profile)),
        misfires=misfire_pattern(told.codes, profile),
        lamp=lamp_words(told.complaint.lamp) if told.complaint is not None else None,
        lost_signals=list(lost_signals(profile)),
    )


def job_plan(database: Database, job_id: int) -> Plan:
    """The tests that are worth doing now, best first: from the chances before measuring while nothing was measured.
    Raises NotFoundError."""
    with database.reading() as session:
        state = job_state(session, job_id)
        drives = [(road.name, road.data) for road in looks.road_tests_of(session, job_id)]
    told = job_document(database, job_id)
    seen: tuple[Look, ...] = tuple(told.looks)
    roads = tuple(judge_road_test(read_scan_log(data, name), name, state.profile) for name, data in drives)
    measured = measured_captures(database, state)
    planned = plan_tests(evidence_now(JobEvidence(state.profile, measured, seen, roads, told)))
    asked = proposed_question(state.profile, told, [one.test for one in planned])
    return Plan(tests=[_planned(one) for one in planned], begin_with=asked.id, begin_title=asked.title)


def _planned(one: PlannedTest) -> PlannedTestOut:
    asked = question_of_test(one.test)
    return PlannedTestOut(
        test=one.test,
        title=one.title,
        how=one.how,
        why=one.why,
        minutes=one.minutes,
        risk_minutes=one.risk_minutes,
        gain_bits=one.gain_bits,
        cranks=one.cranks,
        look=one.answered_by,
        hook_up=asked if asked is not None and hook_up_question(asked) is not None else None,
    )


def read_pasted(text: str) -> Pasted:
    """Codes out of a pasted text; nothing is stored. Raises DocumentError for one that holds none, or is too long."""
    if len(text) > _MOST_TEXT:
        raise DocumentError("The text is too long for a list of codes", kept="Nothing was taken over")
    found = pasted_codes(text)
    if not found.codes:
        raise DocumentError(
            "There is no code in this text",
            kept="Nothing was taken over",
            remedy="Codes look like P0016; paste the scan tool's list as it is.",
        )
    return Pasted(codes=list(found.codes), lamp=found.lamp, distance_km=found.distance_km, left=list(found.left))


def code_titles() -> dict[str, str]:
    """Every public title that ships, by its code."""
    return dict(TITLES)
