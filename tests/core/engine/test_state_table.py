"""Many states side by side say what each state says by itself."""

from __future__ import annotations

import pytest

from phasko.core.call.hypotheses import single_hypotheses
from phasko.core.engine.state import ALWAYS, Condition, EngineState
from phasko.core.engine.state_table import StateTable
from phasko.core.evidence.cylinder_compression import pressed
from tests.builders import COARSE_FOUR, FOUR, SIX, pool_engine

CONDITIONS = (ALWAYS, Condition("running", "hot", "unplugged", "absent"), Condition("cranking", "cold", "parked"))


@pytest.mark.parametrize("name", [FOUR, SIX, COARSE_FOUR, "quayle-5.0-eight", "ostrin-1.6-distributor"])
@pytest.mark.parametrize("condition", CONDITIONS)
def test_every_state_of_every_explanation_is_told_as_by_itself(name: str, condition: Condition) -> None:
    engine = pool_engine(name)
    table = single_hypotheses(engine).states
    made = table.pressed(condition)
    for cam in engine.cams:
        readings = [state.reading_of(cam.id, condition) for state in table.states]
        assert table.readings(cam.id, condition) == pytest.approx(readings, abs=1e-9)
    for row, state in enumerate(table.states):
        # One state alone is worked out in steps of a tenth of a degree.
        assert dict(zip(engine.firing_order, made[row], strict=True)) == pytest.approx(
            pressed(state, engine, condition), abs=2e-3
        )


def test_cylinders_of_pairs_are_told_as_by_themselves() -> None:
    engine = pool_engine(FOUR)
    states = (
        EngineState(valves_deg={"B1I": 18.0}, seal={2: 0.4}),
        EngineState(cams_turn=False, seal={1: 0.5, 3: 0.0}, unknown_seal_sd=0.4),
        EngineState(cams_turn=False, seal={1: 0.5, 3: 0.0}),
        EngineState(still={3: "intake"}, seal_of_all=0.8),
        EngineState(sprocket_deg=-17.0, still={1: "exhaust"}, seal={1: 0.2}, seal_of_all=0.7),
    )
    made = StateTable(engine, states).pressed()
    for row, state in enumerate(states):
        expected = pressed(state, engine)
        assert dict(zip(engine.firing_order, made[row], strict=True)) == pytest.approx(expected, abs=2e-3)
