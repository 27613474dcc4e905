"""What moved together: one cam, all of one chain, or everything, and where in the drive that points."""

from __future__ import annotations

from collections.abc import Sequence

from phasko.core import numbers
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.standards_results import ElongationResult, TogetherResult
from phasko.core.engine.drawing import drive_loops
from phasko.core.phase.reading import CamReading
from phasko.core.words import cam_name, drive_word, lower_first

__all__ = ["moved_together"]


def moved_together(capture: CaptureMeasurement, elongation: ElongationResult | None) -> TogetherResult | None:
    """Which cams of a capture stand off alike; ``None`` where fewer than two were read against a standard. Phasers that
    were active may have moved a cam on purpose, and the sentence says so."""
    readings = [r for r in capture.in_one_state if not r.swapped]
    if len(readings) < 2:
        return None
    engine = capture.engine
    off = [r for r in readings if abs(_value(r)) > _total(r) + numbers.IN_TIME_WORDS_DEG.value]
    if not off:
        return TogetherResult(cams=[], offset_deg=None, text="All cams stand where they should.")
    cams = [r.cam.id for r in off]
    alike = _alike(off)
    mean = sum(_value(r) for r in off) / len(off) if alike else None
    grows = elongation is not None and elongation.fits and elongation.percent > elongation.u95_percent
    if grows and not alike and len(off) == len(readings):
        text = f"Later the further along the strand: a longer {drive_word(engine)}."
        points = [loop.around for loop in drive_loops(engine)]
    else:
        text, points = _pattern(readings, off, alike, engine)
    if _may_be_driven(off, capture):
        text += " Phasers were active: a cam may have been moved on purpose, so this says nothing about the drive yet."
    return TogetherResult(cams=cams, offset_deg=mean, points_to=points, text=text)


def _pattern(
    readings: Sequence[CamReading], off: Sequence[CamReading], alike: bool, engine: EngineProfile
) -> tuple[str, list[list[str]]]:
    """(one sentence, the loops it points to)."""
    loops = [loop.around for loop in drive_loops(engine)]
    word = drive_word(engine)
    banks = sorted({r.cam.bank for r in off})
    several = len({r.cam.bank for r in readings}) > 1
    whole_banks = [b for b in banks if all(r in off for r in readings if r.cam.bank == b)]
    if len(off) == 1:
        name = lower_first(cam_name(off[0].cam, engine))
        phaser = "its phaser, " if off[0].cam.phaser is not None else ""
        text = f"Only the {name}: {phaser}its bolt, a tooth at its own sprocket, or its signal wheel."
        return text, [loop for loop in loops if off[0].cam.id in loop]
    if len(off) == len(readings) and alike:
        subject = "Both cams" if len(off) == 2 else "All cams"
        each = ", all banks" if several else ""
        text = (
            f"{subject} alike{each}: the crank sprocket or its {word}, or the crank's signal wheel the other way round."
        )
        return text, [loop for loop in loops if "crank" in loop]
    if len(banks) == 1 and whole_banks and alike:
        subject = "Both cams" if len(off) == 2 else "All cams"
        own = {r.cam.id for r in off}
        idlers = {name for loop in loops if own & set(loop) for name in loop if name.startswith("idler")}
        return (
            f"{subject} of bank {banks[0]} alike: that {word}, or its sprocket.",
            [loop for loop in loops if (own | idlers) & set(loop)],
        )
    names = ", ".join(lower_first(cam_name(r.cam, engine)) for r in off)
    if alike:
        text = f"Alike, but not one {word}: {names}. Two faults, or a reference of another version."
    else:
        text = f"Each by its own amount: {names}. One fault of the {word} would move them alike."
    return text, [loop for loop in loops if any(r.cam.id in loop for r in off)]


def _alike(off: Sequence[CamReading]) -> bool:
    """Whether the offsets agree within what their edges leave open; the wheel's place is common to all of them."""
    values = [_value(r) for r in off]
    apart = max(values) - min(values)
    open_deg = [numbers.ALIKE_DEG.value, *(r.reference.edges_u95_deg for r in off)]
    return apart <= max(open_deg) and len({value > 0.0 for value in values}) == 1


def _may_be_driven(off: Sequence[CamReading], capture: CaptureMeasurement) -> bool:
    """Whether a phaser may have moved one of those cams within its range."""
    if capture.recording.description.phasers not in ("active", "unknown"):
        return False
    for reading in off:
        phaser = reading.cam.phaser
        if phaser is None or reading.segment != "running":
            continue
        low, high = phaser.authority_deg
        if low - _total(reading) <= _value(reading) <= high + _total(reading):
            return True
    return False


def _value(reading: CamReading) -> float:
    assert reading.offset is not None
    return reading.offset.offset.value


def _total(reading: CamReading) -> float:
    assert reading.offset is not None
    return reading.offset.total_u95_deg
