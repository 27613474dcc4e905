"""What the simulated sensors and scope make of a run."""

import json
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from scipy.signal import find_peaks

from phasko.bench.channels import channel_voltage, spark_times_s
from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults, PhaserFault, Spread
from phasko.bench.job_sheet import read_sheet
from phasko.bench.pool import pool_engines
from phasko.bench.probe import Disturbance, Probe
from phasko.bench.recorder import ScopeSettings, Trigger, live_blocks, record_run, true_offsets_deg
from phasko.bench.run import Run, run_engine
from phasko.bench.scan_tool import command_phaser, read_codes, read_live, sync_readout_deg
from phasko.bench.scenario import PhaserCommand, clear_flood_cranking, starting
from phasko.bench.sensors.hall import HallFault, HallPickup
from phasko.bench.sensors.inductive import InductivePickup, inductive_voltage
from phasko.bench.sensors.transducers import CurrentClamp, PressureTransducer
from phasko.bench.sensors.wheels import WheelEdges, edge_passings
from phasko.cli import main
from phasko.core.errors import DocumentError, RefusedError
from tests.bench.test_physics import EXACT
from tests.builders import FOUR, pool_engine

QUIET = Disturbance(noise_v=0.0)


def run_of(engine: str = FOUR, faults: EngineFaults | None = None, duration_s: float = 2.6) -> Run:
    return run_engine(pool_engine(engine), clear_flood_cranking(duration_s), 1, faults=faults, spread=EXACT)


def seen(run: Run, probe: Probe, rate_hz: float = 100_000.0) -> tuple[np.ndarray, np.ndarray]:
    at_s = np.arange(int(run.times_s[-1] * rate_hz)) / rate_hz
    return at_s, channel_voltage(run, probe, at_s, np.random.default_rng(1))


def settled_current(run: Run) -> tuple[np.ndarray, np.ndarray]:
    """(angle, current) over two settled cycles, evenly in angle."""
    first = float(np.interp(1.1, run.times_s, run.angles_deg)) // 720.0 * 720.0 + 720.0
    angle = np.arange(first - 90.0, first - 90.0 + 720.0, 1.0)
    return angle, np.interp(np.interp(angle, run.angles_deg, run.times_s), run.times_s, run.starter_a)


@pytest.mark.parametrize(
    "engine", [FOUR, "pellowe-1.0-triple", "haverel-2.4-five", "brimholt-3.2-six", "quayle-5.0-eight"]
)
def test_one_hump_per_cylinder_in_a_cycle(engine: str) -> None:
    run = run_of(engine, duration_s=3.8)
    _, current = settled_current(run)
    peaks, _ = find_peaks(np.tile(current, 3), prominence=0.15 * np.ptp(current))
    in_one = [p for p in peaks if 720 <= p < 1440]
    assert len(in_one) == run.engine.cylinders


def test_a_dead_cylinder_makes_the_next_hump_look_larger() -> None:
    angle, healthy = settled_current(run_of())
    _, weak = settled_current(run_of(faults=EngineFaults(cylinders={3: CylinderFault(plug="out")})))

    def hump(current: np.ndarray, tdc: float) -> float:
        near = np.abs((angle - tdc + 360.0) % 720.0 - 360.0) < 60.0
        return float(current[near].max() - current.mean())

    assert hump(weak, 180.0) < 0.4 * hump(healthy, 180.0)
    assert hump(weak, 360.0) > 1.05 * hump(healthy, 360.0)


def test_edges_stand_where_geometry_puts_them() -> None:
    """Within 0.01 degrees of the angle that the run itself had at that time."""
    run = run_of()
    known = run.engine
    wheel = WheelEdges(np.array([10.0, 100.0, 350.0]), np.array([True, False, True]), 360.0)
    passed = edge_passings(run.times_s, run.angles_deg, wheel)
    turning = np.interp(passed.times_s, run.times_s, run.speed_rad_s) > 1.0
    angles = np.interp(passed.times_s[turning], run.times_s, run.angles_deg) % 360.0
    off = np.abs((angles[:, None] - wheel.deg + 180.0) % 360.0 - 180.0).min(axis=1)
    assert off.max() < 0.01
    assert known.crank.wheel.slots == 60


