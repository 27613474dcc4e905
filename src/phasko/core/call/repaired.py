"""What was known before a repair and what was found after it: two engines, never joined in one call."""

from __future__ import annotations

from dataclasses import replace

from phasko.core.documents.job import Code, JobDocument
from phasko.core.evidence import JobEvidence

__all__ = ["after_repair", "before_repair", "evidence_now"]


def evidence_now(job: JobEvidence) -> JobEvidence:
    """What the call is about: the engine after the repair as soon as anything was recorded or seen of it, else as it
    came."""
    return after_repair(job) or before_repair(job)


def before_repair(job: JobEvidence) -> JobEvidence:
    """Everything that is known of the engine as it came: no capture, look or drive from after the repair."""
    drives = _drives_after(job.told)
    return replace(
        job,
        captures=[c for c in job.captures if c.recording.description.repair != "after"],
        looks=tuple(look for look in job.looks if look.repair != "after"),
        roads=tuple(road for road in job.roads if road.name not in drives),
    )


def after_repair(job: JobEvidence) -> JobEvidence | None:
    """Everything that is known of the engine as it is after the repair; ``None`` while nothing is.

    The complaint, what had been replaced and the codes of before speak of the engine as it came and are left out; a
    code that came back after it was cleared speaks of the engine as it is.
    """
    drives = _drives_after(job.told)
    captures = [c for c in job.captures if c.recording.description.repair == "after"]
    looks = tuple(look for look in job.looks if look.repair == "after")
    roads = tuple(road for road in job.roads if road.name in drives)
    if not captures and not looks and not roads:
        return None
    return replace(job, captures=captures, looks=looks, roads=roads, told=_told_after(job.told))


def _drives_after(told: JobDocument | None) -> frozenset[str]:
    return frozenset(told.repair.road_tests) if told is not None and told.repair is not None else frozenset()


def _told_after(told: JobDocument | None) -> JobDocument | None:
    if told is None:
        return None
    back = told.repair.returned if told.repair is not None else []
    return told.model_copy(
        update={
            "complaint": None,
            "replaced": [],
            "background": [],
            "looks": [],
            "codes": [Code(code=code, status="current", returned=True) for code in back],
        }
    )
