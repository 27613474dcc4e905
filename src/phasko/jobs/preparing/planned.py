"""The hook-up that a job has planned, and how far it is."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from phasko.core.documents import EngineProfile
from phasko.core.documents.job import JobDocument
from phasko.core.hookup import HookUpPlan, as_chosen, hook_up_plan, hook_up_question

__all__ = ["HookUpNote", "hook_up_note", "planned_hook_up"]


class HookUpNote(BaseModel):
    """How many channels the plan has (0: nothing is planned), and how many of its cautions are ticked."""

    model_config = ConfigDict(frozen=True)
    channels: int = 0
    ticked: int = 0
    cautions: int = 0


def planned_hook_up(profile: EngineProfile, told: JobDocument) -> HookUpPlan | None:
    """The plan that was chosen last; ``None`` where none was."""
    kept = told.hook_up
    asked = hook_up_question(kept.question) if kept is not None else None
    if kept is None or asked is None or not asked.possible(profile):
        return None
    return as_chosen(hook_up_plan(profile, asked, kept.channels, told, kept.cylinder), kept)


def hook_up_note(profile: EngineProfile, told: JobDocument) -> HookUpNote:
    """The same in three numbers, for the route."""
    plan = planned_hook_up(profile, told)
    if plan is None or told.hook_up is None:
        return HookUpNote()
    return HookUpNote(
        channels=max(len(round_.leads) for round_ in plan.rounds),
        ticked=sum(one.id in told.hook_up.ticked for one in plan.cautions),
        cautions=len(plan.cautions),
    )
