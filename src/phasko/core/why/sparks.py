"""Why a spark is called in time, early or late."""

from __future__ import annotations

from collections.abc import Iterator

from phasko.core.documents.analysis import CaptureResult, IgnitionResult
from phasko.core.documents.engine import EngineProfile
from phasko.core.why.answer import Part, Why

__all__ = ["spark_whys"]


def spark_whys(capture: CaptureResult, engine: EngineProfile) -> Iterator[Why]:
    """One for each coil whose spark was seen."""
    for one in capture.ignition:
        if one.spark_deg is not None:
            yield _spark(capture.file, one, one.spark_deg, engine)


def _spark(file: str, one: IgnitionResult, spark_deg: float, engine: EngineProfile) -> Why:
    window = engine.ignition.cranking_spark_deg if engine.ignition is not None else None
    parts = [Part(name="Sparks", value=str(one.sparks))]
    if window is not None and one.segment != "running":
        first, last = (_against_tdc(deg) for deg in window)
        parts.append(Part(name="Window of the profile", value=f"{first} to {last}"))
    if one.spread_deg is not None:
        parts.append(Part(name="Standard deviation from spark to spark", value=f"{one.spread_deg:.1f}°"))
    half = f" ± {one.spark_u95_deg:.1f}°" if one.spark_u95_deg is not None else ""
    return Why(
        id=f"spark/{one.cylinder}",
        title=f"Cylinder {one.cylinder}, spark",
        value=f"{_against_tdc(spark_deg)}{half}, {one.state}",
        formula="Angle of the falling edge of the coil's drive, or of the spike of its primary, after the cylinder's "
        "firing TDC as the crank wheel has it.",
        parts=parts,
        source="The window is the profile's. The control unit times from the crank wheel: a right spark does not clear "
        "the cams (common practice, no source). While running its advance is the control unit's affair.",
        taken_from=f"{one.sparks} sparks{f' while {one.segment}' if one.segment else ''}, of "
        f"{file.removesuffix('.capture.json')}",
    )


def _against_tdc(deg: float) -> str:
    if round(deg, 1) == 0.0:
        return "at TDC"
    return f"{abs(deg):.1f}° {'after' if deg > 0 else 'before'} TDC"
