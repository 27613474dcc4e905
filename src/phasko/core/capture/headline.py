"""The measurement of one capture in a plain sentence, before any explanation."""

from __future__ import annotations

from collections.abc import Sequence

from phasko.core import numbers
from phasko.core.capture.contradictions import contradiction_finding, contradictions
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.cylinder import IndexOffset
from phasko.core.documents.analysis import Finding
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.timing_drive import pitches_of
from phasko.core.phase.reading import CamReading
from phasko.core.words import angle_words, cam_name, count_words, drive_word, pitch_words, plus_minus

__all__ = ["job_finding", "phase_finding"]


def phase_finding(capture: CaptureMeasurement, profile: EngineProfile) -> Finding:
    """What the cam signals read: all alike, one apart, or each on its own; with uncertainty, reference and state. A
    signal that was gone for a while is part of the sentence."""
    found = _offsets(capture, profile)
    gone: dict[str, float] = {}
    for event in capture.events:
        if event.kind == "silent":
            gone[event.signal] = gone.get(event.signal, 0.0) + event.to_s - event.time_s
    if not gone:
        return found
    signal = max(gone, key=lambda name: gone[name])
    cam = profile.cam(signal)
    name = f"the {cam_name(cam, profile)[0].lower()}{cam_name(cam, profile)[1:]}" if cam else f"the {signal}"
    text = f"{found.text}, but {name} signal is gone for {gone[signal]:.2f} s"
    return found.model_copy(update={"text": text})


def job_finding(captures: Sequence[CaptureMeasurement], profile: EngineProfile) -> Finding | None:
    """The measurement that the call of a job rests on; ``None`` without captures.

    Where captures of one state contradict each other it says so. Else it is that of the capture that stands farthest
    from its reference, of those of one state the newest; captures from while the symptom was absent only where there
    are no others. Where nothing has a reference, the newest that could be measured.
    """
    found = contradictions(captures)
    if found:
        return contradiction_finding(found, profile)
    # A fault that was not there while it was recorded proves nothing; such captures speak only when no others do.
    shown = [c for c in captures if c.recording.description.symptom != "absent" and c.turned] or list(captures)
    # Later captures of a state replace earlier ones: a dictionary keeps the last.
    newest = {_state(capture): capture for capture in shown if capture.in_one_state}
    if newest:
        return phase_finding(max(newest.values(), key=_farthest), profile)
    return phase_finding(_most_said(shown), profile) if shown else None


def _state(capture: CaptureMeasurement) -> tuple[str, ...]:
    about = capture.recording.description
    return (about.condition or "", about.temperature, about.phasers)


def _farthest(capture: CaptureMeasurement) -> float:
    return max(abs(_value(reading)) for reading in capture.in_one_state)


def _most_said(captures: Sequence[CaptureMeasurement]) -> CaptureMeasurement:
    """The newest of those that say most: banks compared, else cams seen, else a crank that turned."""

    def said(capture: CaptureMeasurement) -> int:
        seen = [reading for reading in capture.cams if reading.relative is not None]
        return 3 if any(reading.bank for reading in seen) else 2 if seen else 1 if capture.turned else 0

    return max(reversed(captures), key=said)


def _offsets(capture: CaptureMeasurement, profile: EngineProfile) -> Finding:
    readings = capture.in_one_state
    if not readings:
        return _without_reference(capture, profile)
    values = [_value(reading) for reading in readings]
    detail = _detail(capture, readings)
    out = [r for r in readings if abs(_value(r)) > r.cam.tolerance_deg]
    if not out and max(abs(v) for v in values) <= max(_total(r) for r in readings) + numbers.IN_TIME_WORDS_DEG.value:
        return Finding(text=f"{_subject(len(readings))} in time", emphasis=None, detail=detail, short="in time")
    if _alike(values):
        mean = sum(values) / len(values)
        emphasis = angle_words(mean, max(_total(r) for r in readings))
        text = f"{_subject(len(readings))} {emphasis}{_pitches(mean, readings[0], profile)}"
        return Finding(text=text, emphasis=emphasis, detail=detail, short=emphasis)
    return _each(readings, out, profile, detail)


