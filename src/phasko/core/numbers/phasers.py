"""Numbers of phasers: the sweep test and what it says."""

from __future__ import annotations

from phasko.core.numbers.entry import Entry

__all__ = [
    "DEAD_TIME_U95_MOST_S",
    "SWEEP_OFF_PARK",
    "SWEEP_OF_POOR",
    "SWEEP_OUTSIDE",
    "SWEEP_RETURN_DEG",
    "SWEEP_SETTLES_SD_DEG",
    "SWEEP_SHORT_DEG",
    "SWEEP_SHORT_SHARE",
    "SWEEP_SLOW_DEG_S",
    "SWEEP_STUCK_DEG",
    "SWEEP_USUAL",
    "SWEEP_WHOLE_DRIVE",
]

SWEEP_STUCK_DEG = Entry(3.0, "deg", "A phaser that travels less does not move", "result document")
SWEEP_SLOW_DEG_S = Entry(20.0, "deg/s", "Mean rate of travel under which a phaser is slow", "result document")
SWEEP_RETURN_DEG = Entry(2.0, "deg", "Coming to rest further from its start it returns off park", "result document")
SWEEP_SHORT_SHARE = Entry(0.08, "", "Healthy phasers of one kind differ in travel by up to this share", "(cp)")
SWEEP_SHORT_DEG = Entry(2.0, "deg", "and by this besides", "(cp)")
SWEEP_USUAL = (
    Entry(0.982, "", "A sound phaser's cam sweeps its whole travel", "(cp)"),
    Entry(0.006, "", "A sound phaser's cam lacks what it rests off park by", "(cp)"),
    Entry(0.004, "", "A sound phaser's cam does not move", "(cp)"),
    Entry(0.004, "", "A sound phaser's cam is slow", "(cp)"),
    Entry(0.004, "", "A sound phaser's cam is short at its far stop", "(cp)"),
)
SWEEP_OFF_PARK = (
    Entry(0.04, "", "A cam whose phaser rests off park sweeps its whole travel", "(cp)"),
    Entry(0.47, "", "A cam whose phaser rests off park lacks what it rests off park by", "(cp)"),
    Entry(0.33, "", "A cam whose phaser rests off park does not move", "(cp)"),
    Entry(0.06, "", "A cam whose phaser rests off park is slow", "(cp)"),
    Entry(0.1, "", "A cam whose phaser rests off park is short at its far stop", "(cp)"),
)
SWEEP_OF_POOR = (
    Entry(0.05, "", "A cam whose phaser follows badly sweeps its whole travel", "(cp)"),
    Entry(0.05, "", "A cam whose phaser follows badly lacks what it rests off park by", "(cp)"),
    Entry(0.45, "", "A cam whose phaser follows badly does not move", "(cp)"),
    Entry(0.25, "", "A cam whose phaser follows badly is slow", "(cp)"),
    Entry(0.2, "", "A cam whose phaser follows badly is short at its far stop", "(cp)"),
)
SWEEP_OUTSIDE = (
    Entry(0.7, "", "With something else wrong a cam sweeps its whole travel", "(cp)"),
    Entry(0.05, "", "With something else wrong a cam lacks what it rests off park by", "(cp)"),
    Entry(0.1, "", "With something else wrong a cam does not move", "(cp)"),
    Entry(0.08, "", "With something else wrong a cam is slow", "(cp)"),
    Entry(0.07, "", "With something else wrong a cam is short at its far stop", "(cp)"),
)
DEAD_TIME_U95_MOST_S = Entry(0.06, "s", "A dead time that is known less well is not told", "(house) it tells nothing")
SWEEP_SETTLES_SD_DEG = Entry(0.5, "deg", "A sound phaser comes back to its park within", "(cp)")
SWEEP_WHOLE_DRIVE = Entry(0.6, "", "Share of full drive from which on a sound phaser goes to its stop", "(cp)")
