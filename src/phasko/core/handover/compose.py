"""Joins everything of one job to its hand-over document."""

from __future__ import annotations

from phasko.core.call.opening import costs_both_ways
from phasko.core.documents.analysis import CaptureResult, Verdict
from phasko.core.documents.capture import CaptureDescription
from phasko.core.handover.document import (
    CaptureLine,
    Chance,
    CycleRow,
    EvidenceRow,
    HandOver,
    MarkSketch,
    Probed,
    SeeOnOpening,
)
from phasko.core.handover.excluded import exclusions
from phasko.core.handover.facts import Facts
from phasko.core.handover.first_word import CAUTIONS, five_lines, headline, repaired_headline, stop_words
from phasko.core.handover.measured import measured_rows
from phasko.core.handover.owner import owner_page
from phasko.core.handover.parts import parts_not_needed
from phasko.core.handover.proof import proof
from phasko.core.handover.side_findings import side_findings
from phasko.core.words import cam_name, chance_words, count_words, lower_first

__all__ = ["hand_over"]

_ASSUMED = (
    "index_unknown",
    "profile_uncertain",
    "edges_uncertain",
    "reference_of_another_state",
    "phasers_active",
    "offset_ambiguous",
    "turn_ambiguous",
    "wheel_recognised",
    "crank_from_aux",
    "filter_on",
    "mirrored_signal",
)
"""Problems of a capture that leave something to be taken for granted."""
# A table on paper: that many show a drift from turn to turn, more would take a page.
_MOST_CYCLES = 16
_INSULATION = {
    "closed": "Pierced insulation was closed again.",
    "not_pierced": "No insulation was pierced.",
    "open": "Pierced insulation is still open: close it before the car leaves.",
    "unknown": "Not noted whether pierced insulation was closed again: look before the car leaves.",
}


def hand_over(facts: Facts) -> HandOver:
    """The whole document of a job, from whatever is known of it."""
    verdict = facts.verdict
    excluded = exclusions(verdict)
    finding, detail = facts.finding
    leader = verdict.faults[0] if verdict.measured and verdict.faults else None
    told = facts.told
    return HandOver(
        head=facts.head,
        headline=repaired_headline(facts) if facts.repaired else headline(verdict),
        stop=stop_words(facts.analysis.verdict),
        five=five_lines(facts, excluded),
        finding=finding,
        finding_detail=detail,
        measured=measured_rows(facts),
        speaks_for=list(leader.for_) if leader is not None else [],
        speaks_against=list(leader.against) if leader is not None else [],
        excluded=excluded,
        assumed=_assumed(facts),
        not_counted=[f"{one.text}: {one.reason}." for one in verdict.not_counted],
        evidence=_evidence(verdict),
        chances=_chances(verdict),
        opening=_opening(verdict),
        costs=costs_both_ways(verdict, told.costs),
        limits=[f"{one.words}{' (used)' if one.used else ''}" for one in verdict.schools],
        not_needed=parts_not_needed(verdict, told),
        side_findings=side_findings(facts),
        probed=_probed(facts),
        insulation=_INSULATION[told.hook_up.insulation if told.hook_up is not None else "unknown"],
        cautions=_cautions(facts.analysis.verdict if facts.repaired else verdict),
        captures=[
            _capture_line(capture, described, facts)
            for capture, described in zip(facts.analysis.captures, facts.described, strict=True)
        ],
        cycles=[row for pair in facts.captures for row in _cycles(*pair, facts)],
        drives=[f"{road.name}: {road.text}" for road in facts.analysis.road_tests],
        looks=[f"{one.title}: {one.answer}. {one.weight}" for one in facts.analysis.looks],
        seen_marks=_seen_marks(facts),
        photos=list(facts.photos),
        notes=[_note(one.text, one.by, one.at.date().isoformat() if one.at else "") for one in told.notes],
        proof=proof(facts),
        owner=owner_page(facts),
        software=facts.analysis.provenance.label,
        numbers=facts.analysis.provenance.numbers,
        engine_sha256=facts.analysis.provenance.engine_sha256,
    )


def _note(text: str, by: str, at: str) -> str:
    who = ", ".join(part for part in (by, at) if part)
    return f"{text} ({who})" if who else text


def _assumed(facts: Facts) -> list[str]:
    said = []
    for capture, _ in facts.captures:
        said += [problem.text for problem in capture.problems if problem.code in _ASSUMED]
        for cam in capture.cams:
            if cam.reference.startswith("bank:") and cam.offset_deg is not None:
                other = facts.profile.cam(cam.reference.removeprefix("bank:"))
                name = cam_name(other, facts.profile).lower() if other is not None else "the other bank"
                said.append(f"The {name} is taken for good; what both banks share cannot be seen against it.")
        crank = capture.crank
        if crank is not None and crank.index_offset_deg is None and facts.profile.crank.index_deg is not None:
            said.append(
                "The pistons are taken to stand where the crank wheel says; neither pressure nor the crank's speed "
                "proved it in this capture."
            )
        said += [f"{row.name}: {lower_first(row.assumes)}" for row in capture.standards if row.used and row.assumes]
    if not facts.verdict.measured:
        said.append("Nothing was measured; what stands here was told.")
    return list(dict.fromkeys(_stop(one) for one in said if one))


def _stop(text: str) -> str:
    text = text[:1].upper() + text[1:]
    return text if text.endswith((".", "?", "!")) else f"{text}."


