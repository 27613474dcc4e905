"""When a phaser was driven, from every way in which its wire may be switched."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from phasko.core.documents import CaptureDescription
from phasko.core.phasers import phaser_commands
from phasko.core.phasers.command import CommandStep
from phasko.core.signals.recording import Channel, Recording

RATE_HZ = 20_000.0
TIMES_S = np.arange(int(6 * RATE_HZ)) / RATE_HZ


def steps_of(volts: np.ndarray, **more: Any) -> tuple[CommandStep, ...]:
    channel = {"column": "c1", "role": "phaser_command", "cam": "B1I", **more}
    about = CaptureDescription.model_validate({"schema": "phasko.capture/1", "data": "x.csv", "channels": [channel]})
    noisy = volts + np.random.default_rng(1).normal(0.0, 0.02, volts.size)
    recording = Recording("x", about, 0.0, 1.0 / RATE_HZ, (Channel(about.channels[0], noisy.astype(np.float32)),))
    found = phaser_commands(recording, "B1I")
    assert found is not None
    assert found.source == "channel"
    return found.steps


def on(*spans: tuple[float, float]) -> np.ndarray:
    return np.any([(low <= TIMES_S) & (high > TIMES_S) for low, high in spans], axis=0)


@pytest.mark.parametrize("driven", ["low", "high"])
def test_both_sides_of_the_solenoid(driven: str) -> None:
    volts = np.where(on((1.5, 2.75), (4.0, 4.5)) == (driven == "high"), 12.4, 0.3)
    found = steps_of(volts, driven=driven)
    assert [s.at_s for s in found] == pytest.approx([1.5, 2.75, 4.0, 4.5], abs=1e-4)
    assert [s.after for s in found] == [1.0, 0.0, 1.0, 0.0]


@pytest.mark.parametrize("duty", [0.3, 0.5, 0.9])
def test_a_pulsed_drive_is_one_command_and_not_a_thousand(duty: float) -> None:
    driving = on((1.5, 3.5)) & (duty > (TIMES_S * 200.0) % 1.0)
    found = steps_of(np.where(driving, 0.4, 13.8))
    assert [s.at_s for s in found] == pytest.approx([1.5, 3.5], abs=0.011)
    assert found[0].after == pytest.approx(duty, abs=0.03)
    assert (found[0].before, found[1].after) == (0.0, 0.0)


def test_a_duty_that_changes_is_a_step_of_its_own() -> None:
    duty = np.where(TIMES_S < 2.0, 0.5, np.where(TIMES_S < 4.0, 0.9, 0.5))
    found = steps_of(np.where(duty > (TIMES_S * 250.0) % 1.0, 0.4, 13.8))
    assert [s.at_s for s in found] == pytest.approx([2.0, 4.0], abs=0.02)
    assert [round(s.after, 1) for s in found] == [0.9, 0.5]


def test_a_wire_that_never_switches_was_not_driven() -> None:
    assert steps_of(np.full(TIMES_S.size, 12.1)) == ()


def test_the_scan_tools_note_is_taken_where_no_wire_was_recorded() -> None:
    about = {
        "schema": "phasko.capture/1",
        "data": "x.csv",
        "channels": [{"column": "c1", "role": "crank"}],
        "commands": [{"cam": "B1I", "from_s": 2.0, "to_s": 3.5}],
    }
    described = CaptureDescription.model_validate(about)
    recording = Recording("x", described, 0.0, 1e-3, (Channel(described.channels[0], np.zeros(9, np.float32)),))
    found = phaser_commands(recording, "B1I")
    assert found is not None
    assert found.source == "scan_tool"
    assert [(s.at_s, s.after) for s in found.steps] == [(2.0, 1.0), (3.5, 0.0)]
    assert all(s.u95_s > 0.0 for s in found.steps)
    assert phaser_commands(recording, "B1E") is None
