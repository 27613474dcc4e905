"""What a fleet proposes for a profile, and its acceptance by a person."""

from __future__ import annotations

from collections.abc import Collection
from pathlib import Path

from phasko.core.errors import NotFoundError, RefusedError
from phasko.core.standards import Proposal, refined_profile
from phasko.fleet.teaching import Taught, taught_by
from phasko.fleet.view import proposal_of
from phasko.jobs.engine_profiles import EngineSummary, engine_profile, engines, save_engine
from phasko.store import Database

__all__ = ["accept_from_fleet"]


def accept_from_fleet(database: Database, out: Path, engine_sha256: str, keep: Collection[str]) -> EngineSummary:
    """Stores the profile with the edges and half widths of the cams that were accepted, and the ``index`` where it was,
    as its next version; jobs keep theirs until a person moves them. Raises NotFoundError for a kind that the tables do
    not have, and RefusedError where it is no engine of this workshop, where the profile has changed since the fleet was
    measured, and where nothing of that is proposed."""
    taught = next((one for one in taught_by(out) if one.engine_sha256 == engine_sha256), None)
    if taught is None:
        raise NotFoundError("The fleet has no such kind of engine", remedy="Look at the fleet again: it was made anew.")
    proposal = proposal_of(taught)
    if proposal is None or not _parts(proposal) & set(keep):
        raise RefusedError("The fleet proposes nothing of that", kept="The profile is as it was")
    newest = _same_engine(database, taught)
    changed = refined_profile(engine_profile(database, newest.id), proposal, keep)
    text = changed.model_dump_json(by_alias=True, exclude_none=True, exclude_unset=False, indent=1)
    return save_engine(database, text.encode(), changed.name, newest.version)


def _parts(proposal: Proposal) -> set[str]:
    return {cam.cam for cam in proposal.cams} | ({"index"} if proposal.index is not None else set())


def _same_engine(database: Database, taught: Taught) -> EngineSummary:
    newest = next((one for one in engines(database) if one.name == taught.engine), None)
    if newest is None:
        raise RefusedError(
            f"This workshop has no engine {taught.engine}",
            kept="Nothing was changed",
            remedy="Import its profile at Engines, then accept again.",
        )
    if engine_profile(database, newest.id) != taught.profile:
        raise RefusedError(
            f"The profile of {taught.engine} has changed since the fleet was measured",
            kept="The profile is as it was",
            remedy="Analyse the fleet again: what it says is against the profile as it was.",
        )
    return newest
