"""Before and after a repair are two engines: nothing of the one speaks in the call about the other."""

from __future__ import annotations

from phasko.core.analyse import Beside, HashedCapture
from phasko.core.call.repaired import after_repair, before_repair, evidence_now
from phasko.core.documents import Analysis
from phasko.core.documents.job import JobDocument, Look
from phasko.core.evidence import JobEvidence
from phasko.core.signals.recording import Recording
from tests.core.handover.facts import LATE, PROFILE, recorded, told
from trials.analyses import analyse_job


def analysed(*recordings: Recording, document: JobDocument | None = None) -> Analysis:
    hashed = [HashedCapture(one, "0" * 64) for one in recordings]
    return analyse_job(hashed, PROFILE, "e" * 64, (), Beside(told=document or told()))


def chances(analysis: Analysis) -> dict[str, float]:
    return {f"{one.fault} {one.title}": round(one.probability, 9) for one in analysis.verdict.faults}


def test_the_call_after_a_repair_is_that_of_its_own_captures_alone() -> None:
    before, after = recorded("before", 11, LATE), recorded("after", 12, repair="after")
    both = analysed(before, after)
    assert chances(both) == chances(analysed(after))
    assert both.before_repair is not None
    first = both.before_repair.verdict.faults[0]
    alone = analysed(before).verdict.faults[0]
    assert (first.fault, round(first.probability, 9)) == (alone.fault, round(alone.probability, 9))


def test_codes_and_complaint_of_before_speak_of_the_engine_as_it_came() -> None:
    document = told(
        complaint={"symptoms": ["rattle"], "when": ["after_repair"]},
        codes=[{"code": "P0016", "status": "current", "returned": True}],
        replaced=[{"part": "crank_pulley", "when": "before_symptom", "effect": "changed"}],
    )
    after = recorded("after", 12, repair="after")
    assert chances(analysed(after, document=document)) == chances(analysed(after))


def test_only_a_code_that_came_back_is_looked_at_after_a_repair() -> None:
    """The trace of the same sensor is in the capture, so it is named as not counted beside it."""
    after = recorded("after", 12, repair="after")
    for returned in ([], ["P0340"]):
        document = told(codes=[{"code": "P0016"}], repair={"returned": returned})
        named = [one.text for one in analysed(after, document=document).verdict.not_counted]
        assert [code for code in ("P0016", "P0340") if any(code in text for text in named)] == returned


def test_looks_and_drives_go_to_their_own_side() -> None:
    looks = (
        Look(question="marks", answer="out"),
        Look(question="marks", answer="true", repair="after"),
    )
    job = JobEvidence(PROFILE, (), looks, (), told())
    assert [one.answer for one in before_repair(job).looks] == ["out"]
    now = after_repair(job)
    assert now is not None and [one.answer for one in now.looks] == ["true"]
    assert [one.answer for one in evidence_now(job).looks] == ["true"]
    assert after_repair(JobEvidence(PROFILE, (), looks[:1], (), told())) is None
