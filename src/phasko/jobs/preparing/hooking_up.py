"""The hook-up of a job: the channel plan for a question, and guides with their verdicts."""

from __future__ import annotations

from dataclasses import asdict
from typing import Literal

from pydantic import BaseModel, ConfigDict

from phasko.core.documents import EngineProfile
from phasko.core.documents.job import Guided, HookUp, Wire
from phasko.core.errors import DocumentError
from phasko.core.hookup import (
    GUIDES,
    RATES_HZ,
    BeforeAfter,
    Guide,
    GuideField,
    HookUpQuestion,
    Lead,
    as_chosen,
    before_after_of,
    before_after_tests,
    guide_of,
    guide_verdict,
    hook_up_plan,
    hook_up_question,
    hook_ups_of,
    ranges_of,
)
from phasko.core.looks import Look
from phasko.core.looks import question as question_of_look
from phasko.core.words import cam_name
from phasko.jobs.looking import AnswerOut, note_look
from phasko.jobs.measured import job_state
from phasko.jobs.preparing.complaint import job_plan
from phasko.jobs.told import tell, told_document
from phasko.store import Database

__all__ = ["HookUpPage", "hook_up_page", "keep_guided", "keep_hook_up"]


class HookUpQuestionOut(BaseModel):
    model_config = ConfigDict(frozen=True)
    id: str
    title: str
    short: str
    turns: str


class LeadOut(BaseModel):
    """One channel: number, signal, where, probe and half range (V at the wire) with those that an instrument offers;
    ``wire`` as the workshop typed it."""

    model_config = ConfigDict(frozen=True)
    key: str
    role: str
    name: str
    clip: str
    probe: str
    range_v: float
    planned_range_v: float
    ranges_v: list[float]
    at: str
    cam: str | None
    wheel: str | None
    cylinder: int | None
    signal: str | None
    coupling: str
    attenuator: float
    unit: str
    note: str
    wire: Wire | None


class CautionOut(BaseModel):
    model_config = ConfigDict(frozen=True)
    id: str
    text: str
    why: str
    ticked: bool


class RecordingOut(BaseModel):
    model_config = ConfigDict(frozen=True)
    rate_hz: float
    planned_rate_hz: float
    rates_hz: list[float]
    length_s: float
    rpm: float | None
    sample_deg: float | None
    why: str
    trigger: str


class GuideFieldOut(BaseModel):
    model_config = ConfigDict(frozen=True)
    name: str
    title: str
    unit: str | None
    answers: list[AnswerOut]


class GuideOut(BaseModel):
    model_config = ConfigDict(frozen=True)
    id: str
    title: str
    steps: list[str]
    fields: list[GuideFieldOut]
    caution: str
    about: list[AnswerOut]


class BeforeAfterOut(BaseModel):
    """A test with a before and an after; its outcomes are the answers of the look that it is noted under."""

    model_config = ConfigDict(frozen=True)
    id: str
    title: str
    shows: str
    steps: list[str]
    caution: str
    hook_up: str
    outcomes: list[AnswerOut]


class GuidedOut(BaseModel):
    """Readings that were kept, with what they say; ``noted``: the look under which they are evidence."""

    model_config = ConfigDict(frozen=True)
    guided: Guided
    words: str
    missing: list[str]
    noted: str | None


class HookUpPage(BaseModel):
    """The hook-up as its station and its printed page show it."""

    model_config = ConfigDict(frozen=True)
    questions: list[HookUpQuestionOut]
    question: HookUpQuestionOut
    repeat: str
    channels: Literal[2, 4, 8]
    cylinder: int
    cylinders: list[int]
    names_cylinder: bool
    rounds: list[list[LeadOut]]
    dropped: list[str]
    recording: RecordingOut
    states: list[str]
    cautions: list[CautionOut]
    hook_up: HookUp
    guides: list[GuideOut]
    before_after: list[BeforeAfterOut]
    guided: list[GuidedOut]
    version: int


