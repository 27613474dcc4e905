"""What the newest road test that says anything finds about breathing."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.evidence.observable import JobEvidence, NotCounted, Observed, Word

__all__ = ["RoadTest"]


class RoadTest:
    name = "road"
    title = "Road test"
    second_kind = False

    def observe(self, job: JobEvidence) -> Observed:
        told = [road for road in job.roads if road.state != "unknown"]
        left = [
            NotCounted(f"Road test {road.name}", "it shows no full throttle") for road in job.roads if road not in told
        ]
        if not told:
            return Observed((), (), tuple(left))
        newest = told[-1]
        words = f"On the road: {newest.text[0].lower()}{newest.text[1:].rstrip('.')}"
        return Observed((), (Word(self.name, newest.name, "road", newest.state, words),), tuple(left))

    def chance(self, word: Word, state: EngineState, profile: EngineProfile) -> float:
        """Little air with normal trims: a way that is blocked, valves out of time, cylinders that do not work."""
        far = max((abs(state.valves_of(cam.id)) for cam in profile.cams), default=0.0)
        shown = 3 * numbers.ROAD_BY_CHANCE.value
        if state.exhaust_blocked or state.intake_blocked or state.still:
            shown = numbers.ROAD_SHOWN.value
        elif far >= numbers.CAUTION_LEAST_DEG.value:
            # An engine with its valves out drives worse in every way, and is seldom driven so far as a road test.
            shown = numbers.ROAD_VALVES_SHOWN.value
        if state.outside:
            shown = 0.4
        blocked_intake = state.intake_blocked > 0.0
        part = {
            "breathes": 1.0 - shown,
            "intake_restricted": shown * (0.7 if blocked_intake else 0.03),
            "breathing": shown * (0.15 if blocked_intake else 0.6),
            "low": shown * 0.3,
            "air_flow_meter": shown * (0.5 if state.outside else 0.05),
        }
        return part[word.answer]
