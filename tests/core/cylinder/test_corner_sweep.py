"""A phaser's sweep watched in the valve corners of a motored cylinder."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

import numpy as np
import pytest

from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings
from phasko.bench.scenario import PhaserCommand, idling
from phasko.core.capture.cylinder_finding import cylinder_finding
from phasko.core.capture.cylinder_view import cylinder_picture
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.cylinder import Corner, travel_deg
from phasko.core.evidence.corners import Corners
from phasko.core.evidence.observable import JobEvidence
from tests.builders import FOUR, analysed, pool_engine, run_recording
from trials.measurements import measure_capture

pytestmark = pytest.mark.exhaustive

PARKED_DEG = 590.0


@cache
def swept(command: bool = True) -> CaptureMeasurement:
    scenario = replace(idling(3.4, motored=(3,)), phasers_connected=True)
    share = 0.8 if command else 0.0
    scenario = replace(scenario, phaser_commands={"B1I": (PhaserCommand(3.6, 5.2, share),)})
    probes = [Probe("crank"), Probe("cam", cam="B1I"), Probe("cylinder_pressure", cylinder=3, range_v=20.0)]
    settings = ScopeSettings(rate_hz=25_000.0, bits=14)
    recording, _ = run_recording(FOUR, probes, 9, scenario, settings=settings)
    assert recording.description.phasers == "sweep"
    return measure_capture(recording, pool_engine(FOUR))


def test_the_intake_corner_goes_with_the_phaser_and_the_exhaust_one_stays() -> None:
    one = swept().felt[0]
    assert 10 < len(one.swept) < 15, "a dozen cycles show it"
    during = [c for c in one.swept if 1.6 < c.at_s < 2.4]
    before = [c for c in one.swept if c.at_s < 0.9]
    closes = [np.median([c.intake_close.angle_deg for c in some if c.intake_close]) for some in (before, during)]
    assert abs(closes[0] - PARKED_DEG) < 6.0
    assert closes[1] < closes[0] - 20.0
    opens = [c.exhaust_open.angle_deg for c in one.swept if c.exhaust_open]
    assert np.ptp(opens) < 5.0
    assert "the valves follow the phaser" in cylinder_finding(one, swept()).text
    lines = [(line.valve, line.measured) for line in _picture_lines()]
    assert ("intake", "corner") in lines
    assert ("intake", "signal") in lines
    assert len(analysed(swept().recording).captures[0].cylinder_pressure[0].by_cycle) == len(one.swept)


def _picture_lines() -> list:  # type: ignore[type-arg]
    picture = cylinder_picture(swept())
    assert picture is not None
    return picture.felt[0].sweep


def test_valves_that_stay_where_they_are_are_not_said_to_follow() -> None:
    one = swept(command=False).felt[0]
    assert "do not move in the sweep" in cylinder_finding(one, swept(command=False)).text


def test_a_corner_seen_too_seldom_has_no_travel() -> None:
    assert travel_deg([Corner(590.0, 1.0, 0.5), None, Corner(560.0, 1.0, 0.5)]) is None
    assert travel_deg([Corner(590.0, 1.0, 0.5), Corner(560.0, 1.0, 0.5), Corner(575.0, 1.0, 0.5)]) == (590.0, 560.0)


def test_corners_that_a_phaser_moves_meanwhile_are_not_counted_as_an_offset() -> None:
    found = Corners().observe(JobEvidence(swept().engine, (swept(),)))
    assert not found.numbers
    assert any("a phaser moved them" in one.reason for one in found.not_counted)
