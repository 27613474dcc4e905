"""A firing order as people write it: ``1-3-4-2``, ``1 3 4 2``, ``1342``."""

from __future__ import annotations

import re

from phasko.core.errors import DocumentError

__all__ = ["firing_order_of"]

_DIGITS_MOST = 9


def firing_order_of(text: str, cylinders: int) -> list[int]:
    """The cylinders in the order in which they fire. Raises DocumentError, in words, for what is no order of so many
    cylinders; figures without marks between them are read one by one up to nine cylinders."""
    bare = text.strip()
    parts = re.findall(r"\d+", bare)
    if len(parts) == 1 and cylinders <= _DIGITS_MOST and len(parts[0]) > 1:
        parts = list(parts[0])
    if not parts or re.search(r"[^\d\s,;.>/\u2013\u2014-]", bare):
        raise DocumentError("is no firing order; write it as 1-3-4-2", place="Firing order", kept="Nothing was opened")
    order = [int(part) for part in parts]
    if sorted(order) != list(range(1, cylinders + 1)):
        missing = [number for number in range(1, cylinders + 1) if number not in order]
        strange = [number for number in order if not 1 <= number <= cylinders]
        twice = sorted({number for number in order if order.count(number) > 1})
        why = (
            f"names cylinder {strange[0]}, and there are {cylinders}"
            if strange
            else f"names cylinder {twice[0]} twice"
            if twice
            else f"leaves out cylinder {missing[0]}"
        )
        raise DocumentError(why, place="Firing order", kept="Nothing was opened")
    return order
