"""The result document as text for a terminal or a message."""

from __future__ import annotations

from phasko.core.documents import Analysis
from phasko.core.documents.analysis import CamResult, CaptureResult, CompressionResult, Verdict
from phasko.core.documents.repair_results import BeforeRepair
from phasko.core.words import angle_words, plus_minus

__all__ = ["plain_text"]

_GATE = {"go": "Covers off", "confirm_first": "Covers stay on for now: confirm first", "no": "Covers stay on"}
_CAUTIONS = {
    "stop_cranking": "Stop cranking: valves and pistons can meet in this engine. Look first.",
    "inspect_valves": "Inspect the valves before the engine is turned by the starter again.",
}


def plain_text(analysis: Analysis) -> str:
    """Measurement first, capture by capture, then the call with its reasons, the gate and the next test."""
    lines: list[str] = []
    for capture in analysis.captures:
        lines += [*_capture(capture), ""]
    if analysis.elongation is not None:
        lines += [analysis.elongation.words, ""]
    if analysis.conditions is not None and analysis.conditions.said:
        lines += [*analysis.conditions.said, ""]
    if analysis.before_repair is not None:
        lines += [*_before(analysis.before_repair), ""]
    made_by = f"{analysis.provenance.label}, numbers {analysis.provenance.numbers}"
    return "\n".join([*lines, *_verdict(analysis.verdict), "", made_by]) + "\n"


def _before(before: BeforeRepair) -> list[str]:
    """The call as it stood before the repair, and what changed since."""
    first = before.verdict.faults[0] if before.verdict.faults else None
    lines = ["Before the repair"]
    if first is not None and before.verdict.measured:
        lines.append(f"  {100 * first.probability:3.0f} %  {first.title}")
    for pair in before.pairs:
        lines.append(f"  {pair.before} and {pair.after}")
        lines += [f"    {one.what}: {one.before} before, {one.after} after" for one in pair.changes if one.real]
    return lines


def _capture(capture: CaptureResult) -> list[str]:
    lines = [capture.file]
    if capture.finding:
        lines += [f"  {capture.finding.text}", f"  {capture.finding.detail}"]
    if capture.crank and capture.crank.mean_rpm is not None:
        crank = capture.crank
        lines.append(f"  Wheel {crank.wheel}, {crank.mean_rpm:.0f} rpm, {crank.cycles} whole cycles")
    lines += [_cam(cam) for cam in capture.cams if cam.offset_deg is not None]
    lines += [f"  {phaser.text}" for phaser in capture.phasers]
    lines += [f"  {capture.together.text}"] if capture.together is not None else []
    lines += _compression(capture.compression)
    lines += [f"  ! {problem.text}" for problem in capture.problems]
    return lines


def _compression(found: CompressionResult | None) -> list[str]:
    if found is None:
        return []
    source = found.source.replace("_", " ")
    count = "?" if found.events_per_cycle is None else found.events_per_cycle
    lines = [f"  Compression by {source}: {count} of {found.expected_events} compress per 720°"]
    named = [c for c in found.cylinders if c.relative is not None and c.u95 is not None]
    if named:
        each = [f"{c.cylinder}: {100 * (c.relative or 0):.0f} ± {100 * (c.u95 or 0):.0f} % {c.state}" for c in named]
        lines.append(f"    {'; '.join(each)}")
    return lines


def _cam(cam: CamResult) -> str:
    assert cam.offset_deg is not None and cam.total_u95_deg is not None
    pitches = "" if cam.pitches is None else f", {cam.pitches:.2f} pitches"
    spread = "" if cam.cycle_spread_deg is None else f", {cam.cycle_spread_deg:.2f}° from cycle to cycle"
    words = angle_words(cam.offset_deg, cam.total_u95_deg)
    return f"  {cam.cam} ({cam.segment}): {words} {plus_minus(cam.total_u95_deg)}{pitches}{spread}; {cam.state}"


def _verdict(verdict: Verdict) -> list[str]:
    lines = ["The call"]
    if verdict.undecided:
        lines.append(f"  Undecided. {verdict.undecided_because}")
    for fault in verdict.faults:
        if fault.probability >= 0.005 and verdict.measured:
            lines.append(f"  {100 * fault.probability:3.0f} %  {fault.title}")
            lines += [f"         for: {text}" for text in fault.for_]
            lines += [f"         against: {text}" for text in fault.against]
    lines.append(f"{_GATE[verdict.teardown]}. {verdict.teardown_because}")
    if verdict.next_test:
        test = verdict.next_test
        lines.append(f"Next test, {test.minutes:.0f} min{', cranks' if test.cranks else ''}: {test.title}. {test.why}")
    lines += [_CAUTIONS.get(caution, caution) for caution in verdict.cautions]
    return lines
