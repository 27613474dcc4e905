"""Chances of the explanations before any capture, of engines about which somebody has a doubt, and how far each
reaches. They are common practice; none is learnt from the bench's own frequencies."""

from __future__ import annotations

from phasko.core.numbers.entry import Entry

__all__ = [
    "DEAD_SHARE",
    "DRIVE_BROKEN_ANYHOW_SHARE",
    "DRIVE_BROKEN_SEAL_SD",
    "NOTICE_FACTOR",
    "PRIOR_CAM_SENSOR",
    "PRIOR_CAM_SIGNAL",
    "PRIOR_CAM_SLIPPED",
    "PRIOR_CHAIN_JUMPED",
    "PRIOR_CHAIN_STRETCHED",
    "PRIOR_CRANK_HUB",
    "PRIOR_CRANK_SENSOR",
    "PRIOR_CRANK_SIGNAL",
    "PRIOR_CRANK_SPROCKET",
    "PRIOR_DRIVE_BROKEN",
    "PRIOR_EXHAUST_RESTRICTED",
    "PRIOR_IGNITION_MISTIMED",
    "PRIOR_INDUCED",
    "PRIOR_INTAKE_RESTRICTED",
    "PRIOR_NONE",
    "PRIOR_PHASER_OFF_PARK",
    "PRIOR_REFERENCE",
    "PRIOR_SOMETHING_ELSE",
    "PRIOR_SYNC",
    "PRIOR_TENSIONER",
    "PRIOR_VALVE_TRAIN",
    "PRIOR_WEAK_CYLINDER",
    "RARE_DRIVE_FACTOR",
    "SEVERAL_CAMS_SHARE",
    "SEVERAL_SEAL_SD",
    "SHIFT_FAR_WEIGHT",
    "SLACK_MEAN_DEG",
    "SLACK_MOST_DEG",
    "SYMPTOM_ONLY_SHARE",
    "TOGETHER_SHARE",
    "TYPICAL_FACTOR_MOST",
    "UNSEEN_SHARE",
    "WEAK_BANK_SHARE",
    "WEAK_EVERY_SHARE",
    "WEAK_NEIGHBOURS_SHARE",
    "WEAK_SEVERAL_SHARE",
    "WORN_SHARE",
]

PRIOR_NONE = Entry(0.348, "", "Timing is as it should be", "(cp) most suspected engines are in time")
PRIOR_CHAIN_JUMPED = Entry(0.08, "", "Chain or belt jumped", "(cp)")
PRIOR_CHAIN_STRETCHED = Entry(0.06, "", "Chain stretched beyond its limit", "(cp)")
PRIOR_CAM_SLIPPED = Entry(0.04, "", "A cam turned on its sprocket, or set wrong after work", "(cp)")
PRIOR_CRANK_SPROCKET = Entry(0.015, "", "The sprocket turned on the crank", "(cp)")
PRIOR_CRANK_HUB = Entry(0.02, "", "Sprocket and signal wheel turned on the crank together", "(cp)")
PRIOR_DRIVE_BROKEN = Entry(0.012, "", "Chain or belt broken", "(cp)")
PRIOR_TENSIONER = Entry(0.015, "", "A tensioner that is slack in one condition", "(cp)")
PRIOR_PHASER_OFF_PARK = Entry(0.05, "", "Phaser rests off its park position", "(cp)")
PRIOR_CAM_SIGNAL = Entry(0.045, "", "Cam signal wheel or sensor moved", "(cp)")
PRIOR_CRANK_SIGNAL = Entry(0.03, "", "Crank signal wheel or sensor moved", "(cp)")
PRIOR_SYNC = Entry(0.10, "", "Distributor or sync drive clocked wrong, where there is one", "(cp) it is clamped")
PRIOR_CAM_SENSOR = Entry(0.045, "", "A cam sensor or its wiring", "(cp)")
PRIOR_CRANK_SENSOR = Entry(0.025, "", "The crank sensor or its wiring", "(cp)")
PRIOR_INDUCED = Entry(0.015, "", "Pulses induced into a sensor's wires", "(cp)")
PRIOR_WEAK_CYLINDER = Entry(0.055, "", "A cylinder that does not seal", "(cp)")
PRIOR_VALVE_TRAIN = Entry(0.015, "", "A lobe, clearance, spring or valve of one cylinder", "(cp)")
PRIOR_EXHAUST_RESTRICTED = Entry(0.035, "", "A blocked exhaust", "(cp)")
PRIOR_INTAKE_RESTRICTED = Entry(0.02, "", "A blocked intake", "(cp)")
PRIOR_IGNITION_MISTIMED = Entry(0.015, "", "Spark at the wrong time", "(cp)")
PRIOR_REFERENCE = Entry(0.035, "", "Wrong profile or reference", "(cp)")
PRIOR_SOMETHING_ELSE = Entry(0.025, "", "None of the explanations in the table", "(house) never zero")

RARE_DRIVE_FACTOR = Entry(0.1, "x", "Elongation of a belt, jump of a drive of unknown kind: rarely", "(cp)")
NOTICE_FACTOR = Entry(2.0, "x", "A notice or a typical failure told of this job moves the chance of its fault", "(cp)")
TYPICAL_FACTOR_MOST = Entry(5.0, "x", "A type-typical failure never moves a chance by more", "(house)")

SEVERAL_CAMS_SHARE = Entry(0.15, "", "Slipped cams that are several, each by its own amount", "(cp) set wrong")
TOGETHER_SHARE = Entry(0.2, "", "Slipped cams of one bank that moved together", "(cp) its sprocket or work done")
WORN_SHARE = Entry(0.2, "", "Sound engines whose drive is worn within its limit", "(cp)")
SYMPTOM_ONLY_SHARE = Entry(0.4, "", "Faults that come and go which show with the symptom only", "(cp)")
SLACK_MEAN_DEG = Entry(6.0, "deg", "Usual lateness that a slack tensioner leaves", "(cp)")
SLACK_MOST_DEG = Entry(13.0, "deg", "Most lateness that a slack tensioner leaves", "(cp)")
SHIFT_FAR_WEIGHT = Entry(0.02, "", "Weight of far shifts beside the usual ones", "(house) parts come off altogether")
WEAK_NEIGHBOURS_SHARE = Entry(0.1, "", "Leaks that are between two neighbours", "(cp) gasket")
WEAK_BANK_SHARE = Entry(0.04, "", "Leaks of a whole bank", "(cp)")
WEAK_EVERY_SHARE = Entry(0.08, "", "Leaks of all cylinders alike", "(cp) rings")
WEAK_SEVERAL_SHARE = Entry(0.12, "", "Leaks of several cylinders, each its own", "(cp)")
DRIVE_BROKEN_ANYHOW_SHARE = Entry(
    0.3, "", "Broken drives whose cylinders compress as no one angle of the cams says", "(cp)"
)
DRIVE_BROKEN_SEAL_SD = Entry(0.5, "of healthy", "What cylinders still compress under cams that stand", "(house)")
DEAD_SHARE = Entry(0.3, "", "Leaking cylinders that have next to nothing left", "(cp) plug out, burnt valve")
SEVERAL_SEAL_SD = Entry(0.25, "of healthy", "What several leaking cylinders have left, each its own", "(cp)")
UNSEEN_SHARE = Entry(0.5, "", "Something else that no signal shows, such as fuel", "(house)")
