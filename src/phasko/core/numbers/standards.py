"""Numbers of what a measurement is compared with: known good engines, figures, pictures."""

from __future__ import annotations

from phasko.core.numbers.entry import Entry

__all__ = [
    "CAPTURES_ALIKE_U95_DEG",
    "CONDITION_CHANGE_DEG",
    "EDGES_U95_LEAST_DEG",
    "INDEX_BUILD_SD_DEG",
    "KNOWN_GOOD_SD",
    "OTHER_STATE_SD_DEG",
    "PICTURE_SWING_U95_DEG",
    "RANGE_SPREAD_LOG_SD",
    "RANGE_SPREAD_SD_DEG",
    "RANGE_TELLS_BUILD",
    "STEP_BESIDE_S",
    "STRAND_SWINGS_MM",
    "STRETCHES_ALIKE_U95_DEG",
    "UNKNOWN_STATE_SD_DEG",
]

RANGE_SPREAD_SD_DEG = Entry(0.3, "deg", "Usual spread of one cam's place among healthy engines of a kind", "(cp)")
RANGE_SPREAD_LOG_SD = Entry(0.6, "", "How well that is known: standard deviation of its logarithm", "(house)")
KNOWN_GOOD_SD = (
    Entry(0.1, "deg", "A known good engine may be off though its marks were seen true", "(cp)"),
    Entry(0.2, "deg", "A known good engine may be off though it was just set up", "(cp)"),
    Entry(0.6, "deg", "A known good engine may be off though it runs well", "(cp)"),
    Entry(1.0, "deg", "A known good engine may be off though somebody says it is good", "(cp)"),
)
OTHER_STATE_SD_DEG = Entry(1.0, "deg", "A cam may stand so much elsewhere in another state", "(cp) as between captures")
UNKNOWN_STATE_SD_DEG = Entry(0.3, "deg", "and so much where the temperature was not noted", "(cp)")
RANGE_TELLS_BUILD = Entry(3.0, "engines", "From so many known good engines on they say how builds differ", "(house)")
CAPTURES_ALIKE_U95_DEG = Entry(0.8, "deg", "A healthy cam changes less from capture to capture, 95 of 100", "(cp)")
STRETCHES_ALIKE_U95_DEG = Entry(0.3, "deg", "and less from one stretch of a capture to the next", "(cp)")
PICTURE_SWING_U95_DEG = Entry(
    7.0,
    "deg",
    "A cranking engine runs ahead of, and behind, an even pace between two gaps of a picture",
    "(house) bench",
)
CONDITION_CHANGE_DEG = Entry(1.5, "deg", "A change from one condition to another is said from here on", "(house)")
STEP_BESIDE_S = Entry(0.5, "s", "What happened so close to a step may belong to it", "(house)")
EDGES_U95_LEAST_DEG = Entry(0.1, "deg", "No profile's edges are known better, however many engines were seen", "(cp)")
INDEX_BUILD_SD_DEG = Entry(0.2, "deg", "How healthy engines differ in where their crank wheel sits", "(cp)")
STRAND_SWINGS_MM = Entry(1.0, "mm", "A tight strand swings less from cycle to cycle, 95 of 100", "(cp)")
