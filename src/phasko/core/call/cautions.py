"""Whether the engine may still be cranked: by which way the valves have moved, not by the fault's name."""

from __future__ import annotations

import math

from phasko.core import numbers
from phasko.core.call.hypotheses import Hypothesis
from phasko.core.call.posterior import Judgement
from phasko.core.documents.engine import EngineProfile, ValveClearance
from phasko.core.engine.state import EngineState
from phasko.core.evidence import Observed

__all__ = ["cautions", "valves_towards_pistons"]


def cautions(judgement: Judgement, profile: EngineProfile, observed: Observed) -> list[str]:
    """``stop_cranking`` and ``inspect_valves`` where explanations of together more than one in ten move a valve towards
    a piston further than it may, or break the drive, on an engine not known to be free-running; and where the crank
    locks. Nothing where nothing was observed."""
    if not observed:
        return []
    locks = any(word.subject == "turns_by_hand" and word.answer == "locks" for word in observed.words)
    if locks:
        return ["stop_cranking", "inspect_valves"]
    if profile.interference is False:
        return []
    moved = sum(
        float(chance) * valves_towards_pistons(hypothesis.state, profile)
        for hypothesis, chance in zip(judgement.hypotheses, judgement.chances, strict=True)
        if chance > 1e-6 and _moves(hypothesis)
    )
    return ["stop_cranking", "inspect_valves"] if moved > numbers.CAUTION_PROBABILITY.value else []


def _moves(hypothesis: Hypothesis) -> bool:
    state = hypothesis.state
    return bool(
        state.valves_deg
        or state.sprocket_deg
        or state.hub_deg
        or state.slack_deg
        or state.unknown_valves_sd_deg
        or not state.cams_turn
    )


def valves_towards_pistons(state: EngineState, profile: EngineProfile) -> float:
    """Chance that in that state a valve reaches a piston: an exhaust cam late or an intake cam early by more than the
    profile's clearance allows, a cam that moves both either way, any cam from sixty degrees on, a broken drive. What a
    phaser does within its own range does not count."""
    if not state.cams_turn:
        return 1.0
    limits = profile.valve_clearance_deg or ValveClearance()
    # Without the phaser: within its own range no valve meets a piston.
    held = EngineState(
        valves_deg=state.valves_deg,
        sprocket_deg=state.sprocket_deg,
        hub_deg=state.hub_deg,
        slack_deg=state.slack_deg,
        slack_when=state.slack_when,
    )
    most = 0.0
    for cam in profile.cams:
        late = held.valves_of(cam.id)
        least = limits.exhaust_late if cam.shaft == "exhaust" else limits.intake_early
        towards = late if cam.shaft == "exhaust" else -late if cam.shaft == "intake" else abs(late)
        if cam.shaft == "single":
            least = min(limits.exhaust_late, limits.intake_early)
        if towards > least or abs(late) >= numbers.ANY_WAY_DEG.value:
            return 1.0
        sd = state.unknown_valves_sd_deg.get(cam.id)
        if sd:
            sides = 2.0 if cam.shaft == "single" else 1.0
            most = max(most, sides * 0.5 * math.erfc(least / sd / math.sqrt(2.0)))
    return most
