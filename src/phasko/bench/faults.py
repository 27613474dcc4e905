"""Everything that can be wrong with the virtual engine, as physical parameters. The default of each is health."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

__all__ = ["CylinderFault", "DriveFaults", "EngineFaults", "PhaserFault", "Spread"]

FOREVER_S = 1e9


@dataclass(frozen=True, slots=True)
class PhaserFault:
    """A phaser that is not where it should be. ``park_deg``: rests this far from its park position, late positive.

    ``stuck``: does not move on command. ``rate_share``: share of the usual speed. ``reach_share``: share of its range.
    ``loose_deg``: swings this far (half width, once per 0.7 s) because the lock pin does not hold; only when hot.
    ``dead_s``: until the oil moves it after a command; ``lag_s``: time constant of a lag behind its usual rate;
    ``flutter_deg``: what the valve springs shake it by while it is off park (half width); ``rests_off_deg``: comes back
    no nearer to park than this, once it was driven.
    """

    park_deg: float = 0.0
    stuck: bool = False
    rate_share: float = 1.0
    reach_share: float = 1.0
    loose_deg: float = 0.0
    dead_s: float = 0.06
    lag_s: float = 0.0
    flutter_deg: float = 0.0
    rests_off_deg: float = 0.0


@dataclass(frozen=True, slots=True)
class DriveFaults:
    """Faults of the timing drive and the signal wheels, in whole pitches or crank degrees, late positive.

    ``jumped_at_crank``: pitches of the first stage, all cams. ``jumped_at_idler``: by bank, pitches of the last stage.
    ``jumped_at_cam``, ``slipped_deg``: by cam. ``elongation_percent`` acts by each cam's free links; ``slack_deg`` lets
    all cams wander (standard deviation per cycle). ``tensioner_deg``: late by this until the tensioner has filled, a
    second or so after the starter engages. ``crank_hub_deg`` turns sprocket and signal wheel together on the
    crank; ``crank_wheel_deg`` and ``cam_wheel_deg`` move signal wheels or their sensors only; ``sync_deg`` is a
    distributor or sync drive clocked wrong (its signal, and with a distributor the spark).
    """

    jumped_at_crank: int = 0
    jumped_at_idler: Mapping[int, int] = field(default_factory=dict)
    jumped_at_cam: Mapping[str, int] = field(default_factory=dict)
    slipped_deg: Mapping[str, float] = field(default_factory=dict)
    crank_hub_deg: float = 0.0
    elongation_percent: float = 0.0
    slack_deg: float = 0.0
    tensioner_deg: float = 0.0
    phasers: Mapping[str, PhaserFault] = field(default_factory=dict)
    crank_wheel_deg: float = 0.0
    cam_wheel_deg: Mapping[str, float] = field(default_factory=dict)
    sync_deg: float = 0.0


@dataclass(frozen=True, slots=True)
class CylinderFault:
    """Faults of one cylinder. Leaks are effective openings in mm2; shares are of the healthy value.

    ``plug``: ``loose`` leaks, ``out`` is an open hole. ``intake_held_mm``, ``exhaust_held_mm``: a valve that never
    closes further. The ring leak can come and go: between ``from_s`` and ``to_s``.
    """

    ring_leak_mm2: float = 0.0
    intake_leak_mm2: float = 0.0
    exhaust_leak_mm2: float = 0.0
    intake_held_mm: float = 0.0
    exhaust_held_mm: float = 0.0
    plug: str = "tight"
    intake_lobe_share: float = 1.0
    exhaust_lobe_share: float = 1.0
    intake_clearance_mm: float = 0.0
    exhaust_clearance_mm: float = 0.0
    compression_share: float = 1.0
    intake_blocked_share: float = 0.0
    no_fuel: bool = False
    from_s: float = 0.0
    to_s: float = FOREVER_S


@dataclass(frozen=True, slots=True)
class EngineFaults:
    """All faults of one engine."""

    drive: DriveFaults = field(default_factory=DriveFaults)
    cylinders: Mapping[int, CylinderFault] = field(default_factory=dict)
    exhaust_blocked_share: float = 0.0
    intake_blocked_share: float = 0.0
    battery_weak_share: float = 0.0


@dataclass(frozen=True, slots=True)
class Spread:
    """How engines of one kind differ without being faulty: standard deviations, drawn anew from the seed.

    ``cylinder_share`` varies compression and blow-by from cylinder to cylinder; ``friction_share`` friction;
    ``edge_deg`` every cam edge against the profile; ``index_deg`` the crank wheel; ``tooth_deg`` single crank teeth;
    ``run_out_deg`` a once-per-turn error of the wheel; ``build_deg`` each cam; ``sensor_lag_s`` of every pick-up.
    """

    cylinder_share: float = 0.015
    friction_share: float = 0.1
    edge_deg: float = 0.25
    index_deg: float = 0.25
    tooth_deg: float = 0.03
    run_out_deg: float = 0.03
    build_deg: float = 0.3
    sensor_lag_s: float = 0.0
    chain_jitter_deg: float = 0.06