def test_rocking_back_passes_the_same_edge_the_other_way() -> None:
    times = np.linspace(0.0, 1.0, 1001)
    rocked = edge_passings(times, 20.0 * np.sin(np.pi * times), WheelEdges(np.array([10.0]), np.array([True]), 360.0))
    assert rocked.high.tolist() == [True, False]
    assert rocked.times_s == pytest.approx([1 / 6, 5 / 6], abs=1e-3)


def test_inductive_height_is_proportional_to_speed() -> None:
    edges = WheelEdges(np.arange(0.0, 360.0, 3.0), np.tile([True, False], 60), 360.0)
    phase = np.linspace(0.0, 30.0, 3000)
    slow, fast = (np.ptp(inductive_voltage(phase, np.full(3000, w), edges, InductivePickup())) for w in (10.0, 30.0))
    assert fast == pytest.approx(3.0 * slow)


def test_inductive_half_waves_are_larger_at_a_gap_and_cross_zero_at_the_tooth() -> None:
    run = run_of("tarrant-3.0-straight-six")
    at_s, volts = seen(run, Probe("crank", disturbance=QUIET))
    turning = (at_s > 1.2) & (at_s < 1.8)
    peaks, props = find_peaks(volts[turning], height=0.3 * volts[turning].max())
    assert props["peak_heights"].max() > 1.1 * np.median(props["peak_heights"])
    falling = np.flatnonzero((volts[:-1] > 0) & (volts[1:] <= 0) & turning[1:])
    angle = np.interp(at_s[falling], run.times_s, run.angles_deg)
    off = (angle - run.engine.crank.index_deg) % 6.0
    regular = np.minimum(off, 6.0 - off)
    assert np.median(regular) < 0.1
    mirrored = seen(run, Probe("crank", inductive=InductivePickup(mirrored=True), disturbance=QUIET))[1]
    assert mirrored == pytest.approx(-volts)
    assert peaks.size > 20


def test_hall_faults() -> None:
    run = run_of()
    _, open_ground = seen(
        run, Probe("cam", cam="B1I", hall=HallPickup(fault=HallFault(open_ground=True)), disturbance=QUIET)
    )
    assert open_ground.min() > 3.5
    at_s, dead = seen(
        run,
        Probe("cam", cam="B1I", hall=HallPickup(fault=HallFault(dead_from_s=1.0, dead_to_s=1.5)), disturbance=QUIET),
    )
    assert np.ptp(dead[(at_s > 1.01) & (at_s < 1.49)]) == 0.0
    assert np.ptp(dead[at_s > 1.6]) > 4.0

    def edges(fault: HallFault) -> int:
        volts = seen(run, Probe("crank", hall=HallPickup(fault=fault), disturbance=QUIET))[1]
        return int(np.count_nonzero(np.diff(volts > 2.5)))

    whole = edges(HallFault())
    assert edges(HallFault(dropped_share=0.05)) < 0.97 * whole
    assert edges(HallFault(added_per_s=50.0)) > whole + 50


def test_coils_fire_once_per_cycle_or_waste_a_spark() -> None:
    once = np.diff(np.interp(spark_times_s(run_of(), 1), run_of().times_s, run_of().angles_deg))
    assert once == pytest.approx(720.0, abs=0.5)
    wasted = run_of("solan-2.0-flat-four")
    assert np.diff(np.interp(spark_times_s(wasted, 1), wasted.times_s, wasted.angles_deg)) == pytest.approx(
        360.0, abs=0.5
    )


def test_before_the_cycle_is_known_a_coil_may_fire_every_turn() -> None:
    run = run_of()
    doubled = np.interp(spark_times_s(run, 1, doubles_until_s=1.5), run.times_s, run.angles_deg)
    assert set(np.round(np.diff(doubled) / 360.0).tolist()) == {1.0, 2.0}


