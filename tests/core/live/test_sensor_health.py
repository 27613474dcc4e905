"""Twenty sensors on the stand, ten of them healthy, warmed and cooled again."""

from __future__ import annotations

import numpy as np
import pytest

from phasko.bench.instruments.heat import HeatSheet, heat_volts, temperature_c
from phasko.core.documents import CaptureDescription
from phasko.core.documents.capture import ChannelDescription
from phasko.core.live import sensor_health, sensor_verdict, stand_finding
from phasko.core.live.sensor_health import SensorVerdict
from phasko.core.signals.recording import Channel, Recording

RATE_HZ = 5000.0
ILL = ("shrinks", "erratic", "flat")
STATES = {"shrinks": "shrinking", "erratic": "erratic", "flat": "flat"}


def stand(sheet: HeatSheet) -> Recording:
    at_s = np.arange(round(52.0 * RATE_HZ)) / RATE_HZ
    columns = (
        ("c1", heat_volts(sheet, at_s, tested=True), "V"),
        ("c2", heat_volts(sheet, at_s, tested=False), "V"),
        ("c3", temperature_c(sheet, at_s), "°C"),
    )
    described = [ChannelDescription(column=c, role="other", unit=unit) for c, _, unit in columns]
    description = CaptureDescription(schema="phasko.capture/1", data="x", condition="bench", channels=described)
    channels = tuple(
        Channel(one, np.asarray(v, dtype=np.float32)) for one, (_, v, _) in zip(described, columns, strict=True)
    )
    return Recording("stand", description, 0.0, 1.0 / RATE_HZ, channels)


def read(sheet: HeatSheet, warm: bool = True) -> tuple[SensorVerdict, set[str]]:
    recording = stand(sheet)
    temperature = recording.channels[2].samples if warm else None
    tested, healthy = (sensor_health(recording, name, temperature) for name in ("c1", "c2"))
    assert tested is not None and healthy is not None
    return sensor_verdict(tested, healthy), {span.health for span in tested.spans}


@pytest.mark.parametrize("seed", range(20))
def test_twenty_sensors_are_read_right(seed: int) -> None:
    rng = np.random.default_rng([seed, 12])
    ill = seed % 2 == 1
    behaves = ILL[seed // 2 % 3] if ill else "healthy"
    sheet = HeatSheet(
        behaves=behaves,  # type: ignore[arg-type]
        from_c=float(rng.uniform(60.0, 95.0)),
        top_c=float(rng.uniform(105.0, 125.0)),
        magnet_hz=float(rng.uniform(12.0, 40.0)),
        seed=seed,
    )
    verdict, states = read(sheet)
    assert verdict.fails is ill, verdict.words
    if ill:
        assert STATES[behaves] in states
        assert "comes back on cooling" in verdict.words
        # Told in steps of half a second, and of one that shrinks from when a quarter of it is gone.
        at_c = float(verdict.words.split(" from ")[1].split(" °C")[0])
        assert at_c == pytest.approx(sheet.from_c, abs=7.0)


def test_what_both_do_at_once_is_the_supply() -> None:
    verdict, _ = read(HeatSheet(supply_lost_s=20.0))
    assert verdict.fails is None and "the supply" in verdict.words


def test_overheated_says_nothing_of_the_sensor() -> None:
    verdict, _ = read(HeatSheet(behaves="flat", from_c=160.0, top_c=185.0))
    assert verdict.fails is None and "everything fails" in verdict.words


def test_without_a_temperature_it_still_fails_and_comes_back() -> None:
    verdict, _ = read(HeatSheet(behaves="flat", from_c=80.0), warm=False)
    assert verdict.fails is True and "comes back" in verdict.words and "°C" not in verdict.words


def test_while_it_is_recorded_its_state_is_one_sentence() -> None:
    """The usual swing is kept from before, so that a signal that is gone is not its own measure."""
    recording = stand(HeatSheet(behaves="flat", from_c=60.0))
    late = Recording(
        "s",
        recording.description,
        18.0,
        recording.interval_s,
        tuple(Channel(c.description, c.samples[90_000:105_000]) for c in recording.channels),
    )
    now = sensor_health(late, "c1", None, 4.6)
    assert now is not None
    assert stand_finding(now, 88.0).text == "Recording: the sensor's signal is gone, 88 °C"
    healthy = stand_finding(sensor_health(late, "c2", None, 4.6), None)
    assert healthy.text == "Recording: the sensor's signal is whole" and "pulses a second" in healthy.detail
    assert "waiting" in stand_finding(None, None).text


def test_a_channel_that_is_not_there_is_no_test() -> None:
    recording = stand(HeatSheet())
    assert sensor_health(recording, "c9") is None
