"""What was found besides, for the owner: faults that hold too, codes of other things, signals that are not as they
should be."""

from __future__ import annotations

from phasko.core.codes import explain_codes
from phasko.core.handover.facts import Facts
from phasko.core.words import chance_words

__all__ = ["side_findings"]

_WORTH_TELLING = (
    "bad_ground",
    "implausible_levels",
    "slow_cranking",
    "signal_dropout",
    "spark_missing",
    "exhaust_back_pressure",
)
"""Problems of a signal that somebody should see to, whatever the finding is."""


def side_findings(facts: Facts) -> list[str]:
    """In the order of weight; what somebody wrote for the owner comes first."""
    found = [line.strip() for line in facts.told.for_owner.splitlines() if line.strip()]
    found += [
        f"{one.title}, {chance_words(one.probability)}, besides the finding."
        for one in facts.verdict.faults
        if one.besides
    ]
    for code in explain_codes(facts.told.codes, facts.profile):
        if code.sort == "unrelated":
            title = f" ({code.title})" if code.title else ""
            found.append(f"Code {code.code}{title} has nothing to do with this finding.")
    for capture, _ in facts.captures:
        found += [problem.text for problem in capture.problems if problem.code in _WORTH_TELLING]
    # Every capture of one hook-up says the same; the owner reads it once.
    return list(dict.fromkeys(found))
