"""Compression as an entry of the result document."""

from __future__ import annotations

from phasko.core.compression.blind_spots import blind_spots
from phasko.core.compression.changes import spreads
from phasko.core.compression.relative import Compression, OverallCompression, SourceCompression
from phasko.core.compression.worst import sealing_words
from phasko.core.documents.analysis import (
    CompressionResult,
    CompressionSourceResult,
    CylinderRelative,
    OverallCompressionResult,
)
from phasko.core.documents.engine import EngineProfile

__all__ = ["compression_result", "overall_result", "relatives"]


def compression_result(compression: Compression | None, engine: EngineProfile) -> CompressionResult | None:
    """The joint answer, what each source says alone, and what stays open."""
    if compression is None:
        return None
    cycles = compression.cycles
    return CompressionResult(
        source=compression.source,
        events_per_cycle=compression.events_per_cycle,
        expected_events=compression.expected_events,
        identified_by=compression.identified_by,
        cylinders=relatives(compression),
        sources=[_source(source, compression.identified_by is not None) for source in compression.sources],
        cycles_used=len(cycles.cycles),
        cycles_left_out=cycles.left_out,
        settled_from_s=cycles.cycles[0].from_s,
        settled_to_s=cycles.cycles[-1].to_s,
        blind_spots=blind_spots(compression, engine),
        overall=overall_result(compression.overall),
        sound=compression.sound,
        words=sealing_words(compression, engine),
    )


def relatives(compression: Compression) -> list[CylinderRelative]:
    """Every cylinder with its spread over the cycles."""
    known = spreads(compression)
    found = []
    for c in compression.cylinders:
        spread, repeats = known.get(c.cylinder, (None, None))
        found.append(
            CylinderRelative(
                cylinder=c.cylinder, relative=c.relative, u95=c.u95, state=c.state, spread=spread, repeats=repeats
            )
        )
    return found


def overall_result(overall: OverallCompression | None) -> OverallCompressionResult | None:
    """All cylinders together as an entry."""
    if overall is None:
        return None
    return OverallCompressionResult(
        relative=overall.relative, u95=overall.u95, references=overall.references, source=overall.source
    )


def _source(source: SourceCompression, named: bool) -> CompressionSourceResult:
    return CompressionSourceResult(
        source=source.source,
        channel=source.channel or None,
        events_per_cycle=source.events,
        explained=source.separation.explained,
        humps_late_deg=source.separation.shift_deg,
        turned=source.separation.turned,
        relative=source.relative.tolist() if named else [],
        u95=source.u95.tolist() if named else [],
    )
