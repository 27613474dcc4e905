"""What the known good engines teach a profile: proposed, and taken over as a new version when a person accepts."""

from __future__ import annotations

from collections.abc import Collection

from pydantic import BaseModel, ConfigDict

from phasko.core.errors import RefusedError
from phasko.core.standards import Proposal, proposed_profile, refined_profile
from phasko.jobs.engine_profiles import EngineSummary, engine_profile, engine_summary, save_engine
from phasko.jobs.measured import engine_state, known_good_measured
from phasko.store import Database, captures, jobs

__all__ = ["EngineProposal", "accept_proposal", "proposal_for"]


class EngineProposal(BaseModel):
    """A proposal for the newest version of an engine, and the cars it is from; ``None`` where the library says nothing
    new."""

    model_config = ConfigDict(frozen=True)
    engine_id: int
    version: int
    proposal: Proposal | None
    cars: list[str]


def proposal_for(database: Database, engine_id: int) -> EngineProposal:
    """What all known good captures of that kind of engine say beyond the newest version of its profile, whichever is
    asked for. Raises NotFoundError, and DocumentError where the stored profile cannot be read."""
    with database.reading() as session:
        version = jobs.engine_versions(session, jobs.engine_version(session, engine_id).name)[0]
        newest = engine_summary(version)
        stored = captures.known_good_captures(session, version.name, None)
        cars = list(dict.fromkeys(jobs.get_job(session, c.job_id).vehicle.name for c in stored))
        hashes = {c.id: c.sha256 for c in stored}
        state = engine_state(version, stored)
    measured = known_good_measured(database, state, list(hashes))
    proposal = proposed_profile([(hashes[number], capture) for number, capture in measured], state.profile)
    return EngineProposal(engine_id=newest.id, version=newest.version, proposal=proposal, cars=cars)


def accept_proposal(database: Database, engine_id: int, keep: Collection[str], made_from: int | None) -> EngineSummary:
    """Stores the profile with what was accepted (cams by id, ``index``) as its next version; jobs keep theirs until a
    person moves them. Raises NotFoundError, OutdatedError, and RefusedError where nothing is proposed any more."""
    found = proposal_for(database, engine_id)
    known = {cam.cam for cam in found.proposal.cams} | {"index"} if found.proposal is not None else set()
    if found.proposal is None or not set(keep) & known:
        raise RefusedError(
            "The library proposes nothing of that",
            kept="The profile is as it was",
            remedy="Look at the proposal again: another one may have been accepted meanwhile.",
        )
    changed = refined_profile(engine_profile(database, found.engine_id), found.proposal, keep)
    text = changed.model_dump_json(by_alias=True, exclude_none=True, exclude_unset=False, indent=1)
    return save_engine(database, text.encode(), changed.name, made_from)