def _evidence(verdict: Verdict) -> list[EvidenceRow]:
    if not verdict.measured or not verdict.faults:
        return []
    without = {one.kind: one for one in verdict.without}
    rows = []
    for one in verdict.faults[0].evidence:
        left = without.get(one.kind)
        words = f"{left.words}, {chance_words(left.probability)}" if left is not None else ""
        rows.append(EvidenceRow(kind=one.title, bits=one.bits, text=one.text, without=words))
    return rows


def _chances(verdict: Verdict) -> list[Chance]:
    if not verdict.measured:
        return []
    return [
        Chance(
            title=one.title,
            probability=one.probability,
            words=chance_words(one.probability),
            besides=bool(one.besides),
        )
        for one in verdict.faults
        if one.probability >= 0.001
    ]


def _opening(verdict: Verdict) -> SeeOnOpening | None:
    one = verdict.opening
    if one is None:
        return None
    return SeeOnOpening(
        see=one.see,
        false_if=one.false_if,
        together=one.together,
        inspect=one.inspect,
        hazards=one.hazards,
        hours=one.hours,
        marks=[MarkSketch(**mark.model_dump(), words=_mark_words(mark.off_deg, mark.teeth)) for mark in one.marks],
    )


def _seen_marks(facts: Facts) -> list[MarkSketch]:
    """Of the engine that the document is about; none where a photo of the look shows them."""
    if any(photo.station == "look" for photo in facts.photos):
        return []
    drive = facts.profile.drive
    teeth = drive.crank_sprocket_teeth if drive is not None else None
    found = []
    for look in facts.told.looks:
        cam = facts.profile.cam(look.cam) if look.cam is not None else None
        aside = facts.repaired and look.repair == "after"
        if look.question != "marks" or cam is None or aside or (look.answer == "out" and look.amount_deg is None):
            continue
        off = look.amount_deg or 0.0
        count = off * teeth / 360.0 if teeth else None
        name = cam_name(cam, facts.profile)
        found.append(MarkSketch(cam=cam.id, name=name, off_deg=off, teeth=count, words=_mark_words(off, count)))
    return found


def _mark_words(off_deg: float, teeth: float | None) -> str:
    """How far a mark stands off, in teeth of its sprocket where that is known, else in degrees of the cam."""
    if abs(off_deg) < 1.0:
        return "in line"
    way = "late" if off_deg > 0 else "early"
    if teeth is None:
        return f"{abs(off_deg / 2):.0f}° of the cam {way}"
    whole = round(abs(teeth))
    if whole and abs(abs(teeth) - whole) < 0.12:
        return f"{count_words(whole)} {'tooth' if whole == 1 else 'teeth'} {way}"
    return f"{abs(teeth):.1f} teeth {way}"


def _probed(facts: Facts) -> list[Probed]:
    if facts.told.hook_up is None:
        return []
    return [
        Probed(
            signal=wire.signal,
            at={"sensor": "at the sensor", "control_unit": "at the control unit"}[wire.at],
            pin=wire.pin,
            colour=wire.colour,
        )
        for wire in facts.told.hook_up.wires
    ]


def _cautions(verdict: Verdict) -> list[str]:
    said = [CAUTIONS.get(one, _stop(one.replace("_", " "))) for one in verdict.cautions]
    if verdict.opening is not None and verdict.teardown != "no":
        said += verdict.opening.hazards
    local = "The maker's procedure, local rules and licensed practice come first."
    if not any("maker's procedure" in one for one in said):
        said.append(local)
    return said


def _capture_line(capture: CaptureResult, described: CaptureDescription, facts: Facts) -> CaptureLine:
    hashes = {one.file: one.sha256 for one in facts.analysis.provenance.captures}
    state = [
        described.condition or "",
        "" if described.temperature == "unknown" else described.temperature,
        "" if described.throttle == "unknown" else f"throttle {described.throttle}",
        "" if described.phasers == "unknown" else f"phasers {described.phasers}",
        {"present": "symptom there", "absent": "symptom not there", "unknown": ""}[described.symptom],
    ]
    left = [f"{one.kind.replace('_', ' ')} {one.to_s - one.from_s:.1f} s" for one in capture.segments]
    return CaptureLine(
        title=described.title or capture.file.removesuffix(".capture.json"),
        file=capture.file,
        state=", ".join(part for part in state if part),
        recorded_at=described.recorded_at.isoformat(timespec="minutes") if described.recorded_at is not None else "",
        rpm=capture.crank.mean_rpm if capture.crank is not None else None,
        cycles=capture.crank.cycles if capture.crank is not None else None,
        repair=described.repair or "before",
        left_out=left,
        said=[problem.text for problem in capture.problems],
        sha256=hashes.get(capture.file, ""),
    )


def _cycles(capture: CaptureResult, described: CaptureDescription, facts: Facts) -> list[CycleRow]:
    title = described.title or capture.file.removesuffix(".capture.json")
    rows = []
    for cam in capture.cams:
        known = facts.profile.cam(cam.cam)
        if cam.per_cycle:
            name = cam_name(known, facts.profile) if known is not None else cam.cam
            offsets = [one.offset_deg for one in cam.per_cycle[:_MOST_CYCLES]]
            rows.append(CycleRow(capture=title, cam=f"{name}, {cam.segment}", offsets_deg=offsets))
    return rows
