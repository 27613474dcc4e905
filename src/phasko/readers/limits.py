"""What a file may claim before anything of it is read."""

from __future__ import annotations

from phasko.core.errors import DataError

__all__ = ["check_size"]

_MOST_SAMPLES = 160_000_000
"""Of all channels together: eight of twenty million."""
_ALWAYS = 4_000_000
"""So many samples are read of any file."""
_MOST_PER_BYTE = 64
"""Samples that a recording packs into a byte: most of its channels rest, and one does not."""


def check_size(samples: int, file_bytes: int, place: str) -> None:
    """Raises DataError for a file that claims more samples than it can hold, before memory is taken for them."""
    if samples > min(_MOST_SAMPLES, max(_ALWAYS, _MOST_PER_BYTE * file_bytes)):
        raise DataError(
            f"claims {samples} samples in {file_bytes} bytes",
            place=place,
            remedy="Export it again, or cut it into pieces.",
        )
