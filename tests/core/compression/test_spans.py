"""Which cycles sealing is judged from, and what missing samples or another start of the cycle do to them."""

from __future__ import annotations

import numpy as np
import pytest
from pydantic import ValidationError

from phasko.core.cycle.angle_grid import STEPS, CrankingCycles, chosen_span, settled_cycles
from phasko.core.cycle.cycles import Cycle
from phasko.core.documents import CaptureDescription
from phasko.core.signals.recording import Recording

RPM = (90.0, 160.0, 212.0, 215.0, 214.0, 216.0, 180.0)


def cranked() -> list[Cycle]:
    """A slow first turn, a run-up, four settled cycles, a slow last one."""
    found, at = [], 0.5
    for number, rpm in enumerate(RPM, start=1):
        found.append(Cycle(number, at, at + 120.0 / rpm, rpm))
        at += 120.0 / rpm
    return found


def described(**said: float) -> CaptureDescription:
    document = {"schema": "phasko.capture/1", "data": "x", "channels": [{"column": "c1", "role": "other"}], **said}
    return CaptureDescription.model_validate(document)


def cycles_of(count: int = 4) -> CrankingCycles:
    """Half-second cycles from one second on, one after the other."""
    edges = 1.0 + 0.5 * (np.arange(count)[:, None] + np.arange(STEPS + 1)[None, :] / STEPS)
    cycles = tuple(Cycle(k + 1, 1.0 + 0.5 * k, 1.5 + 0.5 * k, 240.0) for k in range(count))
    return CrankingCycles(cycles, edges, np.full((count, STEPS), 8 * np.pi), 0)


def test_inrush_run_up_and_the_end_are_left_out() -> None:
    assert [c.number for c in settled_cycles(cranked(), None)] == [3, 4, 5, 6]


def test_a_chosen_span_takes_just_what_lies_whole_inside_it() -> None:
    every = cranked()
    span = (every[1].from_s, every[3].to_s)
    assert [c.number for c in settled_cycles(every, span)] == [2, 3, 4]
    assert [c.number for c in settled_cycles(every, (every[1].from_s + 0.01, every[3].to_s))] == [3, 4]
    assert settled_cycles(every, (90.0, 99.0)) == []


def test_nothing_cranked_is_nothing_settled() -> None:
    assert settled_cycles([], None) == []
    assert settled_cycles([], (0.0, 1.0)) == []


@pytest.mark.parametrize(
    ("said", "span"),
    [
        ({}, None),
        ({"seal_from_s": 1.0}, (1.0, np.inf)),
        ({"seal_to_s": 3.0}, (-np.inf, 3.0)),
        ({"seal_from_s": 1.0, "seal_to_s": 3.0}, (1.0, 3.0)),
    ],
)
def test_a_span_may_be_open_at_either_end(said: dict[str, float], span: tuple[float, float] | None) -> None:
    assert chosen_span(Recording("x", described(**said), 0.0, 1e-3, ())) == span


def test_a_description_whose_span_ends_before_it_begins_is_refused() -> None:
    with pytest.raises(ValidationError, match="seal_to_s must lie after"):
        described(seal_from_s=3.0, seal_to_s=1.0)


def test_missing_samples_cost_the_steps_they_lie_in() -> None:
    cycles = cycles_of()
    samples = np.ones(4000, dtype=np.float32)
    samples[1600:1610] = np.nan
    signal = cycles.signal(samples, 0.0, 1e-3)
    assert np.isnan(signal[1]).any()
    for other in (0, 2, 3):
        assert signal[other] == pytest.approx(np.ones(STEPS))
    assert np.count_nonzero(np.isnan(signal)) < 20


def test_cycles_with_holes_are_dropped_and_counted() -> None:
    cycles = cycles_of()
    kept = cycles.only(np.array([True, False, True, True]))
    assert [c.number for c in kept.cycles] == [1, 3, 4]
    assert kept.edges_s.shape == (3, STEPS + 1)
    assert kept.left_out == 1
    assert cycles.only(np.ones(4, dtype=bool)) is cycles


def test_a_cycle_may_begin_anywhere_but_not_across_a_hole() -> None:
    cycles = cycles_of()
    assert cycles.turned(0) is cycles
    later = cycles.turned(90)
    assert later.edges_s.shape == (3, STEPS + 1)
    assert later.edges_s[:, 0] == pytest.approx(cycles.edges_s[:3, 90])
    assert np.all(np.diff(later.edges_s, axis=1) > 0)
    holed = cycles.only(np.array([True, False, True, True])).turned(90)
    assert holed.edges_s.shape[0] == 1
