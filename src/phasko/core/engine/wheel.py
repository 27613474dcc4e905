"""The signal wheel as numbers: its name, the angles between its teeth, after which turn it looks the same."""

from __future__ import annotations

import numpy as np

from phasko.core.arrays import Floats
from phasko.core.documents.engine import Wheel

__all__ = ["LONG_GAP", "gaps_deg", "place_between_teeth", "repeats_deg", "teeth_from_gap", "wheel_name"]


LONG_GAP = 1.5
"""A gap is long from this many usual ones on."""


def wheel_name(wheel: Wheel) -> str:
    """Short name as the trade writes it: ``60-2``, ``36-1-1`` for separate gaps, ``24 irregular``."""
    if wheel.slots is None:
        return f"{len(wheel.teeth_deg or ())} irregular"
    return "-".join([str(wheel.slots), *[str(length) for length in _gap_lengths(wheel)]])


def _gap_lengths(wheel: Wheel) -> list[int]:
    absent = set(wheel.missing)
    slots = wheel.slots or 0
    starts = [s for s in sorted(absent) if ((s - 2) % slots) + 1 not in absent]
    lengths = []
    for start in starts:
        length = 1
        while ((start - 1 + length) % slots) + 1 in absent:
            length += 1
        lengths.append(length)
    return lengths


def gaps_deg(wheel: Wheel) -> Floats:
    """Crank degrees from each tooth's timing edge to the next one's. Of shape (teeth,)."""
    angles = np.array(wheel.angles_deg)
    return np.diff(np.append(angles, angles[0] + 360.0))


def repeats_deg(gaps: Floats) -> float:
    """The smallest rotation after which the wheel looks the same: 360 with a signature, the pitch of an even wheel, 180
    with two like gaps opposite each other. ``gaps`` of shape (teeth,) in deg."""
    for shift in range(1, gaps.size):
        if gaps.size % shift == 0 and np.allclose(np.roll(gaps, shift), gaps, rtol=0.05):
            return float(gaps[:shift].sum())
    return 360.0


def place_between_teeth(after_tooth_1_deg: float, wheel: Wheel) -> float:
    """Where between the two teeth around it an angle falls: 0 at the earlier one, 0.5 in the middle of the two."""
    angles = np.array([*wheel.angles_deg, wheel.angles_deg[0] + 360.0])
    at = after_tooth_1_deg % 360.0
    before = int(np.searchsorted(angles, at, side="right")) - 1
    return float((at - angles[before]) / (angles[before + 1] - angles[before]))


def teeth_from_gap(after_tooth_1_deg: float, wheel: Wheel) -> float | None:
    """Wheel teeth from tooth 1 to an angle, missing ones counted, two decimals; ``None`` without a regular pitch."""
    pitch = wheel.pitch_deg
    return None if pitch is None else round((after_tooth_1_deg % 360.0) / pitch, 2)