def test_lag_of_all_pick_ups_moves_no_offset() -> None:
    run = run_engine(pool_engine(FOUR), clear_flood_cranking(2.6), 1, spread=replace(EXACT, sensor_lag_s=1e-4))
    at_s, late = seen(run, Probe("cam", cam="B1I", disturbance=QUIET))
    prompt = seen(run_of(), Probe("cam", cam="B1I", disturbance=QUIET))[1]
    rises = [np.flatnonzero((v[:-1] < 2.5) & (v[1:] >= 2.5)) for v in (prompt, late)]
    assert at_s[rises[1]] - at_s[rises[0]] == pytest.approx(1e-4, abs=1.1e-5)


def test_a_late_crank_wheel_makes_the_spark_truly_late() -> None:
    run = run_of(faults=EngineFaults(DriveFaults(crank_wheel_deg=8.0)))
    angle = np.interp(spark_times_s(run, 1), run.times_s, run.angles_deg)
    window = run.engine.ignition.cranking_spark_deg
    assert (angle + 360.0) % 720.0 - 360.0 == pytest.approx(8.0 + sum(window) / 2, abs=0.3)


def test_primary_spikes_and_drive_falls_at_the_spark() -> None:
    run = run_of()
    spark = spark_times_s(run, 1)[1]
    at_s, primary = seen(run, Probe("coil", cylinder=1, signal="primary", disturbance=QUIET))
    _, drive = seen(run, Probe("coil", cylinder=1, disturbance=QUIET))
    near = (at_s > spark - 0.01) & (at_s < spark + 0.02)
    assert at_s[near][int(np.argmax(primary[near]))] == pytest.approx(spark, abs=5e-5)
    assert primary.max() > 250
    assert np.interp(spark - 1e-4, at_s, drive) > 4 > np.interp(spark + 1e-4, at_s, drive)


def test_clamp_and_transducer_have_their_ranges() -> None:
    amperes = np.linspace(0.0, 500.0, 1000)
    assert CurrentClamp(fine=True, zero_a=0.0).voltage(amperes, 1e-5).max() == pytest.approx(1.0)
    assert CurrentClamp(turned=True, zero_a=0.0).voltage(amperes, 1e-5).min() == pytest.approx(-0.5, abs=1e-3)
    bar = PressureTransducer(range_bar=14.0, scale_error=0.0, zero_bar=0.0)
    assert bar.bar(np.full(100, 30e5), 1e5, 1e-5)[-1] == 14.0
    assert PressureTransducer(absolute=True, scale_error=0.01, zero_bar=0.0).bar(np.full(100, 1e5), 1e5, 1e-5)[
        -1
    ] == pytest.approx(1.01)


def test_the_scope_has_eight_channels_and_whole_steps() -> None:
    run = run_of(duration_s=1.0)
    with pytest.raises(RefusedError, match="1 to 8 channels"):
        record_run(run, [Probe("crank")] * 9)
    with pytest.raises(RefusedError, match="8 to 16 bits"):
        record_run(run, [Probe("crank")], ScopeSettings(bits=24))
    samples = record_run(run, [Probe("crank", range_v=10.0)], ScopeSettings(bits=8)).columns["c1"]
    assert np.allclose(samples / (20 / 256), np.rint(samples / (20 / 256)))
    clipped = record_run(run, [Probe("battery_voltage", range_v=5.0)]).columns["c1"]
    assert clipped.max() < 5.0


def test_trigger_and_live_stream_give_the_same_samples() -> None:
    run = run_of(duration_s=1.0)
    probes = [Probe("battery_voltage")]
    whole = record_run(run, probes).columns["c1"]
    streamed = np.concatenate([block["c1"] for block in live_blocks(run, probes)])
    np.testing.assert_array_equal(whole, streamed)
    falls = ScopeSettings(trigger=Trigger(0, 11.9, rising=False, before_s=0.05))
    triggered = record_run(run, probes, falls).columns["c1"]
    assert triggered.size < whole.size
    assert triggered[0] > 11.9


