"""A plan as somebody set the instrument by hand: other ranges, another rate."""

from __future__ import annotations

from dataclasses import replace

from phasko.core.documents.job import HookUp
from phasko.core.hookup.leads import Lead
from phasko.core.hookup.plan import HookUpPlan, Round
from phasko.core.hookup.settings import RANGES_V, Recording

__all__ = ["as_chosen", "ranges_of"]


def ranges_of(lead: Lead) -> tuple[float, ...]:
    """The half ranges (V, at the wire) that an instrument offers for that lead, its attenuator counted in."""
    return tuple(range_v * lead.attenuator for range_v in RANGES_V)


def as_chosen(plan: HookUpPlan, hook_up: HookUp) -> HookUpPlan:
    """The plan with the ranges and the rate that were chosen; what was not chosen stays as planned."""
    rounds = tuple(Round(tuple(_lead(lead, hook_up) for lead in round_.leads)) for round_ in plan.rounds)
    return replace(plan, rounds=rounds, recording=_recording(plan.recording, hook_up.rate_hz))


def _lead(lead: Lead, hook_up: HookUp) -> Lead:
    chosen = hook_up.ranges_v.get(lead.key)
    return lead if chosen is None else replace(lead, range_v=chosen)


def _recording(planned: Recording, rate_hz: float | None) -> Recording:
    if rate_hz is None or rate_hz == planned.rate_hz:
        return planned
    sample = None if planned.rpm is None else 6.0 * planned.rpm / rate_hz
    why = f"Set by hand; the plan takes {planned.rate_hz / 1000.0:g} kHz. {planned.why}"
    return replace(planned, rate_hz=rate_hz, sample_deg=sample, why=why)
