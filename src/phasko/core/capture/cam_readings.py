"""Every cam of a capture against its reference, in every state that occurs."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from phasko.core.capture.crank_angle import OnTheClock
from phasko.core.crank.segments import Segment, SegmentKind, measured_kinds
from phasko.core.documents.analysis import Problem
from phasko.core.found import Found
from phasko.core.phase.reading import CamReading, CamRun, read_cam
from phasko.core.phase.reference import CamReference, profile_references
from phasko.core.phase.swapped import swapped_cams

__all__ = ["References", "cam_readings"]

References = Mapping[tuple[str, SegmentKind], CamReference]


def cam_readings(
    read: OnTheClock, runs: Mapping[str, CamRun | None], segments: Sequence[Segment], known_good: References
) -> Found[tuple[CamReading, ...]]:
    """Every cam in every state that occurs. Cams whose signals seem swapped are read, but nothing is concluded."""
    listed = [cam for cam in read.engine.cams if cam.id in read.known_cams]
    # Without an index no offset is known, so that neither of two alike patterns can be said to be in time.
    swapped = swapped_cams(read.pieces, read.cams, listed) if read.clock.index_known else []
    problems = tuple(
        Problem(
            code="channels_swapped",
            channel=read.cams[one].channel,
            text=f"The signals of {one} and {other} seem swapped: each follows the other one's pattern. "
            "Correct the roles and measure again; nothing is concluded from them.",
        )
        for one, other in swapped
    )
    doubtful = {cam for pair in swapped for cam in pair}
    own = profile_references(read.engine, read.known_cams)
    found = [
        read_cam(
            known_good.get((cam_id, kind), own[cam_id]), kind, run, segments, read.clock.index_known, cam_id in doubtful
        )
        for cam_id, run in runs.items()
        if run is not None
        for kind in measured_kinds
    ]
    return Found(tuple(reading for reading in found if reading is not None), problems)