def test_the_scan_tool_reads_what_the_state_sets() -> None:
    jumped = run_of(faults=EngineFaults(DriveFaults(jumped_at_crank=1)))
    assert [code.code for code in read_codes(jumped)] == ["P0016", "P0017"]
    frame = read_codes(jumped)[0].freeze_frame
    assert 100 < frame.rpm < 350
    assert [code.code for code in read_codes(run_of())] == []
    stuck = EngineFaults(DriveFaults(phasers={"B1I": PhaserFault(park_deg=-22.0, stuck=True)}))
    assert "P0011" in [code.code for code in read_codes(run_of(faults=stuck))]
    assert not read_live(jumped, 1.5).synchronised
    assert read_live(run_of(), 1.5).synchronised
    with pytest.raises(RefusedError):
        read_live(jumped, 99.0)


def test_a_commanded_phaser_travels_and_comes_back() -> None:
    scenario = command_phaser(clear_flood_cranking(3.0), "B1I", PhaserCommand(1.0, 2.0))
    run = run_engine(pool_engine(FOUR), scenario, 1, spread=EXACT)
    place = run.cams["B1I"].valves_deg
    assert np.interp([0.9, 1.9, 2.9], run.slot_times_s, place) == pytest.approx([0.0, -50.0, 0.0], abs=0.01)
    slow = EngineFaults(DriveFaults(phasers={"B1I": PhaserFault(rate_share=0.1)}))
    late = run_engine(pool_engine(FOUR), scenario, 1, spread=EXACT, faults=slow).cams["B1I"].valves_deg
    assert late.min() > -20.0


def test_sync_in_crank_or_distributor_degrees() -> None:
    run = run_of("ostrin-1.6-distributor", EngineFaults(DriveFaults(sync_deg=13.0)))
    assert (sync_readout_deg(run), sync_readout_deg(run, distributor_degrees=True)) == (13.0, 6.5)
    assert true_offsets_deg(run)["CAM"] == pytest.approx(13.0)


@pytest.mark.parametrize("engine", pool_engines())
def test_every_engine_turns_and_gives_every_signal(engine: str) -> None:
    known = pool_engine(engine)
    run = run_engine(known, clear_flood_cranking(1.6), 1, spread=Spread())
    probes = [
        Probe("crank"),
        *[Probe("cam", cam=cam.id) for cam in known.cams],
        *[Probe("aux", wheel=w.id) for w in known.aux_wheels],
    ]
    capture = record_run(run, probes[:8])
    assert all(np.ptp(samples) > 1.0 for samples in capture.columns.values())


def test_a_sheet_says_which_field_is_wrong() -> None:
    with pytest.raises(DocumentError, match=r"faults\.drive\.jumped_at_crank"):
        read_sheet('{"engine": "x", "faults": {"drive": {"jumped_at_crank": "one"}}}', "s.json")
    with pytest.raises(DocumentError, match="unknown key colour"):
        read_sheet('{"engine": "x", "colour": 1}', "s.json")


