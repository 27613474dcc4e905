"""Everything the picture of sealing needs: signals over 720 degrees, a bar per cylinder, the count, in words."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

import numpy as np
from pydantic import BaseModel, ConfigDict

from phasko.core import numbers
from phasko.core.compression.blind_spots import blind_spots, count_words, dead_bank
from phasko.core.compression.relative import Compression
from phasko.core.compression.result import overall_result, relatives
from phasko.core.compression.worst import worst
from phasko.core.cycle.angle_grid import STEPS
from phasko.core.cycle.cycles import cycle_origin_deg
from phasko.core.documents.analysis import CylinderRelative, Finding, OverallCompressionResult
from phasko.core.documents.capture import CaptureDescription
from phasko.core.documents.engine import EngineProfile
from phasko.core.ignition import CoilFiring

__all__ = ["CompressionView", "compression_finding", "compression_view"]


_RPM = 30.0 / math.pi
"""rpm of one rad/s: the crank's speed reads on every screen alike."""


class ViewPart(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class CompressionCurve(ViewPart):
    """Mean settled cycle of one source, a value per step from ``from_deg`` on; ``explained`` as in the result."""

    source: Literal["starter_current", "battery_voltage", "crank_speed"]
    channel: str
    unit: str
    explained: float
    turned: bool
    values: list[float]


class CompressionTdc(ViewPart):
    """A cylinder's compression TDC on the unrolled cycle, and where it stands on the engine."""

    cylinder: int
    deg: float
    bank: int


class CompressionBar(CylinderRelative):
    """One cylinder, and what each source alone says, in the order of the curves."""

    by_source: list[float]


class CompressionSpark(ViewPart):
    """One coil's spark on the unrolled cycle (``deg``), and in words."""

    cylinder: int
    deg: float
    spark_deg: float
    u95_deg: float
    state: str
    words: str


class CompressionCycle(ViewPart):
    """A cycle from which sealing was judged."""

    from_s: float
    to_s: float
    rpm: float


class CompressionView(ViewPart):
    """``bars`` and ``tdcs`` are in firing order; ``named``: whether cylinders have names at all."""

    finding: Finding
    count: int | None
    sound: int | None
    expected: int
    worst_where: str | None
    worst_size: str | None
    named: bool
    identified_by: str | None
    from_deg: float
    step_deg: float
    curves: list[CompressionCurve]
    tdcs: list[CompressionTdc]
    bars: list[CompressionBar]
    sparks: list[CompressionSpark]
    weak_below: float
    dead_below: float
    cycles_used: int
    cycles_left_out: int
    settled_from_s: float
    settled_to_s: float
    disagree: bool
    blind_spots: list[str]
    chosen: bool
    cycles: list[CompressionCycle]
    overall: OverallCompressionResult | None
    taken_out: int | None


def compression_view(
    compression: Compression,
    engine: EngineProfile,
    firings: Sequence[CoilFiring] = (),
    described: CaptureDescription | None = None,
) -> CompressionView:
    """The view of a measured compression, with the sparks of the same capture and what is said about it."""
    order = sorted(engine.firing_tdc_deg)
    origin = cycle_origin_deg(engine.cylinders)
    bank_of = {c: bank.bank for bank in engine.banks for c in bank.cylinders}
    low = worst(compression, engine)
    seals = {c.cylinder: c for c in relatives(compression)}
    named = compression.identified_by is not None
    return CompressionView(
        finding=compression_finding(compression, engine),
        count=compression.events_per_cycle,
        sound=compression.sound,
        worst_where=None if low is None else low.where,
        worst_size=None if low is None else low.size,
        expected=compression.expected_events,
        named=named,
        identified_by=compression.identified_by,
        from_deg=origin,
        step_deg=720.0 / STEPS,
        curves=[
            CompressionCurve(
                source=s.source,
                channel=s.channel,
                unit="rpm" if s.source == "crank_speed" else s.unit,
                explained=s.separation.explained,
                turned=s.separation.turned,
                values=[round(float(v) * (_RPM if s.source == "crank_speed" else 1.0), 4) for v in s.signal],
            )
            for s in compression.sources
        ],
        tdcs=[
            CompressionTdc(cylinder=c, deg=(deg - origin) % 720.0 + origin, bank=bank_of.get(c, 1))
            for c, deg in engine.firing_tdc_deg.items()
        ],
        bars=[
            CompressionBar(
                **seals[c].model_dump(),
                by_source=[float(s.relative[order.index(c)]) for s in compression.sources] if named else [],
            )
            for c in engine.firing_order
        ],
        sparks=_sparks(firings, engine, origin) if named else [],
        weak_below=numbers.COMPRESSION_WEAK_BELOW.value,
        dead_below=numbers.COMPRESSION_DEAD_BELOW.value,
        cycles_used=len(compression.cycles.cycles),
        cycles_left_out=compression.cycles.left_out,
        settled_from_s=compression.cycles.cycles[0].from_s,
        settled_to_s=compression.cycles.cycles[-1].to_s,
        disagree=compression.disagree,
        blind_spots=blind_spots(compression, engine),
        chosen=described is not None and (described.seal_from_s is not None or described.seal_to_s is not None),
        cycles=[CompressionCycle(from_s=c.from_s, to_s=c.to_s, rpm=c.mean_rpm) for c in compression.cycles.cycles],
        overall=overall_result(compression.overall),
        taken_out=None if described is None else described.taken_out,
    )


_SPARK_STATES = {"in": "in the profile's window", "early": "early", "late": "late"}


def _sparks(firings: Sequence[CoilFiring], engine: EngineProfile, origin_deg: float) -> list[CompressionSpark]:
    found = []
    for firing in firings:
        cylinder = firing.cylinder or firing.nearest
        if cylinder is None or firing.spark_deg is None or firing.spark_u95_deg is None:
            continue
        at = engine.firing_tdc_deg[cylinder] + firing.spark_deg
        side = "before" if firing.spark_deg < 0 else "after"
        state = _SPARK_STATES.get(firing.state, "no window in the profile")
        if firing.segment == "running":
            state = "while running, as the control unit advances it"
        size = f"{abs(firing.spark_deg):.1f}° {side} TDC ± {firing.spark_u95_deg:.1f}°"
        found.append(
            CompressionSpark(
                cylinder=cylinder,
                deg=(at - origin_deg) % 720.0 + origin_deg,
                spark_deg=firing.spark_deg,
                u95_deg=firing.spark_u95_deg,
                state=firing.state,
                words=f"Cylinder {cylinder} sparks {size}, {state}",
            )
        )
    return found


_BY = {
    "cam": "the cam pattern",
    "firing": "the firing order itself",
    "coil": "a coil that fires once per cycle",
    "cylinder_pressure": "the pressure in a cylinder",
}


def compression_finding(compression: Compression, engine: EngineProfile) -> Finding:
    """The measurement in a plain sentence; what it means for the seal is left to the call."""
    used = len(compression.cycles.cycles)
    detail = f"Mean of {used} settled cycles, {compression.cycles.left_out} left out"
    if compression.events_per_cycle is None:
        fewer = int(np.count_nonzero(compression.sources[0].relative < numbers.COMPRESSION_WEAK_BELOW.value))
        rhythm = f"{fewer} of every {compression.expected_events} humps are low" if fewer else "An even rhythm"
        text = f"{rhythm}, but nothing to count against: how many cylinders compress is not known"
        return Finding(text=text, emphasis=None, detail=f"{detail}. {count_words(compression, engine)}")
    count = f"{compression.events_per_cycle} of {compression.expected_events}"
    if compression.identified_by is None:
        text = f"{count} cylinders compress per 720°; which is which is not known"
        return Finding(text=text, emphasis=count, detail=f"{detail}. No signal tells the two turns of a cycle apart.")
    detail = f"{detail}; cylinders named by {_BY.get(compression.identified_by, compression.identified_by)}."
    bank = dead_bank((*compression.dead, *compression.weak), engine)
    if bank is not None:
        own = [c.relative or 0.0 for c in compression.cylinders if c.state in ("dead", "weak")]
        size = f"{100 * sum(own) / len(own):.0f} %"
        text = f"All of bank {bank} compresses about {size} of the other bank, every cycle"
        return Finding(text=text, emphasis=size, detail=detail)
    words = count_words(compression, engine)
    if words is not None and len(compression.dead) + len(compression.weak) > 1:
        return Finding(text=words.rstrip("."), emphasis=None, detail=detail)
    low = [c for c in compression.cylinders if c.state in ("dead", "weak")]
    if low:
        first = low[0]
        size = f"{100 * (first.relative or 0.0):.0f} ± {100 * (first.u95 or 0.0):.0f} %"
        if len(low) == 1:
            text = f"Cylinder {first.cylinder} compresses {size} of the healthy ones, every cycle"
            return Finding(text=text, emphasis=size, detail=detail)
        names = ", ".join(str(c.cylinder) for c in low)
        return Finding(
            text=f"Cylinders {names} compress less than the healthy ones, every cycle", emphasis=None, detail=detail
        )
    unsure = [c.cylinder for c in compression.cylinders if c.state == "unknown"]
    if unsure:
        names = ", ".join(map(str, unsure))
        text = f"{count} compress; how well cylinder {names} does is not sure enough"
        return Finding(text=text, emphasis=count, detail=detail)
    spread = max(abs((c.relative or 1.0) - 1.0) for c in compression.cylinders)
    width = max(c.u95 or 0.0 for c in compression.cylinders)
    text = f"{count} cylinders compress alike, within {100 * max(spread, width):.0f} %"
    return Finding(text=text, emphasis=count, detail=detail)
