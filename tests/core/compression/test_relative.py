"""Relative compression by starter current, battery voltage and crank speed, against the pressures of the bench."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

import numpy as np
import pytest

from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults, Spread
from phasko.bench.pool import pool_engine
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings
from phasko.bench.run import Run
from phasko.bench.scenario import clear_flood_cranking
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.compression import blind_spots
from phasko.core.compression.blind_spots import count_words
from phasko.core.documents.capture import Role
from phasko.core.engine.gas_torque import gas_torque
from phasko.core.signals.recording import Channel, Recording
from tests.builders import profile
from trials.measurements import measure_capture
from trials.recordings import record_run, run_engine

pytestmark = pytest.mark.exhaustive

PROBES = ("starter_current", "battery_voltage")


@cache
def cranked(engine: str, seed: int, cylinder: int = 0, **fault: float) -> tuple[Run, Recording]:
    """Five seconds of cranking, crank, cams and all electrical sources recorded, one cylinder with a fault."""
    known = pool_engine(engine)
    faults = EngineFaults(cylinders={cylinder: CylinderFault(**fault)} if cylinder else {})  # type: ignore[arg-type]
    return recorded(run_engine(known, clear_flood_cranking(5.0), seed, faults=faults, spread=Spread()))


def recorded(run: Run, bits: int = 12) -> tuple[Run, Recording]:
    probes = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in run.engine.cams[:2])]
    probes += [Probe("starter_current"), Probe("battery_voltage"), Probe("battery_voltage", ac=True)]
    made = record_run(run, probes, ScopeSettings(rate_hz=50_000.0, bits=bits))
    channels = tuple(Channel(d, made.columns[d.column]) for d in made.description.channels)
    return run, Recording("bench", made.description, 0.0, made.interval_s, channels)


def with_source(recording: Recording, role: Role | None, coupling: str = "dc") -> Recording:
    kept = [
        c
        for c in recording.channels
        if c.description.role in ("crank", "cam") or (c.description.role == role and c.description.coupling == coupling)
    ]
    return replace(recording, channels=tuple(kept))


def true_relative(run: Run) -> dict[int, float]:
    """Mean peak gauge pressure of the settled cycles over the median of the healthy."""
    settled = (run.times_s > 1.2) & (run.times_s < run.scenario.starter_to_s - 0.1)
    angle = run.angles_deg[settled]
    peaks = {}
    for cylinder, tdc in run.engine.firing_tdc_deg.items():
        cycle = np.floor((angle - tdc + 360.0) / 720.0)
        pressure = run.cylinders_pa[cylinder][settled]
        peaks[cylinder] = float(np.mean([pressure[cycle == k].max() / 1e5 - 1.0 for k in np.unique(cycle)[1:-1]]))
    second = sorted(peaks.values())[-2]
    healthy = float(np.median([peak for peak in peaks.values() if peak > 0.5 * second]))
    return {cylinder: peak / healthy for cylinder, peak in peaks.items()}


def measured(recording: Recording, engine: str) -> CaptureMeasurement:
    found = measure_capture(recording, pool_engine(engine))
    assert found.compression is not None
    return found


SOURCES: list[tuple[Role | None, str]] = [
    ("starter_current", "dc"),
    ("battery_voltage", "dc"),
    ("battery_voltage", "ac"),
    (None, "dc"),
]


@pytest.mark.parametrize(("role", "coupling"), SOURCES)
@pytest.mark.parametrize(
    ("engine", "cylinder", "fault"),
    [
        ("corvane-2.1-four", 0, {}),
        ("corvane-2.1-four", 3, {"plug": "out"}),
        ("corvane-2.1-four", 2, {"exhaust_leak_mm2": 1.5}),
        ("pellowe-1.0-triple", 2, {"ring_leak_mm2": 2.0}),
        ("brimholt-3.2-six", 5, {"plug": "out"}),
    ],
)
def test_every_source_alone_finds_the_pressures(
    role: Role | None, coupling: str, engine: str, cylinder: int, fault: dict[str, float]
) -> None:
    run, recording = cranked(engine, 9100 + cylinder, cylinder, **fault)
    truth, found = true_relative(run), measured(with_source(recording, role, coupling), engine).compression
    assert found is not None
    assert found.source == (role or "crank_speed")
    assert found.identified_by == "cam"
    off = [abs((c.relative or 0.0) - truth[c.cylinder]) for c in found.cylinders]
    assert max(off) < (0.10 if len(off) <= 4 else 0.17)
    assert sum(o <= (c.u95 or 0.0) for o, c in zip(off, found.cylinders, strict=True)) >= len(off) - 1
    low = {c.cylinder for c in found.cylinders if c.state in ("weak", "dead")}
    assert low == ({cylinder} if cylinder else set())


def test_a_plug_taken_out_is_counted() -> None:
    _, recording = cranked("corvane-2.1-four", 9103, 3, plug="out")  # type: ignore[arg-type]
    found = measured(recording, "corvane-2.1-four").compression
    assert found is not None
    assert (found.events_per_cycle, found.expected_events, found.dead) == (3, 4, (3,))
    assert count_words(found, pool_engine("corvane-2.1-four")) == "3 of 4 cylinders compress per 720 degrees."


def test_all_sources_together_agree() -> None:
    _, recording = cranked("corvane-2.1-four", 9100)
    found = measured(recording, "corvane-2.1-four").compression
    assert found is not None
    assert [s.source for s in found.sources] == [
        "starter_current",
        "battery_voltage",
        "battery_voltage",
        "crank_speed",
    ]
    assert not found.disagree


def test_a_clamp_turned_round_is_said_and_measured_all_the_same() -> None:
    _, recording = cranked("corvane-2.1-four", 9103, 3, plug="out")  # type: ignore[arg-type]
    plain = with_source(recording, "starter_current")
    turned = replace(
        plain,
        channels=tuple(
            Channel(c.description, -c.samples) if c.description.role == "starter_current" else c for c in plain.channels
        ),
    )
    found = measured(turned, "corvane-2.1-four")
    assert "clamp_reversed" in {problem.code for problem in found.problems}
    assert "clamp_reversed" not in {p.code for p in measured(plain, "corvane-2.1-four").problems}
    assert found.compression is not None
    assert found.compression.dead == (3,)


def test_without_a_cam_cylinders_are_counted_and_not_named() -> None:
    _, recording = cranked("corvane-2.1-four", 9103, 3, plug="out")  # type: ignore[arg-type]
    bare = replace(recording, channels=tuple(c for c in recording.channels if c.description.role != "cam"))
    found = measured(bare, "corvane-2.1-four").compression
    assert found is not None
    assert found.identified_by is None
    assert found.events_per_cycle == 3
    assert {c.state for c in found.cylinders} == {"unknown"}
    assert "an even rhythm proves nothing" in blind_spots(found, pool_engine("corvane-2.1-four"))[0]


def test_a_bank_whose_cams_are_far_out_is_never_healthy() -> None:
    """Six cylinders, the intake cam of bank 2 ninety degrees late: an even rhythm of three."""
    engine = pool_engine("brimholt-3.2-six")
    drive = DriveFaults(slipped_deg={"B2I": 90.0, "B2E": 90.0})
    run = run_engine(engine, clear_flood_cranking(5.0), 9200, faults=EngineFaults(drive=drive))
    _, recording = recorded(run)
    found = measured(recording, "brimholt-3.2-six").compression
    assert found is not None
    assert {2, 4, 6} == {c.cylinder for c in found.cylinders if c.state != "good"}
    words = count_words(found, engine)
    assert words is not None
    assert "bank 2" in words


def test_eight_bit_steps_keep_the_dead_one() -> None:
    run, _ = cranked("corvane-2.1-four", 9103, 3, plug="out")  # type: ignore[arg-type]
    found = measured(with_source(recorded(run, bits=8)[1], "starter_current"), "corvane-2.1-four").compression
    assert found is not None
    assert found.dead == (3,)


def test_a_dead_cylinder_leads_the_call_and_keeps_the_covers_on() -> None:
    from tests.builders import called

    _, recording = cranked("corvane-2.1-four", 9103, 3, plug="out")  # type: ignore[arg-type]
    verdict = called(measured(recording, "corvane-2.1-four"))
    assert verdict.faults[0].fault == "weak_cylinder"
    assert verdict.faults[0].where.cylinders == [3]
    assert verdict.teardown == "confirm_first"
    assert sum(f.probability for f in verdict.faults if not f.besides) == pytest.approx(1.0)


@pytest.mark.parametrize("width_deg", [25.0, 35.0, 55.0])
def test_humps_of_another_machine_are_parted_all_the_same(width_deg: float) -> None:
    """A current that is nothing but bells at the TDCs, 5 degrees late, on an engine whose speed shows nothing: such a
    current follows no motor's equation, yet cylinder 2 at a tenth and cylinder 3 at three quarters are found."""
    engine = pool_engine("corvane-2.1-four")
    _, recording = cranked("corvane-2.1-four", 9100)
    plain = measured(recording, "corvane-2.1-four")
    piece, turn = plain.pieces[0].piece, plain.pieces[0].turn_deg
    times = recording.interval_s * np.arange(recording.sample_count)
    angle = piece.angle_deg(np.clip(times, piece.times_s[0], piece.times_s[-1])) + turn
    current = np.full(times.size, 90.0)
    for cylinder, tdc in engine.firing_tdc_deg.items():
        after = (angle - tdc - 5.0 + 360.0) % 720.0 - 360.0
        height = 70.0 * {2: 0.1, 3: 0.75}.get(cylinder, 1.0)
        current += height * np.exp(-0.5 * (after / width_deg) ** 2)
    current += np.random.default_rng(3).normal(0.0, 1.0, times.size)
    made = tuple(
        Channel(c.description, current.astype(np.float32)) if c.description.role == "starter_current" else c
        for c in with_source(recording, "starter_current").channels
    )
    found = measured(replace(recording, channels=made), "corvane-2.1-four")
    assert "compression_sources_disagree" in {problem.code for problem in found.problems}
    assert found.compression is not None
    relative = {c.cylinder: c.relative for c in found.compression.cylinders}
    assert relative[2] == pytest.approx(0.1, abs=0.12)
    assert relative[3] == pytest.approx(0.75, abs=0.08)
    assert found.compression.dead == (2,)


