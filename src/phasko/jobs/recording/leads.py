"""From the planned hook-up to what the scope is set to, and what each column of the capture is."""

from __future__ import annotations

from dataclasses import dataclass

from phasko.core.documents import EngineProfile
from phasko.core.documents.capture import ChannelDescription
from phasko.core.documents.job import JobDocument
from phasko.core.errors import RefusedError
from phasko.core.hookup import HookUpPlan, Lead
from phasko.devices import ScopeChannel, ScopeSetup
from phasko.jobs.preparing.planned import planned_hook_up

__all__ = ["Armed", "ready_to_record", "set_up"]


@dataclass(frozen=True, slots=True)
class Armed:
    """What is recorded: the leads in the order of the columns ``c1``, ``c2`` ..., their descriptions, and the scope's
    setting."""

    plan: HookUpPlan
    leads: tuple[Lead, ...]
    channels: tuple[ChannelDescription, ...]
    setup: ScopeSetup


def ready_to_record(profile: EngineProfile, told: JobDocument, round_number: int) -> HookUpPlan:
    """The plan, once every caution is ticked. Raises RefusedError where nothing is planned, a caution is not ticked, or
    the plan has no such round."""
    plan = planned_hook_up(profile, told)
    kept = told.hook_up
    if plan is None or kept is None:
        raise RefusedError("No hook-up is planned", kept="Nothing was recorded", remedy="Plan it at Hook-up first.")
    open_ = [caution for caution in plan.cautions if caution.id not in kept.ticked]
    if open_:
        raise RefusedError(
            f"Still to tick: {open_[0].text}", kept="Nothing was recorded", remedy="Tick every caution at Hook-up."
        )
    if not 0 <= round_number < len(plan.rounds):
        raise RefusedError(f"The hook-up has {len(plan.rounds)} rounds, no round {round_number + 1}")
    return plan


def set_up(plan: HookUpPlan, round_number: int, beside: bool = False) -> Armed:
    """The scope's setting for a round. ``beside``: a sensor on the stand has a healthy one and its temperature beside
    it."""
    leads = plan.rounds[round_number].leads
    if plan.question.turns == "bench" and beside:
        return _on_the_stand(plan, leads[0])
    channels = tuple(_described(lead, f"c{i}") for i, lead in enumerate(leads, start=1))
    scope = [
        ScopeChannel(number=i, range_v=lead.range_v / lead.attenuator, coupling=lead.coupling, signal=lead.key)
        for i, lead in enumerate(leads, start=1)
    ]
    setup = ScopeSetup(channels=scope, rate_hz=plan.recording.rate_hz, most_s=_most_s(plan))
    return Armed(plan, leads, channels, setup)


def _most_s(plan: HookUpPlan) -> float:
    """A burst ends by itself; what runs may be recorded for an hour."""
    return 10.0 if plan.question.turns == "cranking" else 3600.0


def _described(lead: Lead, column: str) -> ChannelDescription:
    scaled = lead.scale != 1.0 or lead.unit != "V"
    return ChannelDescription(
        column=column,
        role=lead.role,
        unit="V",
        scale=lead.scale,
        scaled_unit=lead.unit if scaled else None,
        cam=lead.cam,
        wheel=lead.wheel,
        cylinder=lead.cylinder,
        signal=lead.signal,
        coupling=lead.coupling,
        reference="gauge" if lead.role == "cylinder_pressure" else None,
    )


def _on_the_stand(plan: HookUpPlan, lead: Lead) -> Armed:
    """The sensor under test as its own role, the healthy one and the temperature as further signals."""
    tested = _described(lead, "c1")
    healthy = ChannelDescription(column="c2", role="other", unit="V")
    warm = ChannelDescription(column="c3", role="other", unit="V", scale=100.0, scaled_unit="°C")
    scope = [
        ScopeChannel(number=1, range_v=lead.range_v, signal=lead.key),
        ScopeChannel(number=2, range_v=lead.range_v, signal=f"beside:{lead.key}"),
        ScopeChannel(number=3, range_v=5.0, signal="temperature"),
    ]
    setup = ScopeSetup(channels=scope, rate_hz=plan.recording.rate_hz, most_s=_most_s(plan))
    return Armed(plan, (lead,), (tested, healthy, warm), setup)
