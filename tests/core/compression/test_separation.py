"""The parts of sealing by themselves: settled cycles, separation, changes, counts and words."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from phasko.core.compression import cranking_cycles, separate
from phasko.core.compression.blind_spots import compression_problems, count_words, dead_bank
from phasko.core.compression.changes import compression_changes
from phasko.core.compression.relative import (
    Compression,
    CompressionSource,
    CompressionState,
    CylinderCompression,
    SourceCompression,
)
from phasko.core.compression.result import compression_result
from phasko.core.compression.separation import Separation
from phasko.core.compression.view import compression_view
from phasko.core.crank.clock import ClockPiece
from phasko.core.crank.segments import Segment
from phasko.core.cycle.angle_grid import STEPS, CrankingCycles, grid_deg
from phasko.core.cycle.cycle_half import PieceTurn
from phasko.core.cycle.cycles import whole_cycles
from phasko.core.documents import EngineProfile
from phasko.core.engine.gas_torque import gas_torque
from tests.builders import clock_of, pool_engine, profile, tooth_times

SIX = pool_engine("brimholt-3.2-six")
FOUR = profile()
INERTIA = 0.35
"""kg m2, with gas torques in N m: a middling engine."""


def piece(turns: float = 12.0, rpm: float = 200.0) -> ClockPiece:
    times = tooth_times(FOUR, turns, rpm)
    return clock_of(FOUR, times, 0.0).pieces[0]


def cycles_of(turns: float = 12.0) -> CrankingCycles | None:
    turn = PieceTurn(piece(turns), 0.0, "cam", {}, ())
    return cranking_cycles([turn], whole_cycles([turn], 4), [Segment("cranking", 0.0, 60.0)])


def test_steps_begin_half_a_firing_interval_before_tdc() -> None:
    grid = grid_deg(4)
    assert (grid[0], grid[-1], grid.size) == (-89.0, 629.0, STEPS)


def test_settled_cycles_are_cut_into_even_steps_of_angle() -> None:
    found = cycles_of()
    assert found is not None
    assert len(found.cycles) == found.edges_s.shape[0] >= 4
    assert np.diff(found.edges_s, axis=1) == pytest.approx(2.0 / 1200.0, rel=1e-3)
    assert found.speed_rad_s == pytest.approx(200.0 * np.pi / 30.0, rel=1e-3)


def test_a_single_cycle_says_nothing() -> None:
    assert cycles_of(2.6) is None


def test_running_is_not_cranking() -> None:
    turn = PieceTurn(piece(), 0.0, "cam", {}, ())
    assert cranking_cycles([turn], whole_cycles([turn], 4), [Segment("running", 0.0, 60.0)]) is None


def test_a_signal_is_averaged_over_each_step() -> None:
    """A ramp over time: the mean of a step is the ramp at its middle, exactly."""
    found = cycles_of()
    assert found is not None
    ramp = np.arange(100_000, dtype=np.float32)
    values = found.signal(ramp, 0.0, 1e-3 / 20)
    middle = 0.5 * (found.edges_s[:, 1:] + found.edges_s[:, :-1]) / (1e-3 / 20) - 0.5
    assert values == pytest.approx(middle, abs=0.6)


def test_the_other_turn_first_starts_in_the_middle_of_each_cycle() -> None:
    found = cycles_of()
    assert found is not None
    turned = found.turned(STEPS // 2)
    assert turned.edges_s.shape[0] == found.edges_s.shape[0] - 1
    assert turned.edges_s[:, 0] == pytest.approx(found.edges_s[:-1, STEPS // 2])
    assert np.all(np.diff(turned.edges_s, axis=1) > 0)


def swung(engine: EngineProfile, pressures: list[float], cycles: int = 5, noise: float = 0.0) -> np.ndarray:
    """Crank speed (cycles, STEPS) by Newton's law from the gas torque of these pressures, a steady starter against it.

    Integrated in energy: d(J omega^2 / 2)/d(theta) = gas - its mean.
    """
    tdc = engine.firing_tdc_deg
    angle = grid_deg(engine.cylinders)
    torque = np.zeros(STEPS)
    for cylinder, pressure in zip(sorted(tdc), pressures, strict=True):
        torque += 240.0 * pressure * gas_torque((angle - tdc[cylinder] + 360.0) % 720.0 - 360.0, engine)
    work = np.cumsum(torque - torque.mean()) * np.radians(720.0 / STEPS)
    omega = np.sqrt(22.0**2 + 2.0 * (work - work.mean()) / INERTIA)
    rng = np.random.default_rng(1)
    return np.array([omega + noise * rng.standard_normal(STEPS) for _ in range(cycles)])


@pytest.mark.parametrize(
    ("engine", "pressures"),
    [
        (FOUR, [1.0, 1.0, 1.0, 1.0]),
        (FOUR, [1.0, 0.0, 1.0, 1.0]),
        (FOUR, [1.0, 0.75, 1.0, 0.9]),
        (SIX, [1.0, 1.0, 0.5, 1.0, 1.0, 1.0]),
        (SIX, [1.0, 0.1, 1.0, 0.1, 1.0, 0.1]),
        (pool_engine("quayle-5.0-eight"), [1.0, 1.0, 0.0, 1.0, 1.0, 1.0, 0.8, 1.0]),
    ],
)
def test_newtons_law_read_backwards_gives_the_pressures(engine: EngineProfile, pressures: list[float]) -> None:
    """The crank's speed made from pressures by energy: separated again to a few hundredths; eight overlap more."""
    speed = swung(engine, pressures)
    found = separate(speed, speed, "speed", engine)
    assert found is not None
    assert found.explained > 0.99
    within = 0.03 if engine.cylinders <= 6 else 0.06
    assert found.pressures / found.pressures.max() == pytest.approx(pressures, abs=within)


