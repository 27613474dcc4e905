"""Injector pulses of the bench: four milliseconds, once a cycle, from 300 degrees before firing TDC."""

from __future__ import annotations

import pytest

from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings
from phasko.bench.scenario import Scenario, clear_flood_cranking, idling
from phasko.core.documents.cylinder_results import InjectionResult
from phasko.core.injection import injection_results
from phasko.core.signals.recording import Channel, Recording
from tests.builders import FOUR, pool_engine
from trials.measurements import measure_capture
from trials.recordings import record_run, run_engine


def injected(scenario: Scenario, *probes: Probe) -> InjectionResult:
    profile = pool_engine(FOUR)
    made = record_run(run_engine(profile, scenario, 8), probes, ScopeSettings(rate_hz=50_000.0))
    channels = tuple(Channel(c, made.columns[c.column]) for c in made.description.channels)
    measured = measure_capture(Recording("i", made.description, 0.0, made.interval_s, channels), profile)
    (found,) = injection_results(measured.injections)
    return found


SIGNALS = (Probe("crank"), Probe("cam", cam="B1I"))


def test_width_angle_and_how_often_are_read() -> None:
    found = injected(idling(1.6), *SIGNALS, Probe("injector", cylinder=3))
    assert found.width_ms == pytest.approx(4.0, abs=0.05)
    assert found.start_deg == pytest.approx(-300.0, abs=1.5)
    assert found.per_cycle == pytest.approx(1.0, abs=0.15)
    assert found.words.startswith("Injector 3: 4.0") and "once a cycle, from 300° before its firing TDC" in found.words
    assert found.width_u95_ms is not None and 0.0 < found.width_u95_ms < 0.1


def test_an_injector_that_is_withheld_is_said_to_be() -> None:
    found = injected(clear_flood_cranking(3.2), *SIGNALS, Probe("injector", cylinder=1))
    assert found.withheld and found.pulses == 0 and found.width_ms is None
    assert "the control unit withholds it" in found.words


def test_without_a_cam_the_width_stands_and_no_angle_is_made_up() -> None:
    found = injected(idling(1.6), Probe("crank"), Probe("injector", cylinder=1))
    assert found.width_ms == pytest.approx(4.0, abs=0.05)
    assert found.start_deg is None and "TDC" not in found.words
