"""Why an explanation has its chance, why the gate stands where it does, and by which limits it is judged."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from phasko.core import numbers
from phasko.core.documents.analysis import Analysis
from phasko.core.documents.verdict_results import FaultResult, SchoolResult, Verdict
from phasko.core.why.answer import Part, Why
from phasko.core.words import chance_words, odds_words

__all__ = ["chance_whys"]


def chance_whys(analysis: Analysis) -> Iterator[Why]:
    """One for each explanation, one for the gate, one for the limits; none before anything is measured."""
    verdict = analysis.verdict
    if not verdict.measured:
        return
    taken_from = _taken_from(analysis)
    for fault in verdict.faults:
        yield _chance(fault, taken_from)
    yield _gate(verdict, taken_from)
    if verdict.schools:
        yield _limits(verdict.schools, taken_from)


def _taken_from(analysis: Analysis) -> str:
    told = [
        f"{count} {one if count == 1 else many}"
        for count, one, many in (
            (len(analysis.provenance.captures), "capture", "captures"),
            (len(analysis.looks), "look", "looks"),
            (len(analysis.road_tests), "road test", "road tests"),
        )
        if count
    ]
    return f"{', '.join(told)} of this job"


def _chance(fault: FaultResult, taken_from: str) -> Why:
    heaviest_first = sorted(fault.evidence, key=lambda weight: -abs(weight.bits))
    return Why(
        id=f"chance/{fault.fault}{'/besides' if fault.besides else ''}",
        title=fault.title or fault.fault.replace("_", " "),
        value=chance_words(fault.probability),
        formula="Chance ∝ how usual it is × how well it explains each thing that was measured or seen; all "
        "explanations together make 100 in 100.",
        parts=[Part(name=f"{one.title}: {one.text}", value=odds_words(one.bits)) for one in heaviest_first],
        source="Bayes's rule. How usual each fault is, and how reliable each look: the table of numbers in the "
        f"documentation, version {numbers.NUMBERS_VERSION}, each with its source.",
        taken_from=taken_from,
    )


def _gate(verdict: Verdict, taken_from: str) -> Why:
    least, odds, most_off = numbers.GATE_PROBABILITY, numbers.GATE_ODDS, numbers.GATE_CONTRADICTION
    return Why(
        id="gate",
        title="The gate",
        value={"no": "Covers stay on", "confirm_first": "Confirm first", "go": "Open up"}[verdict.teardown],
        formula="Open up = surely enough behind the covers, and two different kinds of evidence agree, and nothing "
        "measured contradicts it. What is typical of the type never opens it.",
        parts=[
            Part(name="Chance that it lies behind the covers, at least", value=f"{100 * least.value:.0f} in 100"),
            Part(name="The second kind against each harmless explanation, at least", value=f"{odds.value:.0f} to 1"),
            Part(name="No single measurement further off than", value=f"{most_off.value:g} times its half width"),
            Part(name="So", value=verdict.teardown_because),
        ],
        source="Our own choice, since a wrong teardown is the worst failure; how often it was wrong on captures of a "
        "known truth stands in the documentation of the call.",
        taken_from=taken_from,
    )


def _limits(schools: Sequence[SchoolResult], taken_from: str) -> Why:
    used = next((one for one in schools if one.used), schools[0])
    return Why(
        id="limits",
        title="How far is too far",
        value=used.words,
        formula="Offset of the cam that stands furthest off, while cranking, against the limit of each school, in "
        "crank degrees; at the mark a degree of the cam is two of the crank. The chances above rest on the offset and "
        "its half width, not on a limit.",
        parts=[
            Part(name=one.words, value={True: "over", False: "within", None: "not told"}[one.beyond]) for one in schools
        ],
        source="The maker's limit is the profile's, or what this job says; half to one degree at the mark and "
        "waiting for codes: common practice, no source.",
        taken_from=taken_from,
    )