def test_a_missing_stretch_of_current_costs_its_cycle_only() -> None:
    _, recording = cranked("corvane-2.1-four", 9100)
    samples = recording.with_role("starter_current")[0].samples.copy()
    samples[100_000:100_200] = np.nan
    holed = tuple(
        Channel(c.description, samples) if c.description.role == "starter_current" else c for c in recording.channels
    )
    found = measured(replace(recording, channels=holed), "corvane-2.1-four").compression
    whole = measured(recording, "corvane-2.1-four").compression
    assert found is not None and whole is not None
    assert found.source == whole.source == "starter_current"
    assert len(found.sources[0].cycles) == len(whole.sources[0].cycles) - 1
    assert found.sources[0].relative == pytest.approx(whole.sources[0].relative, abs=0.02)


def test_gas_torque_is_work_over_angle() -> None:
    """Virtual work: torque is pressure times dV/dtheta. Against numerical differentiation of the slider-crank volume
    and the polytropic law written out (Heywood 1988, equations 2.4 and 2.5; from memory)."""
    engine = profile(
        geometry={"bore_mm": 86, "stroke_mm": 86, "rod_mm": 143, "compression_ratio": 10},
        valve_timing={
            "exhaust_open_deg": 140,
            "exhaust_close_deg": 365,
            "intake_open_deg": 355,
            "intake_close_deg": 590,
        },
    )
    angle = np.radians(np.arange(-125.0, 125.0, 0.5))
    ratio = 143 / 86
    travel = 0.5 + ratio - (0.5 * np.cos(angle) + np.sqrt(ratio**2 - 0.25 * np.sin(angle) ** 2))
    volume = travel + 1.0 / 9.0
    closing = np.radians(-130.0)
    at_closing = 0.5 + ratio - (0.5 * np.cos(closing) + np.sqrt(ratio**2 - 0.25 * np.sin(closing) ** 2)) + 1.0 / 9.0
    gauge = (at_closing / volume) ** 1.30 - 1.0
    expected = gauge / gauge.max() * np.gradient(volume, angle)
    assert gas_torque(np.degrees(angle), engine)[2:-2] == pytest.approx(expected[2:-2], abs=2e-4)


