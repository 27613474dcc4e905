"""What there is to learn, and which topic an engine with a fault teaches."""

from __future__ import annotations

from dataclasses import dataclass

from phasko.core.documents.fault_name import FaultName

__all__ = ["TOPICS", "Topic", "topic", "topic_of"]


@dataclass(frozen=True, slots=True)
class Topic:
    """One thing to learn: its name, its title, and the faults whose engines teach it."""

    id: str
    title: str
    faults: tuple[FaultName, ...]


TOPICS: tuple[Topic, ...] = (
    Topic("teeth", "Counting teeth", ("chain_jumped", "cam_slipped", "none", "something_else")),
    Topic("humps", "Humps per 720 degrees", ("drive_broken", "exhaust_restricted", "intake_restricted")),
    Topic("phasers", "Phasers first", ("phaser_off_park", "tensioner_slack", "chain_stretched")),
    Topic(
        "wheel_or_chain",
        "Wheel or chain",
        (
            "crank_signal_shifted",
            "cam_signal_shifted",
            "crank_sprocket_slipped",
            "crank_hub_slipped",
            "sync_misadjusted",
        ),
    ),
    Topic("weak_cylinder", "Weak cylinder", ("weak_cylinder", "valve_train")),
    Topic("sensor", "Sensor", ("cam_sensor_fault", "crank_sensor_fault", "induced_pulses", "ignition_mistimed")),
)
"""In the order of the trade (own choice of where each fault belongs)."""


def topic(topic_id: str) -> Topic:
    """The topic of that name. Raises KeyError."""
    return {one.id: one for one in TOPICS}[topic_id]


def topic_of(fault: FaultName) -> Topic:
    """The topic that an engine with this fault teaches; the first where none names it."""
    return next((one for one in TOPICS if fault in one.faults), TOPICS[0])