def _without_reference(capture: CaptureMeasurement, profile: EngineProfile) -> Finding:
    """What can be said where nothing is known about where the cams should be: banks against each other, or patterns."""
    seen = [r for r in capture.cams if r.relative is not None]
    if not seen:
        return Finding(
            text="No cam could be measured", emphasis=None, detail=_why_nothing(capture), short="no cam measured"
        )
    compared = [r for r in seen if r.bank is not None]
    if compared:
        bank = max((r.bank for r in compared if r.bank is not None), key=lambda b: abs(b.offset_deg))
        own, other = profile.cam(bank.cam), profile.cam(bank.other)
        assert own is not None and other is not None
        spacing = "the profile's spacing" if bank.from_profile else "an even spacing of the banks"
        detail = f"{plus_minus(bank.total_u95_deg)}, after {spacing}; bank {other.bank} is assumed to be right"
        against = f"against bank {other.bank}"
        calm = abs(bank.offset_deg) <= bank.total_u95_deg + numbers.IN_TIME_WORDS_DEG.value
        reads = "in step" if calm else angle_words(bank.offset_deg, bank.total_u95_deg)
        emphasis = None if calm else reads
        return Finding(
            text=f"{cam_name(own, profile)} reads {reads} {against}",
            emphasis=emphasis,
            detail=detail,
            short=f"{reads} {against}",
        )
    spread = max(r.relative.spread_deg for r in seen if r.relative is not None)
    patterns = ", ".join(f"{cam_name(r.cam, profile)} {len(r.cam.edges)} edges per cycle" for r in seen[:4])
    text = f"A {capture.wheel} crank wheel; {patterns[0].lower() + patterns[1:]}"
    detail = f"Steady within {spread:.1f}° from cycle to cycle; nothing is known about where the cams should be"
    return Finding(text=text, emphasis=None, detail=detail, short="nothing to compare with")


def _each(readings: Sequence[CamReading], out: Sequence[CamReading], profile: EngineProfile, detail: str) -> Finding:
    if len(out) > 1 and _alike([_value(r) for r in out]):
        return _group(readings, out, profile, detail)
    ranked = sorted(readings, key=lambda r: -abs(_value(r)))
    # A sentence holds two cams; of more the two farthest are named and the rest counted.
    named = list(out) if 0 < len(out) < 3 and len(readings) > 2 else ranked[:2]
    named.sort(key=lambda r: -abs(_value(r)))
    lead = named[0]
    emphasis = angle_words(_value(lead), _total(lead))
    text = f"{cam_name(lead.cam, profile)} reads {emphasis}{_pitches(_value(lead), lead, profile)}"
    for other in named[1:]:
        name = cam_name(other.cam, profile)
        calm = abs(_value(other)) <= _total(other) + numbers.IN_TIME_WORDS_DEG.value
        reads = "in time" if calm else angle_words(_value(other), _total(other))
        text += f", {name[0].lower() + name[1:]} {reads}"
    rest = len(readings) - len(named)
    if rest and len(out) == len(named):
        text += f"; the other {count_words(rest) if rest > 1 else 'one'} in time"
    return Finding(text=text, emphasis=emphasis, detail=detail, short=emphasis)


def _group(readings: Sequence[CamReading], out: Sequence[CamReading], profile: EngineProfile, detail: str) -> Finding:
    """Several cams off by the same amount, the others in time: told as one."""
    mean = sum(_value(r) for r in out) / len(out)
    emphasis = angle_words(mean, max(_total(r) for r in out))
    bank = out[0].cam.bank
    of_bank = [r for r in readings if r.cam.bank == bank]
    whole_bank = {r.cam.id for r in out} == {r.cam.id for r in of_bank}
    names = [cam_name(r.cam, profile) for r in out]
    spelt = " and ".join([", ".join([names[0], *(n[0].lower() + n[1:] for n in names[1:-1])]), names[-1].lower()])
    subject = f"{'Both' if len(out) == 2 else 'All'} bank {bank} cam signals read" if whole_bank else f"{spelt} read"
    rest = len(readings) - len(out)
    calm = all(abs(_value(r)) <= _total(r) + numbers.IN_TIME_WORDS_DEG.value for r in readings if r not in out)
    others = f"; the other {count_words(rest) if rest > 1 else 'one'} {'in time' if calm else 'less'}"
    return Finding(
        text=f"{subject} {emphasis}{_pitches(mean, out[0], profile)}{others if rest else ''}",
        emphasis=emphasis,
        detail=detail,
        short=emphasis,
    )


