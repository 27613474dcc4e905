"""The first word: the call in one headline and five lines that can be sent at once."""

from __future__ import annotations

from collections.abc import Mapping

from phasko.core.documents.analysis import FaultResult, Verdict
from phasko.core.handover.document import Excluded, Line
from phasko.core.handover.facts import Facts
from phasko.core.words import chance_words, lower_first

__all__ = ["CAUTIONS", "first_text", "five_lines", "headline", "repaired_headline", "stop_words"]

_GATE: Mapping[str, str] = {
    "go": "Open the covers.",
    "confirm_first": "Confirm first, the covers stay on.",
    "no": "The covers stay on.",
}
CAUTIONS: Mapping[str, str] = {
    "stop_cranking": "Stop cranking: valves and pistons can meet in this engine. Look first.",
    "inspect_valves": "Check the valves for bending before it runs again: leak-down or compression, once the timing is "
    "right.",
}
"""Every caution of a call, as a sentence."""
_NOTHING = "Nothing was measured or looked at yet. The covers stay on."
_KINDS_NAMED = 4
_EXCLUDED_NAMED = 8


def headline(verdict: Verdict) -> str:
    """The call and the gate in one line."""
    leader = _leader(verdict)
    if leader is None:
        return _NOTHING
    if verdict.undecided:
        return f"Undecided. {_GATE[verdict.teardown]}"
    if leader.fault == "none" and not _besides(verdict):
        return f"{leader.title}. {_GATE[verdict.teardown]}"
    both = "".join(f", and {lower_first(one.title)}" for one in _besides(verdict))
    return f"{leader.title}{both}. {_GATE[verdict.teardown]}"


def repaired_headline(facts: Facts) -> str:
    """Of a job that was repaired and measured again: what it was, whether that was found, and how it is now."""
    was, now = _leader(facts.verdict), facts.analysis.verdict
    closing = facts.told.closing
    found = {"confirmed": ", confirmed", "refuted": ", refuted", "unknown": ""}[closing.cause] if closing else ""
    first = "Undecided" if was is None or facts.verdict.undecided else was.title
    leader = _leader(now)
    after = "undecided" if leader is None or now.undecided else lower_first(leader.title)
    return f"{first}{found}. After the repair: {after}."


def stop_words(verdict: Verdict) -> str:
    """What must not be done, before anything else is read."""
    return "Do not crank or start it." if verdict.measured and "stop_cranking" in verdict.cautions else ""


def five_lines(facts: Facts, excluded: list[Excluded]) -> list[Line]:
    """What was found, how sure that is, what it is not, what to look at first, and what to take care of."""
    verdict = facts.verdict
    text, detail = facts.finding
    half = detail.split(",")[0]
    found = text or "No capture was measured"
    if half.startswith("±"):
        found = f"{found}, {half}"
    return [
        Line(title="Found", text=_sentence(found)),
        Line(title="How sure", text=_how_sure(verdict)),
        Line(title="Not it", text=_not_it(excluded)),
        Line(title="Look first", text=_done(facts) if facts.repaired else _look_first(verdict)),
        # What must not be done is about the engine as it is now.
        Line(title="Take care", text=_take_care(facts.analysis.verdict)),
    ]


def first_text(vehicle: str, title: str, five: list[Line]) -> str:
    """The same as plain text, for a message."""
    return "\n".join([f"{vehicle}: {title}", *(f"{line.title}: {line.text}" for line in five)]) + "\n"


def _leader(verdict: Verdict) -> FaultResult | None:
    return verdict.faults[0] if verdict.measured and verdict.faults else None


def _besides(verdict: Verdict) -> list[FaultResult]:
    return [one for one in verdict.faults if one.besides]


def _how_sure(verdict: Verdict) -> str:
    leader = _leader(verdict)
    if leader is None:
        return "Not at all yet."
    if verdict.undecided:
        return verdict.undecided_because or "Nothing measured separates what it could be."
    kinds = [lower_first(one.title) for one in leader.evidence if one.bits > 0][:_KINDS_NAMED]
    said = _sentence(chance_words(leader.probability))
    if not kinds:
        return f"{said} No measurement speaks for it by itself; the others are less likely."
    told = lower_first(_joined(kinds))
    if len(kinds) == 1:
        return f"{said} It rests on {told} alone."
    return f"{said} {told[:1].upper()}{told[1:]} agree."


def _not_it(excluded: list[Excluded]) -> str:
    out = list(dict.fromkeys(one.short for one in excluded if not one.open))
    left = [f"{lower_first(one.title)}, {one.chance}" for one in excluded if one.open]
    still = f" Still open: {'; '.join(left[:2])}." if left else ""
    if not out:
        return still.strip() or "Nothing is excluded yet."
    return f"{_sentence(_joined(out[:_EXCLUDED_NAMED]))}{still}"


def _look_first(verdict: Verdict) -> str:
    if verdict.teardown == "go" and verdict.opening is not None:
        return verdict.opening.see
    test = verdict.next_test
    if test is not None:
        return _sentence(f"{test.title}, {test.minutes:.0f} minutes. {test.how}".strip())
    leader = _leader(verdict)
    if leader is not None and leader.hint and leader.fault != "none":
        return f"No further test would change this call. {leader.hint}"
    return "No further test would change this call."


def _done(facts: Facts) -> str:
    """What there is to look at once it is repaired."""
    repair = facts.told.repair
    done = [one.text or one.part.replace("_", " ") for one in repair.replaced] if repair is not None else []
    words = f"Repaired: {_joined(done)}. " if done else "Repaired. "
    return f"{words}The same was recorded again; before and after stand beside each other."


def _take_care(verdict: Verdict) -> str:
    said = [CAUTIONS[one] for one in verdict.cautions if one in CAUTIONS]
    if said and verdict.measured:
        return " ".join(said[:2])
    if verdict.teardown == "go" and verdict.opening is not None and verdict.opening.hazards:
        return verdict.opening.hazards[0]
    return "Keep hands, leads and clothing clear of belts and fans; the maker's procedure and local rules come first."


def _joined(words: list[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"


def _sentence(text: str) -> str:
    text = text.strip()
    text = text[:1].upper() + text[1:]
    return text if text.endswith((".", "!", "?")) else f"{text}."