def motor_current(speed: np.ndarray) -> np.ndarray:
    """A starter without inductance: what the back voltage leaves, over the resistance."""
    return (12.0 - 0.45 * speed) / 0.025


@pytest.mark.parametrize("coupling", ["dc", "ac"])
@pytest.mark.parametrize("sign", [1.0, -1.0])
def test_the_motors_equation_read_backwards_gives_them_too(coupling: str, sign: float) -> None:
    """Current by V = R i + k omega, either way round, and through a capacitor of 0.3 s."""
    speed = swung(FOUR, [1.0, 0.4, 1.0, 1.0])
    current = sign * motor_current(speed)
    if coupling == "ac":
        step_s = np.radians(2.0) / speed.mean()
        keep = np.exp(-step_s / 0.3)
        whole, out = np.concatenate(list(current) * 4), np.zeros(20 * STEPS)
        for i in range(1, whole.size):
            out[i] = keep * (out[i - 1] + whole[i] - whole[i - 1])
        current = out[-5 * STEPS :].reshape(5, STEPS)
    found = separate(current, speed, coupling, FOUR)  # type: ignore[arg-type]
    assert found is not None
    assert found.turned == (sign < 0)
    assert found.pressures / found.pressures.max() == pytest.approx([1.0, 0.4, 1.0, 1.0], abs=0.06)


def test_noise_shows_in_the_standard_error() -> None:
    """The jackknife's error is that of the figures: about what sixty noisy captures scatter."""
    engine = FOUR
    exact = swung(engine, [1.0, 1.0, 1.0, 1.0])
    values, errors = [], []
    for seed in range(60):
        noisy = exact + 0.05 * np.random.default_rng(seed).standard_normal(exact.shape)
        found = separate(noisy, exact, "speed", engine)
        assert found is not None
        values.append(found.pressures[1])
        errors.append(found.errors[1])
    assert np.median(errors) == pytest.approx(np.std(values), rel=0.5)