def _alike(values: Sequence[float]) -> bool:
    return max(values) - min(values) <= numbers.ALIKE_DEG.value and len({v > 0 for v in values}) == 1


def _value(reading: CamReading) -> float:
    assert reading.offset is not None
    return reading.offset.offset.value


def _total(reading: CamReading) -> float:
    assert reading.offset is not None
    return reading.offset.total_u95_deg


def _subject(count: int) -> str:
    if count == 1:
        return "The cam signal reads"
    return f"{'Both' if count == 2 else 'All ' + count_words(count)} cam signals read"


def _pitches(offset_deg: float, reading: CamReading, profile: EngineProfile) -> str:
    counted = pitches_of(offset_deg, profile.drive, reading.cam.id)
    if (
        counted is None
        or round(counted.pitches) == 0
        or abs(counted.pitches - round(counted.pitches)) > numbers.WHOLE_PITCH_WORDS.value
    ):
        return ""
    return f", {pitch_words(counted.pitches, drive_word(profile))}"


def _detail(capture: CaptureMeasurement, readings: Sequence[CamReading]) -> str:
    about = capture.recording.description
    total = max(_total(r) for r in readings)
    offsets = [r.offset for r in readings if r.offset is not None]
    read = min(o.offset.cycles_used for o in offsets)
    # A cam that was driven was read before that only.
    cycles = read if capture.sweeps else _whole_cycles(capture, readings[0].segment) or read
    unsteady = any(o.state == "unsteady" for o in offsets)
    steadiness = f"{'unsteady' if unsteady else 'steady'} over {cycles} cycle{'' if cycles == 1 else 's'}"
    against = "known good captures" if all(r.reference.source == "reference" for r in readings) else "the profile"
    parts = [f"{plus_minus(total)} against {against}", steadiness, readings[0].segment]
    if about.temperature != "unknown":
        parts.append(about.temperature)
    if about.phasers != "unknown" and any(r.cam.phaser for r in readings):
        parts.append(f"phasers {about.phasers}")
    return ", ".join(parts) + f"; {_tdc_words(capture.index)}"


def _tdc_words(index: IndexOffset | None) -> str:
    """What TDC rests on, and where the wheel stands against it."""
    if index is None:
        return "TDC assumed from the wheel"
    if index.confirms:
        return f"TDC confirmed by {index.by} {plus_minus(index.u95_deg)}"
    stands = f"{angle_words(index.offset_deg, index.u95_deg)} {plus_minus(index.u95_deg)}"
    return f"by {index.by} the crank wheel stands {stands}"


def _whole_cycles(capture: CaptureMeasurement, kind: str) -> int:
    """Whole cycles of that state, as they are numbered on screen; edges of cut cycles are measured besides."""
    spans = [(s.from_s, s.to_s) for s in capture.segments if s.kind == kind]
    return sum(any(low <= c.from_s and c.to_s <= high for low, high in spans) for c in capture.cycles)


def _why_nothing(capture: CaptureMeasurement) -> str:
    """The problem that explains it best: what stopped the measuring, else the first said."""
    stops = ("low_sample_rate", "wheel_mismatch", "no_crank_signal", "no_crank_channel", "index_unknown")
    for problem in sorted(capture.problems, key=lambda p: p.code not in stops):
        return problem.text
    return f"Less than {numbers.CYCLES_LEAST.value:.0f} whole cycle with cam edges." if capture.clock else ""
