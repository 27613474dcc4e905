"""Before the first capture: complaint, plan, hook-up, guides."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, Query
from pydantic import BaseModel, ConfigDict, Field

from phasko.core.documents.job import Guided, HookUp
from phasko.core.documents.repair_results import ChangeResult
from phasko.jobs.preparing import complaint, hooking_up
from phasko.jobs.preparing.between import captures_between
from phasko.jobs.preparing.complaint import ComplaintPage, Pasted, Plan
from phasko.jobs.preparing.hooking_up import HookUpPage
from phasko.jobs.preparing.job_defaults import JobDefaults, job_defaults, set_job_defaults
from phasko.web.errors import OUTDATED
from phasko.web.workshop import DatabaseOf, LeadOf, MadeFrom

router = APIRouter(prefix="/api", tags=["preparing"])


class PastedText(BaseModel):
    model_config = ConfigDict(extra="forbid")
    text: Annotated[str, Field(max_length=400_000)]


@router.get("/code-titles")
def get_code_titles() -> dict[str, str]:
    """The public titles of trouble codes."""
    return complaint.code_titles()


@router.post("/pasted-codes")
def read_pasted_codes(body: PastedText) -> Pasted:
    """What a text from a scan tool holds; nothing is stored."""
    return complaint.read_pasted(body.text)


@router.get("/job-defaults")
def get_job_defaults(database: DatabaseOf) -> JobDefaults:
    """With which limit and costs new jobs begin."""
    return job_defaults(database)


@router.put("/job-defaults")
def put_job_defaults(body: JobDefaults, database: DatabaseOf, lead: LeadOf) -> JobDefaults:  # noqa: ARG001
    return set_job_defaults(database, body)


@router.get("/jobs/{job_id}/complaint")
def get_complaint(job_id: int, database: DatabaseOf) -> ComplaintPage:
    return complaint.complaint_page(database, job_id)


@router.get("/jobs/{job_id}/plan")
def get_plan(job_id: int, database: DatabaseOf) -> Plan:
    """What to test first, second, third."""
    return complaint.job_plan(database, job_id)


@router.get("/jobs/{job_id}/hook-up")
def get_hook_up(
    job_id: int,
    database: DatabaseOf,
    question: Annotated[str | None, Query(max_length=40)] = None,
    channels: Annotated[Literal["2", "4", "8"] | None, Query()] = None,
) -> HookUpPage:
    """The channel plan for a question; for what was chosen last where none is said."""
    several: dict[str, Literal[2, 4, 8]] = {"2": 2, "4": 4, "8": 8}
    return hooking_up.hook_up_page(database, job_id, question, several[channels] if channels is not None else None)


@router.put("/jobs/{job_id}/hook-up", responses=OUTDATED)
def put_hook_up(job_id: int, body: HookUp, database: DatabaseOf, made_from: MadeFrom) -> HookUpPage:
    """Keeps question, channels, ticks and wires."""
    return hooking_up.keep_hook_up(database, job_id, body, made_from)


@router.put("/jobs/{job_id}/guided")
def put_guided(job_id: int, body: Guided, database: DatabaseOf) -> HookUpPage:
    """Keeps readings taken by a guide; what they say is noted as a look, where it is evidence."""
    return hooking_up.keep_guided(database, job_id, body)


@router.get("/jobs/{job_id}/between")
def get_between_captures(job_id: int, before: int, after: int, database: DatabaseOf) -> list[ChangeResult]:
    """What changed from one capture of the job to another."""
    return captures_between(database, job_id, before, after)