def test_nothing_is_separated_from_nothing() -> None:
    steady = np.full((4, STEPS), 22.0)
    found = separate(steady, steady, "speed", FOUR)
    assert found is None or found.explained < 0.5
    holed = swung(FOUR, [1.0] * 4)
    holed[1, 7] = np.nan
    assert separate(holed, holed, "speed", FOUR) is None
    assert separate(holed[:1], holed[:1], "speed", FOUR) is None


def made(
    relative: list[float],
    engine: EngineProfile = SIX,
    per_cycle: np.ndarray | None = None,
    states: list[CompressionState] | None = None,
    identified_by: str | None = "cam",
    source: CompressionSource = "starter_current",
    turned: bool = False,
    disagree: bool = False,
) -> Compression:
    """A compression with these figures, as if it had been measured."""
    values, count = np.array(relative), 8 if per_cycle is None else len(per_cycle)
    cycles = cycles_of(2 * (count + 2))
    assert cycles is not None
    cycles = CrankingCycles(cycles.cycles[:count], cycles.edges_s[:count], cycles.speed_rad_s[:count], 1)
    spread = np.tile(values, (count, 1)) if per_cycle is None else per_cycle
    parted = Separation(values, 0.01 * values, 20, 0.97, 2.0, turned, np.zeros(STEPS), spread)
    events = int(np.count_nonzero(values >= 0.25))
    one = SourceCompression(
        source, "c3", parted, values, np.full(values.size, 0.06), events, np.zeros(STEPS), "A", cycles.cycles, 1.0
    )
    found: list[CompressionState] = states or ["dead" if v < 0.25 else "weak" if v < 0.9 else "good" for v in relative]
    seals = tuple(
        CylinderCompression(c, v, 0.06, s) if identified_by else CylinderCompression(c, None, None, "unknown")
        for c, v, s in zip(sorted(engine.firing_order), relative, found, strict=True)
    )
    return Compression(source, events, engine.cylinders, identified_by, seals, (one,), cycles, disagree)


def noisy(values: list[float], cycles: int = 9) -> np.ndarray:
    return np.tile(values, (cycles, 1)) + 0.02 * np.random.default_rng(3).standard_normal((cycles, len(values)))


def test_steady_figures_show_no_change() -> None:
    assert compression_changes(made([1.0] * 6, per_cycle=noisy([1.0] * 6))) == ()


def test_a_cylinder_that_falls_midway_is_dated_there() -> None:
    per_cycle = noisy([1.0] * 6)
    per_cycle[5:, 2] = 0.4
    (change,) = compression_changes(made([1.0] * 6, per_cycle=per_cycle))
    assert (change.kind, change.cylinder, change.cycles, change.of) == ("changed", 3, 4, 9)
    assert (change.before, change.after) == (pytest.approx(1.0, abs=0.05), pytest.approx(0.4, abs=0.05))


def test_a_seal_that_fails_now_and_then_is_counted() -> None:
    per_cycle = noisy([1.0] * 6)
    per_cycle[[1, 4, 7], 0] = 0.3
    (change,) = compression_changes(made([1.0] * 6, per_cycle=per_cycle))
    assert (change.kind, change.cylinder, change.cycles) == ("intermittent", 1, 3)
    assert len(change.times_s) == 3


def test_one_odd_compression_is_one() -> None:
    per_cycle = noisy([1.0] * 6)
    per_cycle[3, 5] = 0.2
    (change,) = compression_changes(made([1.0] * 6, per_cycle=per_cycle))
    assert (change.kind, change.cylinder) == ("single", 6)


def test_changes_need_names_and_cycles() -> None:
    per_cycle = noisy([1.0] * 6)
    per_cycle[5:, 2] = 0.4
    assert compression_changes(made([1.0] * 6, per_cycle=per_cycle, identified_by=None)) == ()
    assert compression_changes(made([1.0] * 6, per_cycle=per_cycle[:3])) == ()


