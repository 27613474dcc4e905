"""Why an explanation has its chance, why the gate stands where it does, and what a limit rests on."""

from __future__ import annotations

from collections.abc import Iterator

from phasko.core import numbers
from phasko.core.documents.analysis import Analysis
from phasko.core.documents.verdict_results import FaultResult
from phasko.core.why.answer import Part, Why

__all__ = ["chance_whys"]

_GATE_WORDS = {"no": "Covers stay on", "confirm_first": "Confirm first", "go": "Open up"}


def chance_whys(analysis: Analysis) -> Iterator[Why]:
    """One for each explanation, and one for the gate; none before anything is measured."""
    verdict = analysis.verdict
    if not verdict.measured:
        return
    taken_from = _taken_from(analysis)
    for fault in verdict.faults:
        yield _chance(fault, taken_from)
    least, odds = numbers.GATE_PROBABILITY, numbers.GATE_ODDS
    yield Why(
        id="gate",
        title="The gate",
        value=_GATE_WORDS[verdict.teardown],
        formula="Open up = surely enough behind the covers, and two different kinds of evidence agree, and nothing "
        "measured contradicts it. What is typical of the type never opens it.",
        parts=[
            Part(name="Chance that it lies behind the covers, at least", value=f"{100 * least.value:.0f} %"),
            Part(name="The second kind against each harmless explanation, at least", value=f"{odds.value:.0f} to 1"),
            Part(
                name="No single measurement further off than",
                value=f"{numbers.GATE_CONTRADICTION.value:g} times its half width",
            ),
            Part(name="So", value=verdict.teardown_because),
        ],
        source="Our own choice, since a wrong teardown is the worst failure; how often it was wrong on captures of a "
        "known truth stands in the documentation of the call.",
        taken_from=taken_from,
    )


def _taken_from(analysis: Analysis) -> str:
    captures = len(analysis.provenance.captures)
    told = ["no capture" if not captures else "one capture" if captures == 1 else f"{captures} captures"]
    for count, one, many in (
        (len(analysis.looks), "one look", "looks"),
        (len(analysis.road_tests), "one road test", "road tests"),
    ):
        if count:
            told.append(one if count == 1 else f"{count} {many}")
    words = " and ".join(told) if len(told) < 3 else f"{', '.join(told[:-1])} and {told[-1]}"
    return f"{words[0].upper()}{words[1:]} of this job"


def _chance(fault: FaultResult, taken_from: str) -> Why:
    besides = "/besides" if fault.besides else ""
    parts = [
        Part(name=f"{weight.title}: {weight.text}", value=_odds(weight.bits))
        for weight in sorted(fault.evidence, key=lambda w: -abs(w.bits))
    ]
    return Why(
        id=f"chance/{fault.fault}{besides}",
        title=fault.title or fault.fault.replace("_", " "),
        value=_in_100(fault.probability),
        formula="Chance ∝ how usual it is × how well it explains each thing that was measured or seen; all "
        "explanations together make 100 in 100.",
        parts=parts,
        source="Bayes's rule. How usual each fault is, and how reliable each look: the table of numbers in the "
        f"documentation, version {numbers.NUMBERS_VERSION}, each with its source.",
        taken_from=taken_from,
    )


def _odds(bits: float) -> str:
    # Beyond a thousand to one nobody weighs any more, and the model itself is less sure than that.
    odds = min(2.0 ** abs(bits), 1000.0)
    size = f"{odds:.0f}" if odds >= 10 else f"{odds:.1f}"
    if odds < 1.2:
        return "says nothing"
    return f"{size} to 1 {'for' if bits > 0 else 'against'} it" + (" or more" if odds >= 1000.0 else "")


def _in_100(probability: float) -> str:
    if probability < 0.01:
        return "under 1 in 100"
    return "over 99 in 100" if probability > 0.99 else f"{100 * probability:.0f} in 100"