def test_a_change_midway_is_dated() -> None:
    """A ring that begins to leak at 2.8 s: right at first, then not."""
    _, recording = cranked("corvane-2.1-four", 9400, 2, ring_leak_mm2=12.0, from_s=2.8, to_s=99.0)
    found = measured(recording, "corvane-2.1-four")
    text = next(p.text for p in found.problems if p.code == "compression_changed")
    assert text.startswith("Cylinder 2 compresses")
    assert 2.3 < float(text.split("from ")[1].split(" s")[0]) < 3.5


def test_a_single_odd_hump_is_listed_and_ignored() -> None:
    _, recording = cranked("corvane-2.1-four", 9401, 2, ring_leak_mm2=25.0, from_s=2.6, to_s=2.95)
    found = measured(recording, "corvane-2.1-four")
    codes = {p.code for p in found.problems}
    assert "compression_changed" not in codes
    assert found.compression is not None
    assert 2 not in found.compression.dead


def test_steady_cylinders_show_no_change() -> None:
    for engine, seed in (("corvane-2.1-four", 9100), ("brimholt-3.2-six", 9105)):
        _, recording = cranked(engine, seed)
        codes = {p.code for p in measured(recording, engine).problems}
        assert not codes & {"compression_changed", "compression_intermittent", "compression_single"}