@pytest.mark.parametrize(
    ("relative", "words"),
    [
        ([1.0] * 6, None),
        ([1.0, 0.1, 1.0, 0.1, 1.0, 0.1], "3 of 6 cylinders compress per 720 degrees: the whole of bank 2 is missing"),
        ([1.0, 0.5, 1.0, 0.6, 1.0, 0.5], "all of bank 2 less than the others"),
        ([1.0, 1.0, 0.1, 1.0, 1.0, 1.0], "5 of 6 cylinders compress per 720 degrees."),
        ([1.0, 1.0, 0.7, 1.0, 1.0, 1.0], None),
    ],
)
def test_a_count_that_is_short_is_put_in_words(relative: list[float], words: str | None) -> None:
    found = count_words(made(relative), SIX)
    assert (found is None) if words is None else (found is not None and words in found)


def test_every_second_in_firing_order_is_named_where_it_is_no_bank() -> None:
    four = pool_engine("corvane-2.1-four")  # fires 1 3 4 2
    words = count_words(made([1.0, 0.0, 0.0, 1.0], four), four)
    assert words is not None
    assert "every second one in firing order is missing, which sounds even" in words


def test_a_bank_is_dead_when_just_its_cylinders_are() -> None:
    assert dead_bank((2, 4, 6), SIX) == 2
    assert dead_bank((2, 4), SIX) is None
    assert dead_bank((1, 2, 3, 4), pool_engine("corvane-2.1-four")) is None


@pytest.mark.parametrize(
    ("compression", "code"),
    [
        (made([1.0] * 6, turned=True), "clamp_reversed"),
        (made([1.0] * 6, source="battery_voltage", turned=False), "voltage_reversed"),
        (made([1.0] * 6, disagree=True), "compression_sources_disagree"),
        (made([1.0] * 6, identified_by=None), "compression_unnamed"),
        (made([1.0, 1.0, 0.0, 1.0, 1.0, 1.0]), "compression_count"),
    ],
)
def test_what_is_odd_about_a_source_is_said(compression: Compression, code: str) -> None:
    assert code in {problem.code for problem in compression_problems(compression, SIX)}


def test_a_sound_source_says_nothing() -> None:
    assert compression_problems(made([1.0] * 6), SIX) == []
    assert compression_problems(made([1.0] * 6, source="battery_voltage", turned=True), SIX) == []
    assert compression_problems(None, SIX) == []


@pytest.mark.parametrize(
    ("compression", "text"),
    [
        (made([1.0, 0.98, 1.02, 1.0, 0.99, 1.0]), "6 of 6 cylinders compress alike, within 6 %"),
        (made([1.0, 1.0, 0.13, 1.0, 1.0, 1.0]), "Cylinder 3 compresses 13 ± 6 % of the healthy ones, every cycle"),
        (made([1.0, 0.8, 0.13, 1.0, 1.0, 1.0]), "5 of 6 cylinders compress per 720 degrees"),
        (made([1.0, 0.8, 0.7, 1.0, 1.0, 1.0]), "Cylinders 2, 3 compress less than the healthy ones, every cycle"),
        (made([1.0, 0.4, 1.0, 0.4, 1.0, 0.4]), "All of bank 2 compresses about 40 % of the other bank, every cycle"),
        (made([1.0] * 6, identified_by=None), "6 of 6 cylinders compress per 720°; which is which is not known"),
        (
            made([1.0] * 6, states=["good"] * 5 + ["unknown"]),
            "6 of 6 compress; how well cylinder 6 does is not sure enough",
        ),
    ],
)
def test_the_measurement_is_a_plain_sentence(compression: Compression, text: str) -> None:
    finding = compression_view(compression, SIX).finding
    assert finding.text == text
    assert finding.emphasis is None or finding.emphasis in finding.text
    assert "8 settled cycles, 1 left out" in finding.detail


