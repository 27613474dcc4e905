"""The call: explanations with their chances and reasons, the gate, the next test, the cautions."""

from __future__ import annotations

from dataclasses import replace

from phasko.core import numbers
from phasko.core.call.cautions import cautions
from phasko.core.call.gate import contradicted_gate, decide_gate, gate_view
from phasko.core.call.opening import costs, opening, schools
from phasko.core.call.pillars import pillars
from phasko.core.call.posterior import Judgement, Weighed, judge
from phasko.core.call.reasons import Reasons, call_without, reasons
from phasko.core.call.test_choice import next_test, settling_look
from phasko.core.capture.contradictions import contradictions
from phasko.core.documents.analysis import Amount, FaultResult, NotCountedResult, Verdict, Where
from phasko.core.documents.engine import TypicalFailure
from phasko.core.evidence import JobEvidence, observe_all
from phasko.core.explanations import Place

__all__ = ["call", "with_told"]


def call(job: JobEvidence) -> Verdict:
    """Joins everything measured, seen, driven and told in one job into one call."""
    job = with_told(job)
    observed = observe_all(job)
    judgement = judge(job.profile, observed)
    warned = cautions(judgement, job.profile, observed)
    view = gate_view(judgement, job)
    disagree = contradictions(job.captures)
    if disagree:
        gate = contradicted_gate(disagree)
        test = settling_look(judgement, job)
    else:
        gate = decide_gate(view)
        test = next_test(judgement, job, gate, warned)
    undecided = gate.because if disagree else _undecided_because(judgement, job)
    why = reasons(judgement) if observed else {}
    return Verdict(
        undecided=undecided is not None,
        undecided_because=undecided,
        faults=[_fault(one, why.get(one.explanation.fault, Reasons(()))) for one in judgement.weighed]
        + _besides(judgement, why),
        teardown=gate.teardown,
        teardown_because=gate.because,
        next_test=test,
        cautions=warned,
        not_counted=[NotCountedResult(text=n.text, reason=n.reason) for n in observed.not_counted],
        # What was told alone (codes, history) is no measurement: it only moves the odds.
        measured=bool(observed) and bool(job.captures or job.looks or job.roads),
        without=call_without(view) if observed and not disagree else [],
        pillars=pillars(job),
        opening=opening(judgement, job, "inspect_valves" in warned) if observed else None,
        schools=schools(job),
        costs=costs(judgement, job),
    )


def with_told(job: JobEvidence) -> JobEvidence:
    """The same with what the job itself says of its engine: the limit in place of the profile's, and failures that are
    typical of it, that a notice speaks of, or that the workshop found more often than others."""
    changed: dict[str, object] = {}
    told = job.told
    if told is not None and told.limit is not None and told.limit.cam_deg is not None:
        limit = {"tolerance_deg": told.limit.cam_deg}
        changed["cams"] = [cam.model_copy(update=limit) for cam in job.profile.cams]
    factor = numbers.NOTICE_FACTOR.value
    noted = [b for b in told.background if b.fault is not None] if told is not None else []
    moved = {one.fault: one for one in job.workshop}
    moved |= {b.fault: TypicalFailure(fault=b.fault, factor=factor, text=b.text) for b in noted if b.fault}
    # One that the profile knows already is not counted a second time.
    known = {one.fault for one in job.profile.typical_failures}
    new = [one for fault, one in moved.items() if fault not in known]
    if new:
        changed["typical_failures"] = [*job.profile.typical_failures, *new]
    if not changed:
        return job
    return replace(job, profile=job.profile.model_copy(update=changed))


def _undecided_because(judgement: Judgement, job: JobEvidence) -> str | None:
    if not judgement.table.observed:
        return "Nothing could be measured that tells the explanations apart."
    if job.captures and not job.looks and not any(capture.usable for capture in job.captures):
        return "No capture could be measured whole; what could be read without the crank is told."
    first, second = judgement.weighed[0], judgement.weighed[1]
    if first.probability < numbers.UNDECIDED_ODDS.value * second.probability:
        return f"Nothing measured separates “{first.title}” from “{second.title}”."
    return None


def _fault(weighed: Weighed, why: Reasons) -> FaultResult:
    return FaultResult(
        fault=weighed.explanation.fault,
        probability=min(1.0, max(0.0, weighed.probability)),
        where=_where(weighed.best.place),
        amount=Amount(crank_deg=weighed.amount_deg, pitches=weighed.best.pitches),
        title=weighed.title,
        for_=why.speaks_for,
        against=why.against,
        hint=weighed.explanation.hint,
        evidence=list(why.weights),
        telling=why.telling,
    )


def _where(place: Place) -> Where:
    return Where(bank=place.bank, cams=list(place.cams), cylinders=list(place.cylinders))


def _besides(judgement: Judgement, why: dict[str, Reasons]) -> list[FaultResult]:
    """Faults that hold besides the leader, with the chance that they hold at all, where that is more likely than
    not."""
    leader = judgement.weighed[0]
    found = []
    for one in judgement.weighed[1:]:
        if one.holds < numbers.BESIDES_LEAST.value:
            continue
        pairs = [
            (float(c), h.second_branch)
            for h, c in zip(judgement.hypotheses, judgement.chances, strict=True)
            if h.explanation is leader.explanation and h.second is one.explanation and h.second_branch is not None
        ]
        if not pairs:
            continue
        _, branch = max(pairs, key=lambda pair: pair[0])
        own = why.get(one.explanation.fault, Reasons(()))
        found.append(
            FaultResult(
                fault=one.explanation.fault,
                probability=one.holds,
                where=_where(branch.place),
                amount=Amount(crank_deg=branch.amount_deg, pitches=branch.pitches),
                title=one.explanation.title(branch.place, branch.amount_deg, branch.pitches),
                for_=own.speaks_for,
                against=own.against,
                hint=one.explanation.hint,
                besides=True,
                evidence=list(own.weights),
            )
        )
    return found
