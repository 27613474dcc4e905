"""One cam reading as entries of the result document."""

from __future__ import annotations

import numpy as np

from phasko.core.documents.analysis import CamEdgeResult, CamResult, OffsetStepResult
from phasko.core.documents.cam_results import CycleOffset
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.timing_drive import pitches_of
from phasko.core.engine.wheel import place_between_teeth, teeth_from_gap
from phasko.core.phase.offset import CamOffset, side_of
from phasko.core.phase.reading import CamReading

__all__ = ["cam_results"]


def cam_results(reading: CamReading, engine: EngineProfile) -> list[CamResult]:
    """The cam against its reference, or what is known without one; and against the other bank where that is all."""
    found = [_own(reading, engine)]
    if reading.bank is not None:
        bank = reading.bank
        found.append(
            CamResult(
                cam=reading.cam.id,
                segment=reading.segment,
                reference=f"bank:{bank.other}",
                offset_deg=bank.offset_deg,
                offset_u95_deg=bank.u95_deg,
                total_u95_deg=bank.total_u95_deg,
                cycles=reading.relative.offset.cycles_used if reading.relative is not None else 0,
                state=side_of(bank.offset_deg, reading.cam.tolerance_deg),
            )
        )
    return found


def _own(reading: CamReading, engine: EngineProfile) -> CamResult:
    offset, relative = reading.offset, reading.relative
    about = CamResult(
        cam=reading.cam.id,
        segment=reading.segment,
        reference=reading.reference.source if offset is not None else "none",
        missing_edges=reading.missing_edges,
        extra_edges=reading.extra_edges,
    )
    if relative is None:
        return about
    measured = {
        "cycle_spread_deg": relative.spread_deg,
        "trend_deg_per_s": relative.trend_deg_per_s,
        "cycles": relative.offset.cycles_used,
        "state": relative.state if offset is not None or relative.state == "unsteady" else None,
        "edges": _edges(reading, relative, engine),
        "per_cycle": _per_cycle(relative, offset is not None),
        "step": _step(relative, offset is not None),
    }
    if offset is not None:
        value = offset.offset.value
        counted = pitches_of(value, engine.drive, reading.cam.id)
        measured |= {
            "offset_deg": value,
            "offset_u95_deg": offset.offset.u95,
            "total_u95_deg": offset.total_u95_deg,
            "pitches": None if counted is None else counted.pitches,
            "pitch_stage": None if counted is None else counted.stage,
            "ambiguous_modulo_deg": reading.ambiguous_modulo_deg,
        }
    return about.model_copy(update=measured)


def _per_cycle(relative: CamOffset, absolute: bool) -> list[CycleOffset]:
    """Offsets cycle by cycle; without a reference they are deviations from the mean of the capture."""
    zero = 0.0 if absolute else relative.offset.value
    pairs = zip(relative.cycle_times_s.tolist(), relative.statistics.cycle_values.tolist(), strict=True)
    return [CycleOffset(time_s=at, offset_deg=value - zero) for at, value in pairs]


def _step(relative: CamOffset, absolute: bool) -> OffsetStepResult | None:
    step = relative.step
    if step is None:
        return None
    zero = 0.0 if absolute else relative.offset.value
    return OffsetStepResult(time_s=step.time_s, before_deg=step.before_deg - zero, after_deg=step.after_deg - zero)


def _edges(reading: CamReading, relative: CamOffset, engine: EngineProfile) -> list[CamEdgeResult]:
    """Every edge with its place. The clock counts from tooth 1 where the profile has no index."""
    means = relative.statistics.edge_means
    absolute, index = reading.offset is not None, engine.crank.index_deg
    wheel = engine.crank.known_wheel
    found = []
    for i, edge in enumerate(reading.cam.edges):
        if not np.isfinite(means[i]):
            continue
        standing = (edge.deg + float(means[i])) % 720.0
        after = (standing - (index or 0.0)) % 720.0
        found.append(
            CamEdgeResult(
                edge=i,
                kind=edge.kind,
                measured_deg=standing if index is not None else None,
                reference_deg=edge.deg if absolute else None,
                delta_deg=float(means[i]) if absolute else None,
                teeth_from_gap=None if index is None else teeth_from_gap(after, wheel),
                from_tooth_1_deg=after,
                between_teeth=round(place_between_teeth(after, wheel), 2),
            )
        )
    return found
