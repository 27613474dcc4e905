"""What the engine does when a signal is lost while starting or running, and where to look."""

from __future__ import annotations

from dataclasses import dataclass

from phasko.core.documents.engine import EngineProfile

__all__ = ["LostSignal", "lost_signals"]


@dataclass(frozen=True, slots=True)
class LostSignal:
    """One signal: what its loss does while starting and while running, and where to look for it, in order."""

    signal: str
    starting: str
    running: str
    look: tuple[str, ...]


_HARNESS = (
    "Supply and ground at the sensor, key on",
    "The wiring before the control unit: record at the sensor and at the control unit, both at once",
    "A module between sensor and control unit, where there is one: record before and behind it",
    "The wiring behind that module, and the control unit's own plug",
)

_CRANK = LostSignal(
    "Crank sensor",
    "No spark, no injection, mostly no speed on the scan tool: it cranks and does not start.",
    "It stops at once, or stumbles; some go on by the cams at a fixed timing.",
    ("The sensor's gap and its wheel", *_HARNESS),
)
_TWO_CRANKS = LostSignal(
    "One of two crank signals",
    "Below some speed one is used, above it the other: it may start and stop, or not start and run when pulled.",
    "Some stop; some run on and only do not start again; the odd one of crank, crank and cam is named by vote.",
    ("All three on one time base: which two agree?", "Count pulses per cycle of each", *_HARNESS),
)
_CAM = LostSignal(
    "Cam sensor",
    "Longer cranking, or none: some try both halves of the cycle until one fires; some wait for the cam.",
    "It runs on; the next start is long or fails; sequential injection and the phaser may be given up.",
    ("Is it really lost, or whole and out of step? The code is the same", *_HARNESS),
)
_CAMS = LostSignal(
    "One of several cam sensors",
    "It starts by another cam, perhaps a turn later.",
    "It runs; that cam's phaser stays at park, and power is reduced.",
    ("Compare with the other bank's cam on one time base", *_HARNESS),
)
_DISTRIBUTOR = LostSignal(
    "Distributor or sync pick-up",
    "No spark, or sparks at the wrong cylinder; injection may go on.",
    "It stops, or runs on by the crank with all injectors at once.",
    ("Does its rotor turn while cranking?", "Its place against the crank", *_HARNESS),
)
_OUT_OF_STEP = LostSignal(
    "None: whole signals that are out of step",
    "Spark or injection is withheld, with a code that names a sensor; or it starts and runs badly.",
    "Reduced power, phasers at park; above some speed another strategy hides it.",
    ("Cam against crank, in degrees", "Not the sensors"),
)
_SUPPLY = LostSignal(
    "The shared supply of several sensors",
    "Several signals are gone at once, and codes name all of them.",
    "It stops as with the crank's.",
    ("The supply at each sensor, key on, others unplugged one by one: one of them pulls it down",),
)


def lost_signals(profile: EngineProfile) -> tuple[LostSignal, ...]:
    """The rows that fit this engine (common practice, no published source)."""
    rows = [_CRANK]
    if any(aux.turns_with == "crank" for aux in profile.aux_wheels):
        rows.append(_TWO_CRANKS)
    distributed = profile.ignition is not None and profile.ignition.type == "distributor"
    if distributed:
        rows.append(_DISTRIBUTOR)
    if profile.cams and not distributed:
        rows.append(_CAM if len(profile.cams) == 1 else _CAMS)
    return (*rows, _OUT_OF_STEP, _SUPPLY)
