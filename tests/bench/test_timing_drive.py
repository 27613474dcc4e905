"""The timing drive alone: every fault as the crank degrees it gives each cam."""

from __future__ import annotations

import numpy as np
import pytest

from phasko.bench.faults import DriveFaults, PhaserFault
from phasko.bench.scenario import PhaserCommand, Scenario
from phasko.bench.timing_drive import cam_placements, stage_pitches_deg
from tests.bench.test_physics import EXACT
from tests.builders import FOUR, SIX, pool_engine

TWO_STAGE = "quayle-5.0-eight"
TIMES_S = np.arange(0.0, 3.0, 1e-3)


def placed(
    faults: DriveFaults, engine: str = FOUR, scenario: Scenario | None = None, at_s: float = 2.9
) -> dict[str, float]:
    """Where each cam's valves stand at a moment."""
    known = pool_engine(engine)
    found = cam_placements(known, faults, scenario or Scenario(3.0), EXACT, TIMES_S, np.random.default_rng(1))
    return {cam: float(np.interp(at_s, TIMES_S, p.valves_deg)) for cam, p in found.items()}


def test_health_is_zero() -> None:
    assert placed(DriveFaults()) == {"B1I": 0.0, "B1E": 0.0}


def test_pitches_of_the_stages() -> None:
    assert stage_pitches_deg(pool_engine(FOUR), "B1I") == (360 / 21,)
    assert stage_pitches_deg(pool_engine(TWO_STAGE), "B2E") == (15.0, 17.1)


@pytest.mark.parametrize("pitches", [1, -1, 2])
def test_a_jump_at_the_crank_takes_every_cam(pitches: int) -> None:
    assert set(placed(DriveFaults(jumped_at_crank=pitches)).values()) == {pitches * 360 / 21}


def test_a_jump_at_an_idler_takes_its_bank_by_the_second_stage() -> None:
    moved = placed(DriveFaults(jumped_at_idler={2: 1}), TWO_STAGE)
    assert moved == {"B1I": 0.0, "B1E": 0.0, "B2I": 17.1, "B2E": 17.1}


def test_a_jump_at_one_cam_takes_only_it() -> None:
    assert placed(DriveFaults(jumped_at_cam={"B1E": -1})) == {"B1I": 0.0, "B1E": -360 / 21}


def test_a_slip_is_any_amount() -> None:
    assert placed(DriveFaults(slipped_deg={"B2I": 13.7}), SIX)["B2I"] == 13.7


def test_elongation_goes_by_free_links() -> None:
    moved = placed(DriveFaults(elongation_percent=1.0))
    links = pool_engine(FOUR).drive.free_links
    assert moved["B1I"] == pytest.approx(0.01 * links["B1I"] * 360 / 21)
    assert moved["B1I"] / moved["B1E"] == pytest.approx(links["B1I"] / links["B1E"])


def test_faults_add_up() -> None:
    both = placed(DriveFaults(jumped_at_crank=1, crank_hub_deg=4.0, slipped_deg={"B1I": -2.0}))
    assert both["B1I"] == pytest.approx(360 / 21 + 4.0 - 2.0)


def test_a_moved_signal_wheel_leaves_the_valves() -> None:
    faults = DriveFaults(cam_wheel_deg={"B1I": 11.0})
    found = cam_placements(pool_engine(FOUR), faults, Scenario(3.0), EXACT, TIMES_S, np.random.default_rng(1))
    assert float(found["B1I"].valves_deg.max()) == 0.0
    assert (found["B1I"].signal_deg, found["B1E"].signal_deg) == (11.0, 0.0)


def test_slack_wanders_about_nothing() -> None:
    found = cam_placements(
        pool_engine(FOUR), DriveFaults(slack_deg=3.0), Scenario(3.0), EXACT, TIMES_S, np.random.default_rng(2)
    )
    assert 1.0 < float(np.std(found["B1I"].valves_deg)) < 5.0


@pytest.mark.parametrize(
    ("fault", "at_end"),
    [
        (PhaserFault(), -50.0),
        (PhaserFault(stuck=True), 0.0),
        (PhaserFault(stuck=True, park_deg=-20.0), -20.0),
        (PhaserFault(reach_share=0.4), -20.0),
        (PhaserFault(rate_share=0.05), -7.5 * (1.0 - PhaserFault().dead_s)),
    ],
    ids=["whole", "stuck", "stuck off park", "short", "slow"],
)
def test_a_phaser_goes_where_it_can(fault: PhaserFault, at_end: float) -> None:
    driven = Scenario(3.0, phaser_commands={"B1I": (PhaserCommand(1.0, 9.0),)})
    assert placed(DriveFaults(phasers={"B1I": fault}), scenario=driven, at_s=2.0)["B1I"] == pytest.approx(
        at_end, abs=0.3
    )


def test_a_loose_lock_swings_only_when_hot() -> None:
    loose = DriveFaults(phasers={"B1I": PhaserFault(loose_deg=12.0)})
    assert placed(loose, at_s=0.35)["B1I"] == pytest.approx(-12.0, abs=0.1)
    assert placed(loose, scenario=Scenario(3.0, temperature="cold"), at_s=0.35)["B1I"] == 0.0
