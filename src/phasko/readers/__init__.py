"""Readers of container files, each run as a process of its own: ``python -m phasko.readers.wav IN OUT``.

This package imports nothing of ``phasko.formats``: a reader process loads its one library and starts in a third of the
time that the whole of the formats would take.
"""

__all__: list[str] = []
