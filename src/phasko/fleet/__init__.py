"""Tens of thousands of captures at once: found in folders and workshops, measured and judged by many workers, kept as
tables."""

__all__: list[str] = []
