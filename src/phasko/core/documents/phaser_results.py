"""What a result says of a phaser that was driven."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from phasko.core.documents.result_part import Number, ResultPart

__all__ = ["PhaserResult", "SweepBeside"]


class SweepBeside(ResultPart):
    """Mean of another channel before the phaser was driven, and while it was, in its own unit."""

    channel: str
    unit: str
    at_rest: Number
    driven: Number


class PhaserResult(ResultPart):
    """How a cam followed when its phaser was driven. Places are offsets like ``offset_deg``; ``rate_deg_per_s`` is the
    mean over all travels, ``hysteresis_deg`` where it came back to less where it started. ``short_deg``: what is
    missing of the profile's ``range_deg``, on ``short_side`` where that is more than phasers differ by. ``stop_seen``:
    the cam stood still while it was driven. ``text`` and ``advice``: the same in words."""

    cam: str
    swept_deg: Number | None
    stop_low_deg: Number | None
    stop_high_deg: Number | None
    returned_to_deg: Number | None
    state: Literal["stuck", "slow", "returns_off_park", "moves"] | None
    stop_u95_deg: Number | None = None
    dead_time_s: Number | None = None
    dead_time_u95_s: Number | None = None
    rate_deg_per_s: Number | None = None
    hysteresis_deg: Number | None = None
    range_deg: Number | None = None
    short_deg: Number | None = None
    short_side: Literal["park", "far"] | None = None
    stop_seen: bool = True
    commanded_by: Literal["channel", "scan_tool", "movement"] | None = None
    beside: list[SweepBeside] = Field(default_factory=list)
    text: str = ""
    advice: str | None = None
