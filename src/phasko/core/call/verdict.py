"""The call: explanations with their chances and reasons, the gate, the next test, the cautions."""

from __future__ import annotations

from collections.abc import Sequence

from phasko.core import numbers
from phasko.core.call.gate import contradicted_gate, decide_gate
from phasko.core.call.posterior import Weighed, judge
from phasko.core.call.reasons import reasons
from phasko.core.call.test_choice import next_test, settling_look
from phasko.core.capture.contradictions import contradictions
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.analysis import Amount, FaultName, FaultResult, RoadTestResult, Verdict, Where
from phasko.core.documents.engine import EngineProfile
from phasko.core.evidence import EVIDENCE, Observable
from phasko.core.evidence.indications import Disturbance, could_show, disturbances, explains
from phasko.core.explanations import FAULTS_IN_TIME, SENSOR_FAULTS, Place
from phasko.core.looks import Look, look_reasons

__all__ = ["call"]


def call(
    captures: Sequence[CaptureMeasurement],
    profile: EngineProfile,
    looks: Sequence[Look] = (),
    roads: Sequence[RoadTestResult] = (),
) -> Verdict:
    """Joins everything measured, seen and driven in one job into one call."""
    observed = tuple(o for kind in EVIDENCE for o in kind.observe(captures, profile))
    disturbed = disturbances(captures, profile, roads)
    weighed = judge(profile, observed, (), looks)
    timed = _timing_fault(weighed, observed)
    beside = [d for d in disturbed if timed and not explains(weighed[0].explanation.fault, weighed[0].best.branch, d)]
    if disturbed and not timed:
        weighed = judge(profile, observed, disturbed, looks, could_show(captures, roads))
    known = (*observed, *disturbed, *looks)
    cautions = _cautions(profile, weighed, bool(known))
    disagree = contradictions(captures)
    if disagree:
        test, gate = settling_look(profile, looks), contradicted_gate(disagree)
    else:
        test = next_test(profile, weighed, known, "stop_cranking" not in cautions, looks)
        gate = decide_gate(profile, weighed, observed, test, looks, disturbed)
    why = reasons(profile, weighed, observed)
    measured = bool(observed or looks) or any(d.fault not in SENSOR_FAULTS for d in disturbed)
    undecided = gate.because if disagree else _undecided_because(weighed, measured)
    return Verdict(
        undecided=undecided is not None,
        undecided_because=undecided,
        faults=[
            _fault(one, *_with_others(one, why[one.explanation.fault], disturbed, looks), disturbed) for one in weighed
        ]
        + _besides(beside, profile),
        teardown=gate.teardown,
        teardown_because=gate.because,
        next_test=test,
        cautions=cautions,
    )


def _timing_fault(weighed: Sequence[Weighed], observed: Sequence[Observable]) -> bool:
    """Whether the measurements speak for a fault of their own, beside which a disturbed signal is a further one."""
    others = {"none", "something_else", "reference_wrong", *(e.fault for e in FAULTS_IN_TIME)}
    return bool(observed) and weighed[0].explanation.fault not in others


def _with_others(
    weighed: Weighed,
    why: tuple[list[str], list[str]],
    disturbed: Sequence[Disturbance],
    looks: Sequence[Look],
) -> tuple[list[str], list[str]]:
    """The reasons, with what else this explanation accounts for first, and what was seen and heard."""
    fault, branch = weighed.explanation.fault, weighed.best.branch
    if fault == "something_else":
        return why
    own = [d.words for d in disturbed if explains(fault, branch, d)]
    left = [d.words for d in disturbed if not explains(fault, branch, d)] if fault != "none" else []
    seen_for, seen_against = look_reasons(fault, branch, looks)
    return [*own, *seen_for, *why[0]], [*left, *seen_against, *why[1]]


def _besides(disturbed: Sequence[Disturbance], profile: EngineProfile) -> list[FaultResult]:
    """Faults of signals that hold besides the leading explanation."""
    found = []
    for one in disturbed:
        if one.fault not in {e.fault for e in FAULTS_IN_TIME}:
            continue
        explanation = next(e for e in FAULTS_IN_TIME if e.fault == one.fault)
        places = [branch.place for branch in explanation.branches(profile)]
        place = next((p for p in places if one.cam in p.cams or (one.cylinders and p.cylinders == one.cylinders)), None)
        place = place or (places[-1] if one.cylinders else places[0])
        found.append(
            FaultResult(
                fault=one.fault,
                probability=numbers.DISTURBED_BESIDES.value / (1 + len(one.also)),
                where=Where(bank=place.bank, cams=list(place.cams), cylinders=list(one.cylinders)),
                amount=Amount(),
                title=explanation.title(place, None, None),
                for_=[one.words],
                hint=explanation.hint,
                besides=True,
            )
        )
    return found


def _undecided_because(weighed: Sequence[Weighed], known: bool) -> str | None:
    if not known:
        return "Nothing could be measured that tells the explanations apart."
    first, second = weighed[0], weighed[1]
    if first.probability < numbers.UNDECIDED_ODDS.value * second.probability:
        return f"Nothing measured separates “{_title(first)}” from “{_title(second)}”."
    return None


def _title(weighed: Weighed) -> str:
    return weighed.explanation.title(weighed.best.branch.place, weighed.amount_deg, weighed.best.branch.pitches)


def _fault(
    weighed: Weighed, speaks_for: list[str], against: list[str], disturbed: Sequence[Disturbance]
) -> FaultResult:
    place = weighed.best.branch.place
    pitches = weighed.best.branch.pitches
    return FaultResult(
        fault=weighed.explanation.fault,
        probability=min(1.0, max(0.0, weighed.probability)),
        where=Where(
            bank=place.bank, cams=list(place.cams), cylinders=_cylinders(weighed.explanation.fault, place, disturbed)
        ),
        amount=Amount(crank_deg=weighed.amount_deg, pitches=pitches),
        title=_title(weighed),
        for_=speaks_for,
        against=against,
        hint=weighed.explanation.hint,
    )


def _cylinders(fault: FaultName, place: Place, disturbed: Sequence[Disturbance]) -> list[int]:
    """Those that were found weak, for the fault that says so; else those of the place."""
    if fault != "weak_cylinder":
        return list(place.cylinders) if fault == "valve_train" else []
    weak = {c for one in disturbed if one.fault == "weak_cylinder" for c in one.cylinders}
    return sorted(weak) or list(place.cylinders)


def _cautions(profile: EngineProfile, weighed: Sequence[Weighed], known: bool) -> list[str]:
    """On an interference engine (or one not known to be free-running) a likely jump means: look before cranking."""
    if not known or profile.interference is False:
        return []
    least = numbers.CAUTION_LEAST_DEG.value
    moved = sum(
        one.probability
        for w in weighed
        if w.explanation.needs_covers_off
        for one in w.branches
        if max((abs(shift) for shift in one.branch.state.valves_deg.values()), default=0.0) >= least
    )
    if moved < numbers.CAUTION_PROBABILITY.value:
        return []
    return ["stop_cranking", "inspect_valves"]
