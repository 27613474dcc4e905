"""One physical state: what valves and signals do in it, in which condition, and two faults at once."""

from __future__ import annotations

import pytest

from phasko.core.engine.state import Condition, EngineState, both

COLD = Condition("cranking", "cold")
HOT = Condition("cranking", "hot")
RUNNING = Condition("running", "hot")
UNPLUGGED = Condition("cranking", "hot", "unplugged")


@pytest.mark.parametrize(
    ("state", "valves", "reading"),
    [
        (EngineState(valves_deg={"B1I": 17.0}), 17.0, 17.0),
        (EngineState(cam_signals_deg={"B1I": 8.0}), 0.0, 8.0),
        (EngineState(crank_wheel_deg=6.0), 0.0, -6.0),
        (EngineState(sprocket_deg=9.0), 9.0, 9.0),
        (EngineState(hub_deg=12.0), 12.0, 0.0),
        (EngineState(readings_deg=3.0), 0.0, 3.0),
        (EngineState(phaser_deg={"B1I": -20.0}), -20.0, -20.0),
    ],
)
def test_every_part_moves_what_it_carries(state: EngineState, valves: float, reading: float) -> None:
    assert state.valves_of("B1I") == valves
    assert state.reading_of("B1I") == reading


def test_a_slack_tensioner_is_late_in_its_condition_only() -> None:
    slack = EngineState(slack_deg={"B1I": 10.0}, slack_when="cold")
    assert slack.valves_of("B1I", COLD) == 10.0
    assert slack.valves_of("B1I", HOT) == 0.0
    mean, sd = slack.coming_and_going_deg("B1I", Condition("cranking"))
    assert (mean, sd) == (5.0, 5.0), "where nobody noted the temperature it may or may not be there"


def test_elongation_stays_while_a_phaser_driven_by_its_control_goes_when_unplugged() -> None:
    driven = EngineState(phaser_deg={"B1I": -20.0}, phaser_when="connected", valves_deg={"B1E": 4.0})
    assert driven.valves_of("B1I", UNPLUGGED) == 0.0
    assert driven.valves_of("B1I", RUNNING) == -20.0
    assert driven.valves_of("B1E", UNPLUGGED) == driven.valves_of("B1E", RUNNING) == 4.0


def test_what_shows_only_with_the_symptom_is_not_there_while_the_car_behaves() -> None:
    state = EngineState(signals={"B1I": "erratic"}, only_with_symptom=True)
    assert state.signal_of("B1I", Condition(symptom="absent")) is None
    assert state.signal_of("B1I", Condition(symptom="present")) == "erratic"


def test_two_faults_at_once_add_up() -> None:
    chain = EngineState(valves_deg={"B1I": 17.0}, worn=True)
    leak = EngineState(seal={3: 0.4}, unknown_size_sd=0.1)
    made = both(chain, leak)
    assert made.valves_of("B1I") == 17.0
    assert made.seal[3] == 0.4
    assert made.worn
    assert made.unknown_size_sd == 0.1
    assert both(leak, EngineState(seal={3: 0.5})).seal[3] == pytest.approx(0.2)


def test_signals_out_of_step_or_poor_may_make_a_control_unit_withhold_spark() -> None:
    cams = ("B1I", "B1E")
    assert EngineState(valves_deg={"B1I": 17.0}).out_of_step(cams)
    assert EngineState(signals={"crank": "lost"}).out_of_step(cams)
    assert EngineState(cams_turn=False).out_of_step(cams)
    assert not EngineState(hub_deg=17.0).out_of_step(cams), "a hub takes both signals along"
    assert not EngineState(valves_deg={"B1I": 3.0}).out_of_step(cams)
