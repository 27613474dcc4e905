"""What true or moved pistons do to the call, from the one cranking capture that is at hand anyway."""

from __future__ import annotations

import pytest

from phasko.bench.faults import DriveFaults, EngineFaults
from phasko.bench.probe import Probe
from phasko.core.documents.analysis import Verdict
from phasko.core.documents.job import Look
from phasko.core.engine.state import EngineState
from phasko.core.engine.state_table import StateTable
from phasko.core.evidence import NUMBER_KINDS, Observable
from tests.builders import FOUR, called, chances, pool_engine, run_recording, saw
from trials.measurements import measure_capture

PITCH = 360.0 / 21


def cranked(drive: DriveFaults, *looks: Look, engine: str = FOUR) -> Verdict:
    known = pool_engine(engine)
    probes = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in known.cams), Probe("starter_current")]
    recording = run_recording(engine, probes, 77, faults=EngineFaults(drive))[0]
    return called(measure_capture(recording, known), engine=engine, looks=looks)


def test_a_moved_crank_wheel_is_told_from_a_jump_by_the_crank_s_own_speed() -> None:
    """One pitch either way: the cam signals read the same."""
    wheel = cranked(DriveFaults(crank_wheel_deg=-PITCH))
    jump = cranked(DriveFaults(jumped_at_crank=1))
    assert wheel.faults[0].fault == "crank_signal_shifted"
    assert wheel.faults[0].probability > 0.95
    assert wheel.teardown == "no"
    assert jump.faults[0].fault == "chain_jumped"
    assert chances(jump)["crank_signal_shifted"] < 0.01
    pistons = next(w for w in wheel.faults[0].evidence if w.kind == "index")
    assert pistons.bits > 3.0
    assert "By the crank's own speed the crank wheel stands" in pistons.text


def test_true_pistons_alone_do_not_open_it_marks_beside_them_do() -> None:
    jumped = DriveFaults(jumped_at_crank=1)
    assert cranked(jumped).teardown == "confirm_first"
    assert cranked(jumped, saw("marks", "out", crank_at="mark")).teardown == "go"


def test_a_slipped_hub_is_seen_at_last() -> None:
    """Every cam signal reads in time. A profile whose index and edges are off together looks the same, so that it is
    confirmed first: by the marks with a piston proved at TDC."""
    hub = DriveFaults(crank_hub_deg=12.0)
    verdict = cranked(hub)
    assert verdict.faults[0].fault == "crank_hub_slipped"
    assert verdict.faults[0].amount.crank_deg == pytest.approx(12.0, abs=2.0)
    assert verdict.teardown == "confirm_first"
    seen = cranked(hub, saw("marks", "out", crank_at="tdc"))
    assert seen.faults[0].fault == "crank_hub_slipped"
    assert seen.faults[0].probability > verdict.faults[0].probability


def test_a_wheel_moved_on_one_cam_is_not_cleared_by_true_pistons() -> None:
    """TDC says nothing about a cam's own signal wheel."""
    verdict = cranked(DriveFaults(cam_wheel_deg={"B1E": 12.0}))
    assert verdict.teardown != "go"
    assert chances(verdict)["cam_signal_shifted"] > 0.2


@pytest.mark.parametrize(
    ("state", "index_deg"),
    [
        (EngineState(), 0.0),
        (EngineState(crank_wheel_deg=9.0), 9.0),
        (EngineState(hub_deg=-7.0), -7.0),
        (EngineState(sprocket_deg=17.0), 0.0),
        (EngineState(valves_deg={"B1I": 17.0, "B1E": 17.0}), 0.0),
        (EngineState(readings_deg=3.0), -3.0),
    ],
)
def test_what_each_state_predicts_of_the_wheel(state: EngineState, index_deg: float) -> None:
    kind = next(k for k in NUMBER_KINDS if k.name == "index")
    value = Observable("index", "0", 0.0, 1.0, {}, "")
    made = kind.predict([value], StateTable(pool_engine(FOUR), (state,)))
    assert made.means[0, 0] == index_deg
    assert not made.open_sd.any()
