"""How much a cylinder compresses whose cams are out of time, against one in time."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache

import numpy as np

from phasko.core.angles import wrap_cycle
from phasko.core.arrays import Floats
from phasko.core.documents.capture import Valve, ValveEnd
from phasko.core.documents.engine import EngineProfile, Geometry, ValveTiming
from phasko.core.engine.gas_torque import POLYTROPIC, USUAL_CLOSE_DEG, USUAL_OPEN_DEG, usual_geometry
from phasko.core.engine.slider_crank import cylinder_volume

__all__ = [
    "USUAL_TIMING",
    "compression_left",
    "compression_left_each",
    "cylinder_compression",
    "patterns_at_rest",
    "serving_cams",
    "timing_deg",
]

USUAL_TIMING = ValveTiming(
    lift_mm=0.5,
    exhaust_open_deg=USUAL_OPEN_DEG,
    exhaust_close_deg=365.0,
    intake_open_deg=355.0,
    intake_close_deg=USUAL_CLOSE_DEG,
)
"""Of an engine whose profile does not give it."""


def timing_deg(timing: ValveTiming, valve: Valve, end: ValveEnd) -> float:
    """Where a timing has one end of a valve's lift, after its cylinder's firing TDC (deg)."""
    places = {
        ("intake", "opens"): timing.intake_open_deg,
        ("intake", "closes"): timing.intake_close_deg,
        ("exhaust", "opens"): timing.exhaust_open_deg,
        ("exhaust", "closes"): timing.exhaust_close_deg,
    }
    return places[valve, end]


def compression_left(profile: EngineProfile, intake_late_deg: float, exhaust_late_deg: float) -> float:
    """Gauge cranking peak over that of the same cylinder with its cams in time; 0 where a valve stands open at TDC.

    The charge is trapped when the last valve closes and squeezed polytropically until TDC or until the exhaust opens.
    One pitch of 18 degrees late costs 10 to 16 %, one early gives up to 6 % or a little more (common practice, no
    source; the bench's own cycle, which solves the flow, loses some more at two and three pitches).
    """
    shape, timing = usual_geometry(profile), profile.valve_timing or USUAL_TIMING
    key = (shape.bore_mm, shape.stroke_mm, shape.rod_mm, shape.compression_ratio, shape.crank_offset_mm)
    closes = (timing.intake_close_deg, timing.exhaust_close_deg, timing.exhaust_open_deg)
    return _left_cached(key, closes, (round(intake_late_deg, 1), round(exhaust_late_deg, 1)))


def compression_left_each(profile: EngineProfile, intake_late_deg: Floats, exhaust_late_deg: Floats) -> Floats:
    """The same for many pairs of cams at once: both in deg, late positive, and the result (unitless) of shape (n,)."""
    timing = profile.valve_timing or USUAL_TIMING
    closes = (timing.intake_close_deg, timing.exhaust_close_deg, timing.exhaust_open_deg)
    return _left(usual_geometry(profile), closes, intake_late_deg, exhaust_late_deg)


@lru_cache(maxsize=4096)
def _left_cached(
    shape: tuple[float, float, float, float, float], timing: tuple[float, float, float], late: tuple[float, float]
) -> float:
    bore, stroke, rod, ratio, offset = shape
    geometry = Geometry(bore_mm=bore, stroke_mm=stroke, rod_mm=rod, compression_ratio=ratio, crank_offset_mm=offset)
    return float(_left(geometry, timing, np.array([late[0]]), np.array([late[1]]))[0])


def _left(geometry: Geometry, timing: tuple[float, float, float], intake_late: Floats, exhaust_late: Floats) -> Floats:
    intake_close, exhaust_close, exhaust_open = timing
    none = np.zeros(1)
    usual = _peaks(geometry, intake_close + none, exhaust_close + none, exhaust_open + none)
    late = _peaks(geometry, intake_close + intake_late, exhaust_close + exhaust_late, exhaust_open + exhaust_late)
    return np.asarray(late / usual)


def _peaks(geometry: Geometry, intake_close: Floats, exhaust_close: Floats, exhaust_open: Floats) -> Floats:
    """Gauge peaks over the outside pressure; angles after the cylinder's firing TDC, its compression ends at 720."""
    closes = np.maximum(intake_close, exhaust_close)
    # An exhaust valve that opens before TDC lets out what was squeezed so far.
    ends = np.minimum(720.0, 720.0 + exhaust_open)
    trapped, smallest = cylinder_volume(closes, geometry)[0], cylinder_volume(ends, geometry)[0]
    squeezed = np.where(ends > closes, (trapped / smallest) ** POLYTROPIC - 1.0, 0.0)
    return np.asarray(np.maximum(0.0, squeezed))


def patterns_at_rest(profile: EngineProfile) -> dict[tuple[int, ...], float]:
    """Which cylinders have all valves shut where the cams stand still at any angle, and over which share of the angles
    that is so. The cams of the whole engine stand as they stood together. Where they come to rest is not known, so
    that every angle counts alike."""
    timing = profile.valve_timing or USUAL_TIMING
    closes, opens = timing.intake_close_deg - 720.0, timing.exhaust_open_deg
    found: dict[tuple[int, ...], float] = {}
    for angle in range(0, 720, _REST_STEP_DEG):
        own = {c: wrap_cycle(angle - tdc) for c, tdc in profile.firing_tdc_deg.items()}
        shut = tuple(sorted(c for c, at in own.items() if closes < at < opens))
        found[shut] = found.get(shut, 0.0) + _REST_STEP_DEG / 720.0
    return found


_REST_STEP_DEG = 10


def cylinder_compression(
    profile: EngineProfile, valves_deg: Mapping[str, float], still: Mapping[int, str], seal: Mapping[int, float]
) -> dict[int, float]:
    """Peak of every cylinder over that of a healthy one, from its cams (``valves_deg``, late positive), a valve that
    stands still, and its own seal. A shut intake valve lets no air in; a shut exhaust valve keeps the charge."""
    by_bank: dict[int, float] = {}
    bank_of = profile.bank_of
    for bank in [b.bank for b in profile.banks] or [1]:
        intake, exhaust = serving_cams(profile, bank)
        late = valves_deg.get(intake or "", 0.0), valves_deg.get(exhaust or "", 0.0)
        by_bank[bank] = compression_left(profile, *late) if valves_deg else 1.0
    made = {}
    for cylinder in profile.firing_order:
        shut = 0.0 if still.get(cylinder) == "intake" else 1.0
        made[cylinder] = by_bank[bank_of[cylinder]] * shut * seal.get(cylinder, 1.0)
    return made


def serving_cams(profile: EngineProfile, bank: int) -> tuple[str | None, str | None]:
    """The cams that move a bank's (intake, exhaust) valves; a single cam moves both."""
    intake = exhaust = None
    # A cam in the middle of a vee serves both banks.
    one_for_all = len({cam.bank for cam in profile.cams}) < 2
    for cam in profile.cams:
        if cam.bank == bank or one_for_all:
            intake = cam.id if cam.shaft in ("intake", "single") else intake
            exhaust = cam.id if cam.shaft in ("exhaust", "single") else exhaust
    return intake, exhaust