def test_the_bench_command_writes_a_capture_that_can_be_analysed(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    sheet = {
        "engine": FOUR,
        "seed": 3,
        "faults": {"drive": {"jumped_at_crank": 1}},
        "scenario": {"duration_s": 2.6, "throttle": 1.0},
        "scope": {"rate_hz": 20000},
    }
    (tmp_path / "sheet.json").write_text(json.dumps(sheet))
    assert main(["bench", str(tmp_path / "sheet.json"), "--out", str(tmp_path), "--name", "j"]) == 0
    truth = json.loads((tmp_path / "j.truth.json").read_text())
    capsys.readouterr()
    assert (
        main(["analyze", str(tmp_path / "j.capture.json"), "--engine", str(tmp_path / "j.engine.json"), "--json"]) == 0
    )
    cams = {c["cam"]: c["offset_deg"] for c in json.loads(capsys.readouterr().out)["captures"][0]["cams"]}
    for cam, offset in truth["cam_offsets_deg"].items():
        assert cams[cam] == pytest.approx(offset, abs=0.15)
    assert main(["bench", "--engine", "nobody", "--out", str(tmp_path)]) == 2
    assert "One of:" in capsys.readouterr().err
    assert main(["bench", "--engines"]) == 0
    assert FOUR in capsys.readouterr().out


@pytest.mark.parametrize(
    ("probe", "words"),
    [
        (Probe("cam", cam="B9X"), "has no cam"),
        (Probe("coil", cylinder=7), "has no cylinder 7"),
    ],
)
def test_a_lead_on_nothing_is_refused(probe: Probe, words: str) -> None:
    with pytest.raises(RefusedError, match=words):
        record_run(run_of(duration_s=0.6), [probe])


def test_the_description_says_how_each_lead_reads() -> None:
    probes = [
        Probe("crank"),
        Probe("starter_current", clamp=CurrentClamp(fine=True)),
        Probe("cylinder_pressure", cylinder=2, transducer=PressureTransducer(absolute=True)),
        Probe("coil", cylinder=1, signal="primary", attenuator=10.0),
        Probe("battery_voltage", ac=True),
    ]
    described = record_run(run_of(duration_s=0.8), probes).description
    by_role = {channel.role: channel for channel in described.channels}
    assert (by_role["starter_current"].scale, by_role["starter_current"].scaled_unit) == (100.0, "A")
    assert (by_role["cylinder_pressure"].unit, by_role["cylinder_pressure"].reference) == ("bar", "absolute")
    assert (by_role["coil"].scale, by_role["coil"].signal) == (10.0, "primary")
    assert by_role["battery_voltage"].coupling == "ac"
    assert (described.condition, described.phasers, described.throttle) == ("cranking", "unplugged", "open")


def test_an_attenuated_spike_comes_back_whole_after_its_scale() -> None:
    run = run_of(duration_s=2.0)
    made = record_run(run, [Probe("coil", cylinder=1, signal="primary", attenuator=10.0)])
    assert made.columns["c1"].max() < 50.0
    assert made.columns["c1"].max() * made.description.channels[0].scale > 250.0


def test_ac_coupling_leaves_the_swing_and_takes_the_level() -> None:
    run = run_of(duration_s=3.0)
    at_s, volts = seen(run, Probe("battery_voltage", ac=True, disturbance=QUIET))
    late = (at_s > 1.5) & (at_s < 2.5)
    assert abs(volts[late].mean()) < 0.15
    direct = seen(run, Probe("battery_voltage", disturbance=QUIET))[1]
    assert np.ptp(volts[late]) == pytest.approx(np.ptp(direct[late]), rel=0.15)


def test_pulse_sensors_feel_every_cylinder() -> None:
    run = run_of(duration_s=3.0)
    for role in ("intake_pulse", "exhaust_pulse"):
        at_s, volts = seen(run, Probe(role, disturbance=QUIET), 10_000.0)
        settled = (at_s > 1.2) & (at_s < 2.4)
        cycles = np.ptp(np.interp(at_s[settled], run.times_s, run.angles_deg)) / 720.0
        peaks, _ = find_peaks(-volts[settled], prominence=0.4 * np.ptp(volts[settled]))
        assert len(peaks) / cycles == pytest.approx(4.0, abs=0.7), role


def test_an_injector_rests_at_the_battery_and_pulls_to_ground_only_when_fuel_is_on() -> None:
    off = seen(run_of(duration_s=2.0), Probe("injector", cylinder=1, disturbance=QUIET))[1]
    assert off.min() > 8.0
    started = run_engine(pool_engine(FOUR), starting(2.5), 1, spread=EXACT)
    on = seen(started, Probe("injector", cylinder=1, disturbance=QUIET))[1]
    assert on.min() == pytest.approx(0.3)


def test_a_loose_connection_drops_to_nothing_while_it_lasts() -> None:
    shaken = Disturbance(noise_v=0.0, loose_from_s=1.0, loose_to_s=1.2)
    at_s, volts = seen(run_of(duration_s=1.6), Probe("battery_voltage", disturbance=shaken))
    inside = (at_s >= 1.0) & (at_s < 1.2)
    assert volts[inside].min() == 0.0
    assert volts[~inside].min() > 8.0


def test_hum_has_the_frequency_of_the_mains() -> None:
    hummed = Disturbance(noise_v=0.0, hum_v=0.2)
    at_s, volts = seen(run_of(duration_s=0.35), Probe("cam", cam="B1I", disturbance=hummed), 10_000.0)
    still = volts[(at_s > 0.05) & (at_s < 0.25)]
    spectrum = np.abs(np.fft.rfft(still - still.mean()))
    assert np.fft.rfftfreq(still.size, 1e-4)[int(np.argmax(spectrum))] == pytest.approx(50.0, abs=0.1)


def test_a_misfiring_cylinder_sets_its_own_code() -> None:
    out = EngineFaults(cylinders={3: CylinderFault(plug="out")})
    run = run_engine(pool_engine(FOUR), starting(3.0), 1, faults=out, spread=EXACT)
    assert "P0303" in [code.code for code in read_codes(run)]


def test_a_dead_sensor_sets_the_code_of_its_circuit() -> None:
    dead = HallPickup(fault=HallFault(dead_from_s=0.5))
    codes = [
        c.code
        for c in read_codes(run_of(duration_s=1.2), (Probe("crank", hall=dead), Probe("cam", cam="B1I", hall=dead)))
    ]
    assert codes == ["P0335", "P0340"]


def test_an_inductive_tooth_stands_where_it_is() -> None:
    """Not on a grid: the zero moves by exactly as much as the tooth, however little."""
    zeros = []
    for late in (0.0, 0.007):
        wheel = WheelEdges(np.array([10.0, 13.0, 100.0, 103.0]) + late, np.array([True, False, True, False]), 360.0)
        phase = np.arange(8.0, 15.0, 0.001)
        volts = inductive_voltage(phase, np.full(phase.size, 20.0), wheel, InductivePickup())
        fall = int(np.flatnonzero((volts[:-1] > 0) & (volts[1:] <= 0))[0])
        zeros.append(phase[fall] + 0.001 * volts[fall] / (volts[fall] - volts[fall + 1]))
    assert zeros[1] - zeros[0] == pytest.approx(0.007, abs=2e-4)


def test_channels_of_one_scope_are_hundredths_of_a_sample_apart() -> None:
    """Two leads on one sensor: their edges differ, by no more than a tenth of a sample."""
    run = run_of()
    apart = []
    for skew in (0.0, 0.02):
        made = record_run(run, [Probe("crank", disturbance=QUIET)] * 2, ScopeSettings(bits=16, skew_samples=skew))
        one, other = (made.columns[name].astype(float) for name in ("c1", "c2"))
        moving = (np.abs(one - 2.6) < 2.0) & (np.abs(other - 2.6) < 2.0)
        slope = 4.6 / 2.0
        apart.append(float(np.abs(one - other)[moving].mean()) / slope)
    assert apart[0] < 1e-3
    assert 5e-3 < apart[1] < 0.1


@pytest.mark.parametrize(
    ("cam", "park_deg", "code"),
    [("B1I", -22.0, "P0011"), ("B1I", 22.0, "P0012"), ("B1E", -22.0, "P0014"), ("B1E", 22.0, "P0015")],
)
def test_the_scan_tool_tells_over_retarded_from_over_advanced(cam: str, park_deg: float, code: str) -> None:
    stuck = EngineFaults(DriveFaults(phasers={cam: PhaserFault(park_deg=park_deg, stuck=True)}))
    run = run_engine(pool_engine("haverel-2.4-five"), clear_flood_cranking(2.0), 5, faults=stuck)
    over = {"P0011", "P0012", "P0014", "P0015"}
    assert {found.code for found in read_codes(run)} & over == {code}
