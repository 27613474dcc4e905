"""What a sweep says, in the result document and in words."""

from __future__ import annotations

from collections.abc import Sequence

from phasko.core import numbers
from phasko.core.documents.analysis import PhaserResult, SweepBeside
from phasko.core.documents.engine import EngineProfile
from phasko.core.phasers.sweep import PhaserSweep
from phasko.core.words import amount_words, cam_name, degrees

__all__ = ["phaser_results", "sweep_words"]


def phaser_results(sweeps: Sequence[PhaserSweep], engine: EngineProfile) -> list[PhaserResult]:
    """Every phaser that was driven. Where no reference places the cam only how it moved is given, no stops."""
    return [
        PhaserResult(
            cam=one.cam.id,
            swept_deg=one.swept_deg,
            stop_low_deg=one.low_deg if one.absolute else None,
            stop_high_deg=one.high_deg if one.absolute else None,
            returned_to_deg=one.returned.place_deg if one.returned is not None and one.absolute else None,
            state=one.state,
            stop_u95_deg=one.stop_u95_deg,
            dead_time_s=one.dead_time_s,
            dead_time_u95_s=one.dead_time_u95_s,
            rate_deg_per_s=one.rate_deg_s,
            hysteresis_deg=one.hysteresis_deg,
            range_deg=one.cam.phaser.range_deg if one.cam.phaser is not None else None,
            short_deg=one.short_deg,
            short_side=one.short_side,
            stop_seen=one.stop_seen,
            commanded_by=one.commands.source,
            beside=[
                SweepBeside(channel=b.channel, unit=b.unit, at_rest=b.at_rest, driven=b.driven) for b in one.beside
            ],
            text=sweep_words(one, engine),
            advice=_advice(one),
        )
        for one in sweeps
    ]


def sweep_words(sweep: PhaserSweep, engine: EngineProfile) -> str:
    """One sentence: how far, how fast, where to."""
    name = f"{cam_name(sweep.cam, engine)} phaser"
    if sweep.state == "stuck":
        return f"{name} does not follow its command: {degrees(abs(sweep.swept_deg), 1.0)} of travel"
    way = "early" if sweep.swept_deg < 0 else "late"
    parts = [f"{name} moves {degrees(abs(sweep.swept_deg), sweep.stop_u95_deg)} to {way}"]
    if sweep.rate_deg_s is not None:
        parts[0] += f" at {sweep.rate_deg_s:.0f}°/s"
    if sweep.dead_time_s is not None:
        parts.append(f"it answers after {max(0.0, sweep.dead_time_s):.2f} s")
    off = sweep.hysteresis_deg
    if off is None:
        parts.append("the record ends before it came back")
    elif abs(off) > numbers.SWEEP_RETURN_DEG.value:
        parts.append(f"it comes to rest {amount_words(off)} of where it began")
    else:
        parts.append("it comes back to where it began")
    return ", ".join(parts) + _short_words(sweep)


def _short_words(sweep: PhaserSweep) -> str:
    phaser = sweep.cam.phaser
    if phaser is None:
        return ""
    if not sweep.whole_drive:
        return "; how far it was driven on purpose is not known"
    if not sweep.stop_seen:
        return "; it was still moving when the command ended, so no stop was seen"
    if sweep.short_side is None or sweep.short_deg is None:
        return f"; its whole travel of {phaser.range_deg:.0f}°" if sweep.state != "slow" else ""
    where = "park" if sweep.short_side == "park" else "far"
    return f"; {degrees(sweep.short_deg, 1.0)} of its {phaser.range_deg:.0f}° are missing on the {where} side"


_SOLENOID = "the solenoid and its plug, the filter screen in its oil way, oil level and age"


def _advice(sweep: PhaserSweep) -> str | None:
    """What to look at first; ``None`` where the sweep is healthy, or was none."""
    if not sweep.tested:
        return None
    if sweep.state == "stuck":
        return (
            f"Look at {_SOLENOID}; then swap the solenoid with a like one. An open solenoid usually sets its own code. "
            "Nothing behind the covers is blamed for it yet."
        )
    if sweep.state == "slow":
        return f"Look at {_SOLENOID}; sweep again with warm oil before the phaser is blamed."
    if sweep.state == "returns_off_park":
        return f"Its lock or its return spring, or dirt: {_SOLENOID}. A cam that rests off park reads like a jump."
    if sweep.short_side is not None:
        return f"One side short points to the phaser itself, or to {_SOLENOID}; not to the chain."
    return None
