"""Faults by their words: as found on opening, and as a name in a list."""

from __future__ import annotations

from collections.abc import Mapping

from phasko.core.documents.fault_name import FaultName

__all__ = ["FAULT_SHORT", "FAULT_WORDS"]

FAULT_WORDS: Mapping[FaultName, str] = {
    "none": "nothing: all as it should be",
    "chain_jumped": "the timing drive had jumped",
    "chain_stretched": "the timing drive was stretched",
    "cam_slipped": "a cam had slipped on its sprocket",
    "phaser_off_park": "a phaser was off its park or stuck",
    "cam_signal_shifted": "a cam's signal wheel or sensor had moved",
    "crank_signal_shifted": "the crank's signal wheel or sensor had moved",
    "crank_sprocket_slipped": "the sprocket had turned on the crank",
    "crank_hub_slipped": "the hub had turned on the crank",
    "drive_broken": "the timing drive was broken",
    "tensioner_slack": "the tensioner was slack",
    "sync_misadjusted": "the distributor or sync drive was clocked wrong",
    "cam_sensor_fault": "a cam sensor or its wiring was bad",
    "crank_sensor_fault": "the crank sensor or its wiring was bad",
    "induced_pulses": "a lead induced pulses",
    "weak_cylinder": "a cylinder did not seal",
    "valve_train": "a valve did not move as it should",
    "exhaust_restricted": "the exhaust was blocked",
    "intake_restricted": "the intake was blocked",
    "ignition_mistimed": "the spark came at the wrong time",
    "reference_wrong": "the profile or reference was wrong",
    "something_else": "something else",
}
"""What was found on opening, by the word of the fault."""
FAULT_SHORT: Mapping[FaultName, str] = {
    "none": "all in order",
    "chain_jumped": "drive jumped",
    "chain_stretched": "drive stretched",
    "cam_slipped": "cam slipped",
    "phaser_off_park": "phaser",
    "cam_signal_shifted": "cam signal wheel",
    "crank_signal_shifted": "crank wheel",
    "crank_sprocket_slipped": "crank sprocket turned",
    "crank_hub_slipped": "crank hub turned",
    "drive_broken": "drive broken",
    "tensioner_slack": "tensioner slack",
    "sync_misadjusted": "distributor",
    "cam_sensor_fault": "cam sensor or wiring",
    "crank_sensor_fault": "crank sensor or wiring",
    "induced_pulses": "induced pulses",
    "weak_cylinder": "weak cylinder",
    "valve_train": "valve train",
    "exhaust_restricted": "exhaust blocked",
    "intake_restricted": "intake blocked",
    "ignition_mistimed": "spark timing",
    "reference_wrong": "wrong profile",
    "something_else": "something else",
}
"""The name of an explanation alone, for a list."""
