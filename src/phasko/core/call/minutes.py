"""How many minutes the tests that were done took, by the plan's figures."""

from __future__ import annotations

from phasko.core.call.technician_tests import TESTS
from phasko.core.call.test_choice import minutes_of
from phasko.core.evidence import JobEvidence

__all__ = ["minutes_done"]

_OF_CONDITION = {"cranking": "capture_cranking", "idle": "capture_running", "running": "capture_running"}


def minutes_done(job: JobEvidence) -> float:
    """Minutes of every look that was noted and every capture that was recorded; what the job says of its own engine
    comes before the table."""
    by_test = {test.test: test for test in TESTS}
    by_look = {test.answered_by: test for test in TESTS if test.answered_by is not None}
    total = 0.0
    # An answer that was corrected took its minutes once.
    for look in {(one.question, one.cylinder): one for one in job.looks}.values():
        test = by_look.get(look.question) or by_test.get(look.question)
        total += minutes_of(test, job) if test is not None else 0.0
    for capture in job.captures:
        about = capture.recording.description
        if any(channel.role == "cylinder_pressure" for channel in about.channels):
            name = "cylinder_pressure"
        elif about.phasers == "sweep":
            name = "phaser_sweep"
        else:
            name = _OF_CONDITION.get(about.condition or "", "capture_cranking")
        test = by_test.get(name)
        total += minutes_of(test, job) if test is not None else 0.0
    total += sum(minutes_of(by_test["road_test"], job) for _ in job.roads) if "road_test" in by_test else 0.0
    return total
