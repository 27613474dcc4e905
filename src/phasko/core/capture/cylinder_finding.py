"""What the pressure in a cylinder says of its valves, in a sentence, and whether the cam's signal says so too."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from phasko.core import numbers
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.cylinder import Corner, FeltCylinder, travel_deg
from phasko.core.documents.analysis import Finding
from phasko.core.documents.capture import Valve, ValveEnd
from phasko.core.engine.filling import serving_cams, timing_deg
from phasko.core.words import angle_words, plus_minus

__all__ = ["CornerOff", "corner_offs", "cylinder_finding", "felt_words"]


@dataclass(frozen=True, slots=True)
class CornerOff:
    """One corner against the profile, beside what its cam's signal says, both from the pistons (deg, late positive)."""

    valve: Valve
    what: ValveEnd
    cam: str | None
    corner: Corner
    profile_deg: float | None
    offset_deg: float | None
    signal_deg: float | None
    signal_u95_deg: float

    @property
    def out(self) -> bool:
        """Whether it stands out by more than is not known of it."""
        return self.offset_deg is not None and abs(self.offset_deg) > self.corner.u95_deg

    @property
    def follows(self) -> bool | None:
        """Whether the signal says the same; ``None`` where one of them is not known."""
        if self.offset_deg is None or self.signal_deg is None:
            return None
        return abs(self.offset_deg - self.signal_deg) <= math.hypot(self.corner.u95_deg, self.signal_u95_deg)


def corner_offs(one: FeltCylinder, capture: CaptureMeasurement) -> list[CornerOff]:
    """The corners that are known, against profile and signal."""
    engine = capture.engine
    intake, exhaust = serving_cams(engine, engine.bank_of[one.cylinder])
    timing = engine.valve_timing
    found = []
    for valve, what, corner in one.corners:
        cam = intake if valve == "intake" else exhaust
        place = None if timing is None else timing_deg(timing, valve, what)
        signal, u95 = _signal(cam, one, capture)
        found.append(
            CornerOff(
                valve=valve,
                what=what,
                cam=cam,
                corner=corner,
                profile_deg=place,
                offset_deg=None if place is None else corner.angle_deg - place,
                signal_deg=signal,
                signal_u95_deg=u95,
            )
        )
    return found


def _signal(cam: str | None, one: FeltCylinder, capture: CaptureMeasurement) -> tuple[float | None, float]:
    """(offset of a cam's signal from the pistons, its half width) in the same state."""
    index = capture.index
    for reading in capture.cams:
        if reading.cam.id == cam and reading.segment == one.segment and reading.offset is not None:
            off = 0.0 if index is None else index.offset_deg
            more = 0.0 if index is None else index.u95_deg
            return reading.offset.offset.value + off, math.hypot(reading.offset.total_u95_deg, more)
    return None, 0.0


def cylinder_finding(one: FeltCylinder, capture: CaptureMeasurement) -> Finding:
    """The sentence of one cylinder, what it rests on beneath."""
    name = f"Cylinder {one.cylinder}"
    detail = _detail(one, capture)
    if one.state == "dead":
        text = f"{name} does not compress: nothing else is read from it"
        return Finding(
            text=text, emphasis="does not compress", detail=detail, short=f"{one.cylinder} does not compress"
        )
    if one.state == "fires":
        text = f"{name} burns: only its peak is read"
        return Finding(text=text, emphasis=None, detail=detail, short=f"{one.cylinder} burns")
    swept = _swept(one, capture)
    if swept is not None:
        return Finding(
            text=f"{name}: {swept}", emphasis=None, detail=detail, short=f"{one.cylinder} watched in a sweep"
        )
    offs = corner_offs(one, capture)
    if not offs:
        text = f"{name} reaches {one.peak_bar:.1f} bar; its valves cannot be told"
        return Finding(text=text, emphasis=None, detail=detail, short=f"{one.cylinder}: no corners")
    out = [off for off in offs if off.out]
    if not out:
        within = max(round(off.corner.u95_deg) for off in offs)
        text = f"{name}: its valves move as the profile says"
        if any(off.offset_deg is None for off in offs):
            text = f"{name}: intake closes and exhaust opens where it was felt; the profile has no valve timing"
        low = _low(one)
        if low is not None:
            text = (
                f"{name} reaches only {low} of the expected pressure{_lost(one)}; its valves move as the profile says"
            )
        detail = f"{detail}; corners within ± {within}°"
        short = f"{len({f.cylinder for f in capture.felt})} of {capture.engine.cylinders} felt"
        if low is not None:
            short = f"{one.cylinder} reaches {low}"
        return Finding(text=text, emphasis=low, detail=detail, short=short)
    parts = [f"{off.valve} {off.what} {angle_words(off.offset_deg or 0.0, off.corner.u95_deg)}" for off in out]
    first = angle_words(out[0].offset_deg or 0.0, out[0].corner.u95_deg)
    text = f"{name}: {', '.join(parts)}{_beside_the_signal(out, capture)}"
    return Finding(text=text, emphasis=first, detail=detail, short=f"{first}, {one.cylinder} felt")


