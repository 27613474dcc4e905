"""Numbers of the hand-over and of what is learnt from closed jobs."""

from __future__ import annotations

from phasko.core.numbers.entry import Entry

__all__ = ["LEARN_LEAST_JOBS", "OWN_FINDINGS_JOBS", "STILL_OPEN"]

STILL_OPEN = Entry(0.005, "", "An explanation at least so likely is not excluded in a hand-over", "(house)")
OWN_FINDINGS_JOBS = Entry(
    40.0, "jobs", "So many jobs weigh the chances before measuring when a workshop's own findings move them", "(house)"
)
LEARN_LEAST_JOBS = Entry(
    10.0, "jobs", "Fewer closed jobs with a known cause move no chance before measuring", "(house)"
)