@pytest.mark.parametrize(
    ("engine", "cylinder", "fault", "within"),
    [
        ("corvane-2.1-four", 2, {"exhaust_leak_mm2": 2.2}, 0.05),
        ("ostrin-1.4-four", 3, {"compression_share": 0.62}, 0.05),
        ("brimholt-3.2-six", 4, {"ring_leak_mm2": 3.0}, 0.1),
        ("haverel-2.4-five", 5, {"compression_share": 0.6}, 0.1),
        ("quayle-5.0-eight", 6, {"exhaust_leak_mm2": 2.0}, 0.1),
    ],
)
@pytest.mark.parametrize("alone", [True, False])
def test_a_low_cylinder_and_its_neighbours_are_as_they_press(
    engine: str, cylinder: int, fault: dict[str, float], within: float, alone: bool
) -> None:
    """Whatever makes it low, by the crank's speed alone and by all sources: no cylinder is off by more than that."""
    run, recording = cranked(engine, 9300 + cylinder, cylinder, **fault)
    compression = measured(with_source(recording, None) if alone else recording, engine).compression
    assert compression is not None
    truth = true_relative(run)
    assert 0.3 < truth[cylinder] < 0.85
    for found in compression.cylinders:
        assert found.relative == pytest.approx(truth[found.cylinder], abs=within)


@pytest.mark.parametrize(
    ("engine", "sealing"), [("haverel-2.4-five", 3), ("pellowe-1.0-triple", 2), ("corvane-2.1-four", 4)]
)
def test_where_one_cylinder_alone_seals_it_is_its_own_measure(engine: str, sealing: int) -> None:
    """The others are noise beside it, and their median is no measure: none compresses twice as much as the healthy."""
    known = pool_engine(engine)
    dead = {c: CylinderFault(intake_held_mm=4.0) for c in known.firing_order if c != sealing}
    _, recording = recorded(
        run_engine(known, clear_flood_cranking(4.0), 71, faults=EngineFaults(cylinders=dead), spread=Spread())
    )
    found = measure_capture(recording, known).compression
    assert found is not None
    states = {one.cylinder: one.state for one in found.cylinders}
    assert {c for c, state in states.items() if state == "dead"} == set(dead)
    assert states[sealing] == "good"
    assert found.sound == 1