def _swept(one: FeltCylinder, capture: CaptureMeasurement) -> str | None:
    """What the corners did while a phaser was swept; ``None`` where none was."""
    timing = capture.engine.valve_timing
    if not one.swept or timing is None:
        return None
    moved = []
    for words, corners, usual in (
        ("intake closing", [c.intake_close for c in one.swept], timing.intake_close_deg),
        ("exhaust opening", [c.exhaust_open for c in one.swept], timing.exhaust_open_deg),
    ):
        travel = travel_deg(corners)
        if travel is not None:
            first, last = (angle_words(place - usual, 3.0) for place in travel)
            moved.append(f"{words} goes from {first} to {last}")
    return f"{'; '.join(moved)}: the valves follow the phaser" if moved else "its valves do not move in the sweep"


def felt_words(captures: Sequence[CaptureMeasurement]) -> str | None:
    """The finding of the cylinder that is furthest out, short; ``None`` where none was felt."""
    every = [(one, capture) for capture in captures for one in capture.felt]
    if not every:
        return None

    def far(pair: tuple[FeltCylinder, CaptureMeasurement]) -> float:
        one, capture = pair
        return max((abs(off.offset_deg or 0.0) for off in corner_offs(one, capture) if off.out), default=0.0)

    return cylinder_finding(*max(every, key=far)).short


def _lost(one: FeltCylinder) -> str:
    """Where a low peak went."""
    assert one.line is not None
    if one.lost_by == "leak":
        return f": it leaks by {one.line.leak_mm2:.1f} mm², sound rings by {numbers.USUAL_LEAK_MM2.value:.1f}"
    if one.lost_by == "clearance":
        return ": it is tight, but squeezes less (a bent rod, a wrong piston)"
    return ""


def _low(one: FeltCylinder) -> str | None:
    if one.expected_bar is None or one.peak_bar > 0.8 * one.expected_bar:
        return None
    return f"{100.0 * one.peak_bar / one.expected_bar:.0f} %"


def _beside_the_signal(out: list[CornerOff], capture: CaptureMeasurement) -> str:
    known = [off.follows for off in out if off.follows is not None]
    if not known:
        return ""
    both = len(out) > 1
    if all(known) and capture.index is not None and not capture.index.confirms:
        # Against the wheel they read otherwise, since the wheel itself stands off the pistons.
        return "; so do the cam signals, counted from the pistons"
    if all(known):
        return "; both follow the cam signals" if both else "; it follows the cam signal"
    if not any(known):
        return "; the cam signals say otherwise" if both else "; the cam signal says otherwise"
    return "; one of them follows its cam signal"


def _detail(one: FeltCylinder, capture: CaptureMeasurement) -> str:
    about = capture.recording.description
    cycles = int(one.trace.absolute_bar.shape[0])
    parts = [
        f"mean of {cycles} cycles" if cycles > 1 else "one cycle",
        f"{one.segment} at {one.trace.mean_rpm:.0f} rpm",
    ]
    if about.temperature != "unknown":
        parts.append(about.temperature)
    if about.throttle != "unknown":
        parts.append(f"throttle {about.throttle}")
    if one.tdc_u95_deg is not None:
        parts.append(f"TDC {plus_minus(one.tdc_u95_deg)}")
    zero = one.trace.zero_bar
    parts.append("zero of the transducer not checked" if zero is None else "zero of the transducer checked at rest")
    return ", ".join(parts)[:1].upper() + ", ".join(parts)[1:]
