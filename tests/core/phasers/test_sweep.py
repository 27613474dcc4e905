"""Whole sweeps on the bench: what each phaser does, what is said of it, and what the call makes of it."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from phasko.bench.faults import DriveFaults, EngineFaults, PhaserFault
from phasko.bench.probe import Probe
from phasko.bench.scenario import PhaserCommand, idling
from phasko.core.documents import Analysis
from phasko.core.documents.analysis import PhaserResult
from tests.builders import FOUR, analysed, pool_engine, run_recording

pytestmark = pytest.mark.exhaustive

FIVE, SIX = "haverel-2.4-five", "brimholt-3.2-six"


def swept(
    engine: str = FOUR,
    fault: PhaserFault | None = None,
    *,
    drive: DriveFaults | None = None,
    command: bool = True,
    cam_id: str | None = None,
    oil: bool = False,
) -> Analysis:
    known = pool_engine(engine)
    cam = cam_id or next(c.id for c in known.cams if c.phaser)
    scenario = replace(
        idling(4.5),
        phasers_connected=True,
        phaser_commands={cam: (PhaserCommand(3.7, 5.0),)},
        phasers_by_hand=not command,
    )
    faults = EngineFaults(replace(drive or DriveFaults(), phasers={cam: fault} if fault else {}))
    probes = [Probe("crank"), Probe("cam", cam=cam)]
    probes += [Probe("phaser_command", cam=cam)] if command else []
    probes += [Probe("other")] if oil else []
    recording, _ = run_recording(engine, probes, 5, scenario, faults)
    return analysed(recording, engine=engine)


def phaser(found: Analysis) -> PhaserResult:
    (one,) = found.captures[0].phasers
    return one


@pytest.mark.parametrize(
    ("engine", "cam", "range_deg"), [(FOUR, "B1I", -50.0), (FIVE, "B1E", 35.0), (SIX, "B2I", -45.0)]
)
def test_a_healthy_sweep_is_measured_and_accuses_nothing(engine: str, cam: str, range_deg: float) -> None:
    found = swept(engine, cam_id=cam)
    one, capture = phaser(found), found.captures[0]
    assert one.state == "moves"
    assert one.swept_deg == pytest.approx(range_deg, abs=0.5)
    rest = capture.cams[0].offset_deg
    assert rest is not None
    assert one.stop_low_deg == pytest.approx(rest + min(range_deg, 0.0), abs=0.5)
    assert one.stop_high_deg == pytest.approx(rest + max(range_deg, 0.0), abs=0.5)
    assert one.returned_to_deg == pytest.approx(rest, abs=0.5)
    assert one.dead_time_s == pytest.approx(0.06, abs=0.02)
    assert one.rate_deg_per_s == pytest.approx(150.0, rel=0.1)
    assert one.short_side is None
    assert one.advice is None
    assert (capture.cams[0].missing_edges, capture.cams[0].extra_edges) == (0, 0)
    assert capture.cams[0].state == "in"
    assert not capture.problems
    assert found.verdict.faults[0].fault == "none"
    assert (found.verdict.teardown, found.verdict.cautions) == ("no", [])


def test_the_cams_entry_is_its_rest_before_the_command_and_not_its_mean() -> None:
    found = swept(drive=DriveFaults(jumped_at_crank=1))
    cam, one = found.captures[0].cams[0], phaser(found)
    assert cam.offset_deg == pytest.approx(17.1, abs=1.0)
    assert one.stop_high_deg == pytest.approx(17.1, abs=1.0)
    assert one.stop_low_deg == pytest.approx(17.1 - 50.0, abs=1.0)


STATES: dict[str, tuple[PhaserFault, dict[str, Any]]] = {
    "stuck": (PhaserFault(stuck=True), {"state": "stuck", "words": "does not follow"}),
    "slow": (PhaserFault(rate_share=0.08), {"state": "slow", "words": "°/s"}),
    "back": (PhaserFault(rests_off_deg=9.0), {"state": "returns_off_park", "words": "9° early of where it began"}),
    "short": (PhaserFault(reach_share=0.5), {"state": "moves", "side": "far", "words": "missing on the far side"}),
    "park": (PhaserFault(park_deg=-20.0), {"state": "moves", "side": "park", "words": "missing on the park side"}),
}


@pytest.mark.parametrize("name", STATES)
def test_every_way_in_which_a_phaser_fails_is_told_apart(name: str) -> None:
    fault, expected = STATES[name]
    found = swept(fault=fault)
    one = phaser(found)
    assert one.state == expected["state"]
    assert one.short_side == expected.get("side")
    assert expected["words"] in one.text
    assert one.advice is not None
    assert "screen" in one.advice and "oil" in one.advice
    assert (found.captures[0].cams[0].missing_edges, found.captures[0].cams[0].extra_edges) == (0, 0)


@pytest.mark.parametrize("name", ["stuck", "back", "park"])
def test_the_call_names_the_phaser_and_opens_nothing(name: str) -> None:
    verdict = swept(fault=STATES[name][0]).verdict
    assert verdict.faults[0].fault == "phaser_off_park"
    assert verdict.teardown == "no"


def test_a_cam_late_with_its_whole_travel_is_not_the_phasers() -> None:
    """A jump, a slipped bolt and a wheel that sits wrong all have both stops moved and the whole travel."""
    held = swept(drive=DriveFaults(slipped_deg={"B1I": -15.0}))
    stuck = swept(drive=DriveFaults(slipped_deg={"B1I": -15.0}), fault=PhaserFault(stuck=True))
    chance = [sum(f.probability for f in v.verdict.faults if f.fault == "phaser_off_park") for v in (held, stuck)]
    assert chance[0] < 0.02
    assert chance[1] > 0.3


def test_without_a_command_the_movement_tells_and_no_dead_time_is_known() -> None:
    one = phaser(swept(command=False))
    assert one.commanded_by == "movement"
    assert one.dead_time_s is None
    assert one.swept_deg == pytest.approx(-50.0, abs=0.5)
    assert one.state == "moves"


def test_the_scan_tools_note_dates_the_command_with_its_own_doubt() -> None:
    known = pool_engine(FOUR)
    scenario = replace(idling(4.5), phasers_connected=True, phaser_commands={"B1I": (PhaserCommand(3.7, 5.0),)})
    recording, _ = run_recording(FOUR, [Probe("crank"), Probe("cam", cam="B1I")], 5, scenario)
    (noted,) = recording.description.commands
    assert (noted.cam, noted.from_s, noted.to_s) == ("B1I", pytest.approx(1.2), pytest.approx(2.5))
    one = phaser(analysed(recording, engine=known))
    assert one.commanded_by == "scan_tool"
    assert one.dead_time_s == pytest.approx(0.06, abs=0.02)
    assert one.dead_time_u95_s is not None and one.dead_time_u95_s >= 0.1


def test_oil_pressure_stands_beside_the_sweep() -> None:
    (oil,) = phaser(swept(oil=True)).beside
    assert oil.unit == "bar"
    assert 1.0 < oil.at_rest < 2.5
    assert oil.driven == pytest.approx(oil.at_rest, rel=0.3)


def test_a_phaser_driven_from_the_first_moment_has_no_start_and_says_so() -> None:
    scenario = replace(idling(3.0), phasers_connected=True, phaser_commands={"B1I": (PhaserCommand(2.5, 4.0),)})
    probes = [Probe("crank"), Probe("cam", cam="B1I"), Probe("phaser_command", cam="B1I")]
    recording, _ = run_recording(FOUR, probes, 5, scenario)
    found = analysed(recording)
    assert "sweep_without_rest" in {p.code for p in found.captures[0].problems}
    assert not found.captures[0].phasers


def test_a_phaser_that_its_control_moves_by_a_part_is_not_called_short() -> None:
    """Twenty of fifty degrees, as a control unit does at idle: nothing is wrong with that."""
    partly = {"B1I": (PhaserCommand(3.7, 5.0, 0.4),)}
    scenario = replace(idling(4.5), phasers_connected=True, phaser_commands=partly)
    recording, _ = run_recording(
        FOUR, [Probe("crank"), Probe("cam", cam="B1I"), Probe("phaser_command", cam="B1I")], 5, scenario
    )
    active = recording.description.model_copy(update={"phasers": "active"})
    found = analysed(replace(recording, description=active))
    one = phaser(found)
    assert one.swept_deg == pytest.approx(-20.0, abs=0.5)
    assert (one.short_side, one.advice) == (None, None)
    assert "not known" in one.text
    assert found.verdict.faults[0].fault == "none"


def test_a_phaser_that_was_swept_in_vain_is_stuck_although_nobody_dated_it() -> None:
    one = phaser(swept(fault=PhaserFault(stuck=True), command=False))
    assert one.state == "stuck"
    assert one.commanded_by == "movement"
    assert one.dead_time_s is None
