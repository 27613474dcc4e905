"""One fault or none as the bench makes it, and what is true of it: what moved, what reads alike, what may be seen."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults, PhaserFault
from phasko.core.documents import EngineProfile

__all__ = ["DrawnFault", "Truth", "drawn_fault", "is_able"]

BEHIND_COVERS = (
    "chain_jumped",
    "chain_stretched",
    "cam_slipped",
    "crank_sprocket_slipped",
    "crank_hub_slipped",
    "drive_broken",
)


@dataclass(frozen=True)
class Truth:
    """What is really wrong: the word, further words that are right too, where, and what it does to valves, wheels,
    cylinders. ``wrong_profile``: the profile is another engine's; ``hidden``: it comes and goes and was not there."""

    fault: str
    also: tuple[str, ...] = ()
    cams: tuple[str, ...] = ()
    cylinders: tuple[int, ...] = ()
    valves_deg: Mapping[str, float] = field(default_factory=dict)
    hub_deg: float = 0.0
    wheel_deg: float = 0.0
    target_deg: Mapping[str, float] = field(default_factory=dict)
    wrong_profile: bool = False
    hidden: bool = False

    @property
    def acceptable(self) -> tuple[str, ...]:
        return ("reference_wrong", self.fault, *self.also) if self.wrong_profile else (self.fault, *self.also)

    @property
    def word(self) -> str:
        """The one word for it."""
        return "reference_wrong" if self.wrong_profile else self.fault

    @property
    def unseen(self) -> bool:
        """Whether nothing that is hooked up or looked at here can show it, so that a healthy call is no error."""
        return self.hidden or self.fault == "something_else"

    @property
    def needs_opening(self) -> bool:
        return self.fault in BEHIND_COVERS


@dataclass(frozen=True)
class DrawnFault:
    """A fault as the bench makes it, in which condition it is there, and what is done to signals."""

    truth: Truth
    cranking: EngineFaults = field(default_factory=EngineFaults)
    when: str = "always"
    bad_signal: str | None = None
    bad_how: str = ""
    spark_window_deg: float = 0.0


def is_able(fault: str, engine: EngineProfile) -> bool:
    drive = engine.drive.type if engine.drive else "chain"
    banks = {cam.bank for cam in engine.cams}
    if fault in ("chain_jumped", "tensioner_slack", "crank_sprocket_slipped", "drive_broken"):
        return drive in ("chain", "belt")
    if fault == "chain_stretched":
        return drive == "chain" and _limit_percent(engine) < 1.3
    if fault == "sync_misadjusted":
        return drive == "distributor_gear"
    if fault == "phaser_off_park":
        return any(cam.phaser for cam in engine.cams)
    if fault == "cam_slipped":
        return drive in ("chain", "belt") and len(engine.cams) >= len(banks)
    if fault == "ignition_mistimed":
        return engine.ignition is not None and engine.ignition.cranking_spark_deg is not None
    return True


def _limit_percent(engine: EngineProfile) -> float:
    """The elongation at which the first cam leaves its limit."""
    assert engine.drive is not None
    pitch = 360.0 / (engine.drive.crank_sprocket_teeth or 21)
    links = max(engine.drive.free_links.values(), default=40.0)
    return 100.0 * 5.0 / (links * pitch)


def _amount(rng: np.random.Generator, low: float = 4.0, sd: float = 14.0, most: float = 50.0) -> float:
    while True:
        size = abs(float(rng.normal(0.0, sd)))
        if low <= size <= most:
            return size if rng.random() < 0.5 else -size


def drawn_fault(fault: str, engine: EngineProfile, rng: np.random.Generator) -> DrawnFault:
    cams = [cam.id for cam in engine.cams]
    one = cams[int(rng.integers(len(cams)))]
    made = _drive_fault(fault, engine, cams, one, rng) or _other_fault(fault, engine, one, rng)
    assert made is not None, fault
    return made


