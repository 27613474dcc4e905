"""What the control unit does with the spark of an engine whose ignition is wrongly timed."""

from __future__ import annotations

from phasko.core.documents import EngineProfile

__all__ = ["with_later_spark"]


def with_later_spark(engine: EngineProfile, late_deg: float) -> EngineProfile:
    """The engine with every cranking spark that much later (crank degrees); as it was where it makes no spark."""
    ignition = engine.ignition
    if not late_deg or ignition is None or ignition.cranking_spark_deg is None:
        return engine
    low, high = ignition.cranking_spark_deg
    moved = ignition.model_copy(update={"cranking_spark_deg": (low + late_deg, high + late_deg)})
    return engine.model_copy(update={"ignition": moved})
