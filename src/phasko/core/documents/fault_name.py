"""Names of the explanations, as documents write them."""

from __future__ import annotations

from typing import Literal

__all__ = ["FaultName"]

FaultName = Literal[
    "none",
    "chain_jumped",
    "chain_stretched",
    "cam_slipped",
    "phaser_off_park",
    "cam_signal_shifted",
    "crank_signal_shifted",
    "crank_sprocket_slipped",
    "crank_hub_slipped",
    "drive_broken",
    "tensioner_slack",
    "sync_misadjusted",
    "cam_sensor_fault",
    "crank_sensor_fault",
    "induced_pulses",
    "weak_cylinder",
    "valve_train",
    "exhaust_restricted",
    "intake_restricted",
    "ignition_mistimed",
    "reference_wrong",
    "something_else",
]
