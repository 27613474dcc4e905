"""The repair and its proof: found, done, measured again; and where the call was wrong, that it was and why."""

from __future__ import annotations

from phasko.core.documents.analysis import EvidenceWeight, Verdict
from phasko.core.documents.repair import Closing, Repair
from phasko.core.handover.document import Proof
from phasko.core.handover.facts import Facts
from phasko.core.handover.fault_words import FAULT_WORDS
from phasko.core.handover.first_word import headline
from phasko.core.handover.parts import PART_WORDS
from phasko.core.words import GATE_WORDS, chance_words, lower_first

__all__ = ["proof", "wrong_call"]


def proof(facts: Facts) -> Proof | None:
    """``None`` while nothing was repaired, closed or recorded after a repair."""
    repair, closing = facts.told.repair, facts.told.closing
    before = facts.analysis.before_repair
    if repair is None and closing is None and before is None:
        return None
    repair = repair or Repair()
    return Proof(
        found=_found(repair),
        as_expected=repair.as_expected,
        done=[one.text or PART_WORDS[one.part] for one in repair.replaced] + ([repair.text] if repair.text else []),
        hours=repair.hours,
        done_at=repair.done_at.date().isoformat() if repair.done_at is not None else "",
        codes=_codes(repair),
        driven_km=repair.driven_km,
        symptom={"gone": "gone", "there": "still there", "unknown": ""}[repair.symptom],
        pairs=before.pairs if before is not None else [],
        now=headline(facts.analysis.verdict) if before is not None else "",
        cause=closing.cause if closing is not None else None,
        closed=f"{closing.at.date().isoformat()}{f' by {closing.by}' if closing.by else ''}" if closing else "",
        wrong=wrong_call(facts.verdict, repair, closing),
    )


def _found(repair: Repair) -> list[str]:
    found = []
    for one in repair.found:
        known = FAULT_WORDS[one.fault] if one.fault is not None else ""
        where = [*one.cams, *(f"cylinder {number}" for number in one.cylinders)]
        at = f" ({', '.join(where)})" if known and where else ""
        words = f"{known}{at}"
        found.append(f"{words}: {one.text}" if words and one.text else words or one.text)
    return [f"{text[:1].upper()}{text[1:]}" for text in found if text]


def _codes(repair: Repair) -> str:
    if repair.codes_cleared_at is None and not repair.returned:
        return ""
    cleared = f"cleared on {repair.codes_cleared_at.date().isoformat()}" if repair.codes_cleared_at else "cleared"
    back = f"; came back: {', '.join(repair.returned)}" if repair.returned else "; none came back"
    return f"{cleared}{back}"


def wrong_call(verdict: Verdict, repair: Repair | None, closing: Closing | None) -> list[str]:
    """Where the call was wrong: what it said and how sure, what was found, how likely that was held, what spoke for the
    wrong one, and why in a person's words. Empty where it was right or nothing is known."""
    if closing is None or closing.cause != "refuted":
        return []
    called = _called(verdict, closing)
    said = []
    if called is not None:
        gate = closing.called.teardown if closing.called is not None else verdict.teardown
        call = f"{lower_first(called[0])}, {chance_words(called[1])}"
        said.append(f"The call was wrong. It said {call}: {GATE_WORDS[gate]}.")
    faults = [one.fault for one in (repair.found if repair is not None else []) if one.fault is not None]
    for fault in faults:
        held = _held(verdict, closing, fault)
        chance = f", which it held at {chance_words(held)}" if held is not None else ""
        said.append(f"Found: {FAULT_WORDS[fault]}{chance}.")
    misled = [e.text for e in _leader_evidence(verdict) if e.bits > 1.0][:3]
    if misled:
        said.append(f"What spoke for the wrong one: {'; '.join(misled)}.")
    if closing.why:
        said.append(closing.why)
    return said


def _called(verdict: Verdict, closing: Closing) -> tuple[str, float] | None:
    if closing.called is not None and closing.called.faults:
        first = closing.called.faults[0]
        return first.title or first.fault.replace("_", " "), first.probability
    return (verdict.faults[0].title, verdict.faults[0].probability) if verdict.faults else None


def _held(verdict: Verdict, closing: Closing, fault: str) -> float | None:
    if closing.called is not None:
        return sum(one.probability for one in closing.called.faults if one.fault == fault and not one.besides)
    return sum(one.probability for one in verdict.faults if one.fault == fault and not one.besides)


def _leader_evidence(verdict: Verdict) -> list[EvidenceWeight]:
    return list(verdict.faults[0].evidence) if verdict.faults else []