def hook_up_page(
    database: Database, job_id: int, question: str | None = None, channels: Literal[2, 4, 8] | None = None
) -> HookUpPage:
    """The plan for ``question`` on ``channels``; for what was chosen last, or is proposed, where they are not said.
    Raises NotFoundError, and DocumentError for a question that this engine does not have."""
    told = told_document(database, job_id)
    with database.reading() as session:
        profile = job_state(session, job_id).profile
    kept = told.document.hook_up or HookUp()
    # Weighing the tests takes a moment; it is asked only where nobody has chosen yet.
    asked = _asked(question or kept.question or job_plan(database, job_id).begin_with, profile)
    several = channels or kept.channels
    planned = hook_up_plan(profile, asked, several, told.document, kept.cylinder)
    plan = as_chosen(planned, kept)
    as_planned = {lead.key: lead.range_v for lead in planned.leads}
    return HookUpPage(
        questions=[_question(one) for one in hook_ups_of(profile)],
        question=_question(asked),
        repeat=asked.repeat,
        channels=several,
        cylinder=plan.cylinder,
        cylinders=sorted(profile.firing_tdc_deg),
        names_cylinder=any(lead.cylinder is not None for lead in plan.leads),
        rounds=[[_lead(lead, kept, as_planned[lead.key]) for lead in round_.leads] for round_ in plan.rounds],
        dropped=list(plan.dropped),
        recording=RecordingOut.model_validate(
            {**asdict(plan.recording), "planned_rate_hz": planned.recording.rate_hz, "rates_hz": list(RATES_HZ)}
        ),
        states=list(plan.states),
        cautions=[
            CautionOut(id=one.id, text=one.text, why=one.why, ticked=one.id in kept.ticked) for one in plan.cautions
        ],
        hook_up=kept,
        guides=[_guide(one, profile) for one in GUIDES if one.about != "phaser" or _about(one, profile)],
        before_after=[_before_after(one) for one in before_after_tests(profile)],
        guided=[_guided(one) for one in told.document.guided],
        version=told.version,
    )


def keep_hook_up(database: Database, job_id: int, hook_up: HookUp, made_from: int | None = None) -> HookUpPage:
    """Keeps what was chosen, ticked and typed. Raises NotFoundError, DocumentError, OutdatedError."""
    told = told_document(database, job_id)
    with database.reading() as session:
        profile = job_state(session, job_id).profile
    if hook_up.question:
        _asked(hook_up.question, profile)
    before = told.document.hook_up
    if before is not None and before.question != hook_up.question:
        # Another question is another hook-up: its cautions have to be looked at anew.
        hook_up = hook_up.model_copy(update={"ticked": [t for t in hook_up.ticked if t not in before.ticked]})
    tell(database, job_id, told.document.model_copy(update={"hook_up": hook_up}), made_from)
    return hook_up_page(database, job_id)


def keep_guided(database: Database, job_id: int, guided: Guided) -> HookUpPage:
    """Keeps readings taken by a guide; what they say is noted as a look, where it is evidence. Raises NotFoundError,
    and DocumentError for a guide or a reading that is not known."""
    if before_after_of(guided.guide) is not None:
        return _keep_before_after(database, job_id, guided)
    guide = guide_of(guided.guide)
    if guide is None:
        raise DocumentError(f"there is no guide {guided.guide!r}", place="guide", kept="Nothing was noted")
    known = {field.name: field for field in guide.fields}
    for name in [*guided.readings, *guided.answers]:
        if name not in known:
            raise DocumentError(f"{guide.title} asks for no {name!r}", place=name, kept="Nothing was noted")
    told = told_document(database, job_id)
    others = [g for g in told.document.guided if (g.guide, g.about) != (guided.guide, guided.about)]
    tell(database, job_id, told.document.model_copy(update={"guided": [*others, guided]}))
    verdict = guide_verdict(guided)
    if verdict is not None and verdict.look is not None:
        note_look(database, job_id, verdict.look.model_copy(update={"note": _note(guided, verdict.words)}))
    return hook_up_page(database, job_id)


def _keep_before_after(database: Database, job_id: int, guided: Guided) -> HookUpPage:
    """A test with a before and an after: its outcome is noted as a look, with the captures on either side."""
    told = told_document(database, job_id)
    others = [g for g in told.document.guided if g.guide != guided.guide]
    outcome = guided.answers.get("outcome")
    if outcome:
        sides = [guided.answers[side] for side in ("before", "after") if guided.answers.get(side)]
        note = f"Between {' and '.join(sides)}" if len(sides) == 2 else guided.note
        look = Look(question=guided.guide, answer=outcome, cylinder=_cylinder_of(guided), note=note)
        note_look(database, job_id, look)
    tell(database, job_id, told.document.model_copy(update={"guided": [*others, guided]}))
    return hook_up_page(database, job_id)


