"""Names of columns that hold the time, and the units that a time may have."""

from __future__ import annotations

import re

__all__ = ["SECONDS_OF", "SUFFIX", "is_time_name"]

SECONDS_OF = {"s": 1.0, "sec": 1.0, "ms": 1e-3, "us": 1e-6, "µs": 1e-6, "μs": 1e-6, "ns": 1e-9, "min": 60.0}
_TIME_NAMES = re.compile(
    r"(time|t|zeit|temps|tiempo|tempo|tid|tijd|x|seconds?|secs?|timestamp|elapsed|time[ _]?stamp|x[ -]?axis|"
    r"relative time|rel\.? ?time|abs\.? ?time|time ?\d+|t ?\d+|date|datum|clock|date ?/? ?time|u?sec|usecs?|"
    r"microseconds?|milliseconds?|ms|us|s)$",
    re.IGNORECASE,
)
SUFFIX = re.compile(r"^(.*)_(s|sec|ms|us|ns|v|mv|a|ma|bar|mbar)$", re.IGNORECASE)
"""A column's name with a unit at its end, as ``c1_mv``."""


def is_time_name(name: str) -> bool:
    """Whether a column's name says that it holds the time."""
    bare = SUFFIX.match(name.strip())
    plain = bare.group(1) if bare and bare.group(2).lower() in SECONDS_OF else name.strip()
    return _TIME_NAMES.match(plain) is not None
