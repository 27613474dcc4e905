"""Which parts a fault asks for, so that what was ordered on a guess can be sent back."""

from __future__ import annotations

from collections.abc import Mapping

from phasko.core import numbers
from phasko.core.documents.analysis import Verdict
from phasko.core.documents.job import JobDocument
from phasko.core.documents.repair import Part
from phasko.core.words import chance_words

__all__ = ["PART_WORDS", "needed_parts", "parts_not_needed"]

PART_WORDS: Mapping[Part, str] = {
    "crank_sensor": "crank sensor",
    "cam_sensor": "cam sensor",
    "coil": "coil",
    "injector": "injector",
    "fuel_pump": "fuel pump",
    "drive": "timing drive: chain or belt, tensioner, guides",
    "phaser": "cam phaser",
    "solenoid": "phaser solenoid",
    "cam": "camshaft",
    "crank_pulley": "crank pulley or its sprocket",
    "distributor": "distributor",
    "control_unit": "control unit",
    "head": "cylinder head, its gasket or valves",
    "wiring": "wiring",
    "other": "other part",
}
_DRIVE: tuple[Part, ...] = ("drive", "phaser", "crank_pulley", "head")
_NEEDED: Mapping[str, tuple[Part, ...]] = {
    "none": (),
    "chain_jumped": _DRIVE,
    "chain_stretched": ("drive", "phaser"),
    "cam_slipped": ("drive", "phaser", "cam", "head"),
    "phaser_off_park": ("phaser", "solenoid"),
    "cam_signal_shifted": ("cam_sensor", "cam", "phaser"),
    "drive_broken": _DRIVE,
    "crank_signal_shifted": ("crank_sensor", "crank_pulley"),
    "crank_sprocket_slipped": ("drive", "crank_pulley", "head"),
    "crank_hub_slipped": ("crank_pulley", "drive", "head"),
    "tensioner_slack": ("drive",),
    "sync_misadjusted": ("distributor",),
    "cam_sensor_fault": ("cam_sensor", "wiring"),
    "crank_sensor_fault": ("crank_sensor", "wiring"),
    "induced_pulses": ("wiring", "coil"),
    "weak_cylinder": ("head",),
    "valve_train": ("head", "cam"),
    "exhaust_restricted": (),
    "intake_restricted": (),
    "ignition_mistimed": ("distributor", "coil", "wiring"),
    "reference_wrong": (),
    "something_else": tuple(PART_WORDS),
}
"""Parts that each fault may ask for; common practice, no source. ``other`` is never called needless."""


def needed_parts(verdict: Verdict) -> set[Part]:
    """The parts that any explanation still open may ask for."""
    still = [one for one in verdict.faults if one.besides or one.probability >= numbers.STILL_OPEN.value]
    return {part for one in still for part in _NEEDED[one.fault]} | {"other"}


def parts_not_needed(verdict: Verdict, told: JobDocument) -> list[str]:
    """Ordered parts that nothing still open asks for. Nothing is said while the call is undecided or nothing was
    measured: what is not known cannot be sent back."""
    if not verdict.measured or verdict.undecided or not verdict.faults:
        return []
    needed = needed_parts(verdict)
    leader = verdict.faults[0]
    why = f"{leader.title}, {chance_words(leader.probability)}"
    return [
        f"{_called(one.text, one.part)}: nothing that is still open asks for it ({why})."
        for one in told.ordered
        if one.part not in needed
    ]


def _called(text: str, part: Part) -> str:
    name = text or PART_WORDS[part]
    return name[:1].upper() + name[1:]
