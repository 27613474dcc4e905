"""How good a channel is, in plain words: each defect is seen, and sound captures are left in peace."""

import re
from dataclasses import replace

import numpy as np
import pytest

from phasko.bench.pool import pool_engine, pool_engines
from phasko.bench.probe import Disturbance, Probe
from phasko.bench.recorder import ScopeSettings
from phasko.bench.sensors.transducers import CurrentClamp, PressureTransducer
from phasko.core.channels.quality import Remark, judge_quality
from phasko.core.signals.recording import Channel, Recording, scaled_samples
from tests.builders import FOUR, run_recording

pytestmark = pytest.mark.exhaustive

CURRENT = Probe("starter_current")


def remarks(recording: Recording, column: int = 0) -> dict[str, Remark]:
    return {remark.code: remark for remark in judge_quality(recording, pool_engine(FOUR))[column].remarks}


def recorded(probe: Probe, settings: ScopeSettings | None = None) -> Recording:
    return scaled(run_recording(FOUR, [probe], 31, settings=settings)[0])


def scaled(raw: Recording) -> Recording:
    """As it is read: in the scaled unit."""
    channels = tuple(
        Channel(c.description, c.samples * np.float32(c.description.scale) + np.float32(c.description.offset))
        for c in raw.channels
    )
    return Recording("x", raw.description, 0.0, raw.interval_s, channels)


def changed(recording: Recording, samples: np.ndarray) -> Recording:
    channel = Channel(recording.channels[0].description, samples.astype(np.float32))
    return Recording("x", recording.description, 0.0, recording.interval_s, (channel,))


@pytest.mark.parametrize("engine", pool_engines())
def test_sound_captures_have_nothing_that_hurts(engine: str) -> None:
    known = pool_engine(engine)
    probes = [Probe("crank"), Probe("cam", cam=known.cams[0].id), CURRENT, Probe("battery_voltage")]
    recording = scaled(run_recording(known, [*probes, Probe("cylinder_pressure", cylinder=1)], 32)[0])
    assert [q for q in judge_quality(recording, known) if not q.good] == []


def test_noise_and_hum() -> None:
    assert "noisy" in remarks(recorded(Probe("crank", disturbance=Disturbance(noise_v=0.5))))
    hum = remarks(recorded(Probe("crank", disturbance=Disturbance(hum_v=0.3))))["hum"]
    assert "50 Hz" in hum.text
    assert "ground" in hum.remedy


def test_clipped_in_the_inrush_alone_is_no_defect() -> None:
    clean = recorded(CURRENT)
    amperes = clean.channels[0].samples
    settled = float(np.percentile(amperes[amperes.size // 2 :], 99.5))
    inrush = remarks(changed(clean, np.minimum(amperes, 1.05 * settled)))
    assert not inrush["clipped_inrush"].hurts
    humps = remarks(changed(clean, np.minimum(amperes, 0.8 * settled)))
    assert humps["clipped"].hurts
    assert "larger range" in humps["clipped"].remedy


def test_steps_that_are_too_coarse() -> None:
    found = remarks(recorded(Probe("starter_current", range_v=20.0), ScopeSettings(bits=8)))
    assert "too_coarse" in found
    assert "smaller range" in found["too_coarse"].remedy


def test_a_rate_too_slow_for_the_teeth_says_which_would_do() -> None:
    found = remarks(recorded(Probe("crank"), ScopeSettings(rate_hz=800.0)))["too_slow"]
    assert found.hurts
    assert "kS/s" in found.remedy


def test_a_clamp_not_zeroed_and_turned_round() -> None:
    assert "not_zeroed" in remarks(recorded(Probe("starter_current", clamp=CurrentClamp(zero_a=25.0))))
    turned = remarks(recorded(Probe("starter_current", clamp=CurrentClamp(turned=True))))["turned"]
    assert turned.factor == -1.0


def test_the_zero_that_is_offered_is_in_the_unit_that_was_recorded_and_its_effect_is_told() -> None:
    """25 A on a clamp of 1 mV/A are 0.025 V; taken off, the capture reads nothing at rest."""
    off = recorded(Probe("starter_current", clamp=CurrentClamp(zero_a=25.0)))
    found = remarks(off)["not_zeroed"]
    assert found.zero == pytest.approx(0.025, abs=0.003)
    assert "offset" not in found.remedy
    current = off.with_role("starter_current")[0]
    described = current.description.model_copy(update={"offset": -current.description.scale * found.zero})
    samples = scaled_samples((current.samples / np.float32(current.description.scale)), described)
    zeroed = replace(off, channels=tuple(Channel(described, samples) if c is current else c for c in off.channels))
    assert "not_zeroed" not in remarks(zeroed)
    told = re.match(r"It then reads 0 A at rest and (\d+) A at most\.", found.then)
    assert told is not None
    assert float(told[1]) == pytest.approx(float(np.abs(samples).max()), rel=0.01)


def test_a_transducer_not_zeroed() -> None:
    probe = Probe("cylinder_pressure", cylinder=1, transducer=PressureTransducer(zero_bar=0.4))
    assert remarks(recorded(probe))["not_zeroed"].hurts


def test_missing_samples_are_counted_and_timed() -> None:
    clean = recorded(Probe("crank"))
    samples = clean.channels[0].samples.copy()
    samples[1000:1500] = np.nan
    samples[9000] = np.nan
    found = remarks(changed(clean, samples))["missing"]
    assert found.text.startswith("501 samples are missing")
    assert "5 ms" in found.text


@pytest.mark.parametrize(("times", "factor"), [(100.0, 0.01), (10.0, 0.1), (0.1, 10.0), (0.01, 100.0)])
def test_a_five_volt_signal_read_as_five_hundred_asks_for_the_probes_factor(times: float, factor: float) -> None:
    clean = recorded(Probe("crank"))
    found = remarks(changed(clean, clean.channels[0].samples * times))["scale"]
    assert found.factor == factor
    assert "probe" in found.remedy


def test_a_flat_lead_is_told() -> None:
    clean = recorded(Probe("crank"))
    assert remarks(changed(clean, np.full(clean.sample_count, 4.9)))["flat"].hurts


def test_a_low_level_that_drifts_is_told() -> None:
    sound = recorded(Probe("crank"))
    samples = sound.channels[0].samples
    found = remarks(changed(sound, samples + np.linspace(0.0, 1.6, samples.size)))["drifts"]
    assert "low level drifts" in found.text
    assert "ground" in found.remedy
    assert "drifts" not in remarks(sound)