def _cylinder_of(guided: Guided) -> int | None:
    asked = question_of_look(guided.guide)
    return int(guided.about) if asked is not None and asked.per_cylinder and guided.about.isdigit() else None


def _note(guided: Guided, words: str) -> str:
    about = f"{guided.about}: " if guided.about else ""
    return f"{about}{words}"[:500]


def _asked(question: str, profile: EngineProfile) -> HookUpQuestion:
    asked = hook_up_question(question)
    if asked is None or not asked.possible(profile):
        raise DocumentError(f"this engine has no hook-up {question!r}", place="question", kept="Nothing was changed")
    return asked


def _question(one: HookUpQuestion) -> HookUpQuestionOut:
    return HookUpQuestionOut(id=one.id, title=one.title, short=one.short, turns=one.turns)


def _lead(lead: Lead, kept: HookUp, planned_v: float) -> LeadOut:
    wire = next((w for w in kept.wires if w.signal == lead.key), None)
    fields = {name: value for name, value in asdict(lead).items() if name in LeadOut.model_fields}
    ranges = sorted({*ranges_of(lead), planned_v, lead.range_v})
    return LeadOut.model_validate({**fields, "wire": wire, "planned_range_v": planned_v, "ranges_v": ranges})


def _guide(guide: Guide, profile: EngineProfile) -> GuideOut:
    return GuideOut(
        id=guide.id,
        title=guide.title,
        steps=list(guide.steps),
        fields=[_field(one) for one in guide.fields],
        caution=guide.caution,
        about=_about(guide, profile),
    )


def _field(field: GuideField) -> GuideFieldOut:
    answers = [AnswerOut(id=id_, title=title) for id_, title in field.answers]
    return GuideFieldOut(name=field.name, title=field.title, unit=field.unit, answers=answers)


def _about(guide: Guide, profile: EngineProfile) -> list[AnswerOut]:
    """The sensors or phasers of this engine that a guide may be about."""
    cams = [(cam, cam_name(cam, profile)) for cam in profile.cams]
    if guide.about == "phaser":
        return [AnswerOut(id=cam.id, title=f"Solenoid of {name}") for cam, name in cams if cam.phaser is not None]
    if guide.about == "sensor":
        sensors = [AnswerOut(id=cam.id, title=f"{name} sensor") for cam, name in cams]
        return [AnswerOut(id="crank", title="Crank sensor"), *sensors]
    return []


def _before_after(one: BeforeAfter) -> BeforeAfterOut:
    asked = question_of_look(one.id)
    return BeforeAfterOut(
        id=one.id,
        title=one.title,
        shows=one.shows,
        steps=list(one.steps),
        caution=one.caution,
        hook_up=one.hook_up,
        outcomes=[AnswerOut(id=a.id, title=a.title) for a in asked.answers] if asked is not None else [],
    )


def _outcome(guided: Guided) -> GuidedOut:
    asked = question_of_look(guided.guide)
    chosen = next((a.title for a in asked.answers if a.id == guided.answers.get("outcome")), None) if asked else None
    sides = ", ".join(f"{side} {guided.answers[side]}" for side in ("before", "after") if guided.answers.get(side))
    words = "No outcome yet" if chosen is None else chosen
    return GuidedOut(
        guided=guided,
        words=f"{words}{f' ({sides})' if sides else ''}.",
        missing=[],
        noted=None if chosen is None else guided.guide,
    )


def _guided(guided: Guided) -> GuidedOut:
    if before_after_of(guided.guide) is not None:
        return _outcome(guided)
    verdict = guide_verdict(guided)
    return GuidedOut(
        guided=guided,
        words=verdict.words if verdict is not None else "This guide is not known any more.",
        missing=list(verdict.missing) if verdict is not None else [],
        noted=verdict.look.question if verdict is not None and verdict.look is not None else None,
    )