def test_the_view_stands_in_firing_order_and_names_nobody_unasked() -> None:
    four = pool_engine("corvane-2.1-four")
    view = compression_view(made([1.0, 0.5, 1.0, 1.0], four), four)
    assert [bar.cylinder for bar in view.bars] == [1, 3, 4, 2]
    assert [bar.relative for bar in view.bars] == [1.0, 1.0, 1.0, 0.5]
    assert [round(tdc.deg) for tdc in view.tdcs] == [0, 180, 360, 540]
    unnamed = compression_view(made([1.0, 0.5, 1.0, 1.0], four, identified_by=None), four)
    assert not unnamed.named
    assert all(bar.relative is None and bar.by_source == [] for bar in unnamed.bars)
    assert "no cylinder has a name" in unnamed.blind_spots[0]


def test_the_result_document_holds_each_source_and_what_stays_open() -> None:
    found = compression_result(made([1.0, 1.0, 0.13, 1.0, 1.0, 1.0]), SIX)
    assert found is not None
    assert (found.events_per_cycle, found.expected_events, found.cycles_used, found.cycles_left_out) == (5, 6, 8, 1)
    assert found.sources[0].relative[2] == pytest.approx(0.13)
    assert found.blind_spots
    unnamed = compression_result(made([1.0] * 6, identified_by=None), SIX)
    assert unnamed is not None
    assert unnamed.sources[0].relative == []
    assert compression_result(None, SIX) is None


def test_half_widths_grow_for_what_bends_a_hump() -> None:
    """Against the same figures measured: a weak cylinder and the one behind it are less sure by the starter."""
    from phasko.core.compression.relative import _u95

    relative = np.array([1.0, 1.0, 0.5, 1.0, 1.0, 1.0])
    errors = np.full(6, 0.005)
    starter = _u95(relative, errors, 30, "starter_current", SIX)
    speed = _u95(relative, errors, 30, "crank_speed", SIX)
    assert starter[2] > 1.2 * starter[0]
    assert starter[3] > 1.05 * starter[0]
    assert speed[3] == pytest.approx(speed[0])
    beyond = _u95(replace_at(relative, 4, 1.4), errors, 30, "crank_speed", SIX)
    assert beyond[4] > 0.3


def replace_at(values: np.ndarray, i: int, value: float) -> np.ndarray:
    changed = values.copy()
    changed[i] = value
    return changed


def test_sources_of_one_capture_are_kept_beside_the_joint_figure() -> None:
    one = made([1.0] * 6)
    two = replace(one, sources=(*one.sources, replace(one.sources[0], source="crank_speed", channel="")))
    found = compression_result(two, SIX)
    assert found is not None
    assert [(s.source, s.channel) for s in found.sources] == [("starter_current", "c3"), ("crank_speed", None)]


def test_each_cylinder_has_its_spread_and_whether_it_repeats() -> None:
    per_cycle = noisy([1.0] * 6)
    per_cycle[[1, 4, 7], 0] = 0.3
    per_cycle[5, 2] = 0.4
    result = compression_result(made([1.0] * 6, per_cycle=per_cycle), SIX)
    assert result is not None
    first, second, third = result.cylinders[:3]
    assert first.repeats is False
    assert first.spread is not None
    assert first.spread > 0.25
    assert second.repeats is True
    assert second.spread == pytest.approx(0.02, abs=0.015)
    assert third.repeats is True
    few = compression_result(made([1.0] * 6, per_cycle=noisy([1.0] * 6, cycles=3)), SIX)
    assert few is not None
    assert few.cylinders[0].spread is None


def test_one_cylinder_has_no_healthier_fellows() -> None:
    single = profile(cylinders=1, firing_order=[1])
    after = grid_deg(1)
    torque = -gas_torque((after + 360.0) % 720.0 - 360.0, single)
    speed = np.sqrt(400.0 - 2.0 * np.cumsum(torque - torque.mean()) * 0.05)
    found = separate(np.tile(speed, (4, 1)), np.tile(speed, (4, 1)), "speed", single)
    assert found is not None
    assert found.pressures[0] > 0.0