def _drive_fault(  # noqa: PLR0911
    fault: str, engine: EngineProfile, cams: list[str], one: str, rng: np.random.Generator
) -> DrawnFault | None:
    pitch = 360.0 / ((engine.drive.crank_sprocket_teeth if engine.drive else None) or 21)
    if fault == "chain_jumped":
        count = int(rng.choice([1, 1, 1, 2, 2, 3])) * (1 if rng.random() < 0.75 else -1)
        banks = sorted({cam.bank for cam in engine.cams})
        where = float(rng.random())
        if len(banks) > 1 and where < 0.3:
            bank = int(rng.choice(banks))
            moved = [cam.id for cam in engine.cams if cam.bank == bank]
        elif len(cams) > 1 and where < 0.5:
            moved = [one]
        else:
            moved = cams
        shift = dict.fromkeys(moved, count * pitch + float(rng.normal(0.0, 0.4)))
        also = ("cam_slipped", "crank_sprocket_slipped") if len(moved) == len(cams) else ("cam_slipped",)
        return DrawnFault(
            Truth(fault, also, tuple(moved), valves_deg=shift), EngineFaults(DriveFaults(slipped_deg=shift))
        )
    if fault in ("chain_stretched", "none"):
        worn = fault == "none"
        if worn and (rng.random() > 0.25 or engine.drive is None or engine.drive.type != "chain"):
            return DrawnFault(Truth("none"))
        limit = _limit_percent(engine)
        percent = float(rng.uniform(0.1, 0.7)) * limit if worn else limit * float(rng.uniform(1.25, 2.2))
        late = {c: percent / 100.0 * engine.drive.free_links.get(c, 40.0) * pitch for c in cams} if engine.drive else {}
        drive = DriveFaults(elongation_percent=percent, slack_deg=float(rng.uniform(0.0, 0.3)))
        return DrawnFault(Truth(fault, (), tuple(cams), valves_deg={} if worn else late), EngineFaults(drive))
    if fault == "cam_slipped":
        shift = {one: _amount(rng)}
        return DrawnFault(
            Truth(fault, ("chain_jumped",), (one,), valves_deg=shift), EngineFaults(DriveFaults(slipped_deg=shift))
        )
    if fault == "crank_sprocket_slipped":
        shift = dict.fromkeys(cams, _amount(rng))
        also = ("chain_jumped", "cam_slipped")
        return DrawnFault(
            Truth(fault, also, tuple(cams), valves_deg=shift), EngineFaults(DriveFaults(slipped_deg=shift))
        )
    if fault == "crank_hub_slipped":
        size = _amount(rng, 6.0)
        truth = Truth(fault, (), tuple(cams), valves_deg=dict.fromkeys(cams, size), hub_deg=size, wheel_deg=size)
        return DrawnFault(truth, EngineFaults(DriveFaults(crank_hub_deg=size)))
    if fault == "tensioner_slack":
        size = float(rng.uniform(4.0, 13.0))
        links = engine.drive.free_links if engine.drive else {}
        most = max((links.get(c, 40.0) for c in cams), default=40.0)
        shift = {c: size * links.get(c, 40.0) / most for c in cams}
        when = str(rng.choice(["cranking", "cold", "hot", "running"], p=[0.4, 0.3, 0.2, 0.1]))
        return DrawnFault(Truth(fault, (), tuple(cams)), EngineFaults(DriveFaults(slipped_deg=shift)), when)
    if fault == "drive_broken":
        # As the valves stand where the cams have come to rest; every fourth time a bank rolled on by itself.
        at = float(rng.uniform(0.0, 720.0))
        own = {c: (at - tdc + 360.0) % 720.0 - 360.0 for c, tdc in engine.firing_tdc_deg.items()}
        dead = [c for c, angle in own.items() if not -130.0 < angle < 140.0 or rng.random() < 0.08]
        held = CylinderFault(intake_held_mm=4.0)
        faults = EngineFaults(cylinders={int(c): held for c in dead})
        return DrawnFault(
            Truth(fault, (), tuple(cams), tuple(int(c) for c in dead)), faults, bad_signal="cams", bad_how="lost"
        )
    return None


def _other_fault(  # noqa: PLR0911
    fault: str, engine: EngineProfile, one: str, rng: np.random.Generator
) -> DrawnFault | None:
    cylinder = int(rng.choice(engine.firing_order))
    if fault == "phaser_off_park":
        with_phaser = [cam for cam in engine.cams if cam.phaser]
        cam = with_phaser[int(rng.integers(len(with_phaser)))]
        assert cam.phaser is not None
        low, high = cam.phaser.authority_deg
        place = float(rng.uniform(0.15, 0.95)) * (low if abs(low) >= abs(high) else high)
        if rng.random() < 0.2:
            # Driven there by its control: with the phasers unplugged nothing shows.
            return DrawnFault(Truth(fault, (), (cam.id,), hidden=True))
        phasers = {cam.id: PhaserFault(park_deg=place, stuck=True)}
        return DrawnFault(
            Truth(fault, (), (cam.id,), valves_deg={cam.id: place}), EngineFaults(DriveFaults(phasers=phasers))
        )
    if fault in ("cam_signal_shifted", "sync_misadjusted"):
        size = _amount(rng)
        sync = fault == "sync_misadjusted"
        drive = DriveFaults(sync_deg=size) if sync else DriveFaults(cam_wheel_deg={one: size})
        clocked = engine.drive is not None and engine.drive.type == "distributor_gear"
        also = ("cam_signal_shifted",) if sync else ("sync_misadjusted",) if clocked else ()
        return DrawnFault(Truth(fault, also, (one,), target_deg={one: size}), EngineFaults(drive))
    if fault == "crank_signal_shifted":
        size = _amount(rng)
        return DrawnFault(Truth(fault, (), wheel_deg=size), EngineFaults(DriveFaults(crank_wheel_deg=size)))
    if fault in ("cam_sensor_fault", "crank_sensor_fault", "induced_pulses"):
        signal = one if fault != "crank_sensor_fault" else "crank"
        how = "extra" if fault == "induced_pulses" else "lost" if rng.random() < 0.4 else "erratic"
        moved = (one,) if signal == one else ()
        if rng.random() < 0.4:
            return DrawnFault(Truth(fault, (), moved, hidden=True))
        return DrawnFault(Truth(fault, (), moved), bad_signal=signal, bad_how=how)
    if fault == "weak_cylinder":
        leak = (
            CylinderFault(plug="out")
            if rng.random() < 0.2
            else CylinderFault(exhaust_leak_mm2=float(rng.uniform(1.0, 8.0)))
        )
        return DrawnFault(Truth(fault, (), (), (cylinder,)), EngineFaults(cylinders={cylinder: leak}))
    if fault == "valve_train":
        lobe = CylinderFault(intake_lobe_share=0.0)
        return DrawnFault(Truth(fault, ("weak_cylinder",), (), (cylinder,)), EngineFaults(cylinders={cylinder: lobe}))
    if fault == "exhaust_restricted":
        return DrawnFault(Truth(fault), EngineFaults(exhaust_blocked_share=float(rng.uniform(0.96, 0.995))))
    if fault == "intake_restricted":
        return DrawnFault(Truth(fault), EngineFaults(intake_blocked_share=float(rng.uniform(0.6, 0.9))))
    if fault == "something_else":
        return DrawnFault(Truth(fault))
    if fault == "ignition_mistimed":
        return DrawnFault(Truth(fault), spark_window_deg=_amount(rng, 15.0))
    return None
