"""Guides with a meter: what readings say (common practice, no source)."""

from __future__ import annotations

import pytest

from phasko.core.documents.job import Guided
from phasko.core.hookup import GUIDES, GuideVerdict, guide_verdict, lost_signals
from phasko.core.looks import check_look
from tests.builders import pool_engine


def verdict(guide: str, answers: dict[str, str] | None = None, **readings: float) -> GuideVerdict:
    found = guide_verdict(Guided(guide=guide, about="crank", readings=readings, answers=answers or {}))
    assert found is not None
    return found


WHOLE = {"volt1": 5.0, "volt2": 0.0, "volt3": 4.9, "ohm1": 8000.0, "ohm2": 0.4, "ohm3": 12000.0}


def test_two_wires_that_read_as_a_supply_are_loaded_before_one_is_named() -> None:
    first = verdict("sensor_wires", **WHOLE)
    assert first.look is None
    assert first.missing == ("Wire 1: volts under load", "Wire 3: volts under load")
    told = verdict("sensor_wires", **WHOLE, loaded1=4.95, loaded3=0.8)
    assert told.words.startswith("Wire 1 is the supply (5.0 V), wire 2 the ground, wire 3 the signal")
    assert told.look is not None and told.look.answer == "right"


@pytest.mark.parametrize(
    ("changed", "answer"),
    [
        ({"ohm2": 4000.0, "volt2": 0.3}, "ground_missing"),
        ({"volt1": 0.2, "volt3": 0.1}, "supply_missing"),
        ({"loaded1": 1.0, "loaded3": 0.7}, "supply_missing"),
    ],
)
def test_a_missing_wire_is_named(changed: dict[str, float], answer: str) -> None:
    found = verdict("sensor_wires", **(WHOLE | changed))
    assert found.look is not None and found.look.answer == answer


def test_what_is_not_read_is_asked_for_and_says_nothing() -> None:
    found = verdict("sensor_wires", volt1=5.0)
    assert found.look is None and len(found.missing) == 5


def test_a_battery_fed_sensor_has_a_supply_too() -> None:
    found = verdict("sensor_wires", volt1=12.4, volt2=0.0, volt3=0.6, ohm1=9000.0, ohm2=0.2, ohm3=9000.0)
    assert "Wire 1 is the supply (12.4 V)" in found.words


def test_an_inductive_pair_flat_on_one_wire_is_whole() -> None:
    assert verdict("vr_pair", ohm=860.0).look is None
    one = verdict("vr_pair", {"signal": "one"}, ohm=860.0)
    assert "return" in one.words and one.look is not None and one.look.answer == "right"
    neither = verdict("vr_pair", {"signal": "neither"}, ohm=860.0)
    assert neither.look is None and "between both wires" in neither.words
    assert "open" in verdict("vr_pair", ohm=2e6).words
    assert "shorted" in verdict("vr_pair", ohm=3.0).words


def test_a_solenoid_is_held_against_the_maker_or_its_neighbour() -> None:
    assert verdict("solenoid", own=7.4).missing
    alike, apart = verdict("solenoid", own=7.4, other=7.1), verdict("solenoid", own=14.0, other=7.1)
    assert (alike.look and alike.look.answer, apart.look and apart.look.answer) == ("right", "off")
    makers = verdict("solenoid", own=7.4, maker_low=8.0, maker_high=9.0)
    assert makers.look is not None and makers.look.answer == "off"


def test_batteries_ground_and_terminals() -> None:
    assert "clamp will not be zeroed" in verdict("batteries", clamp=12.0, probe=0.0).words
    assert verdict("batteries", clamp=0.5, probe=0.01).words.startswith("Both")
    assert "a good ground" in verdict("ground", drop=20.0).words
    assert "bare metal" in verdict("ground", drop=450.0).words
    loose = verdict("terminal", {"grip": "loose"})
    assert loose.look is not None and loose.look.answer == "damaged"


def test_every_verdict_that_is_noted_fits_its_question() -> None:
    profile = pool_engine("corvane-2.1-four")
    for guide in GUIDES:
        assert len({field.name for field in guide.fields}) == len(guide.fields)
    for found in (verdict("terminal", {"grip": "firm"}), verdict("solenoid", own=7.0, other=7.0)):
        assert found.look is not None
        check_look(found.look, profile)


def test_the_table_of_lost_signals_fits_the_engine() -> None:
    rows = {row.signal for row in lost_signals(pool_engine("ostrin-1.6-distributor"))}
    assert "Distributor or sync pick-up" in rows and "One of two crank signals" in rows
    assert "One of several cam sensors" in {row.signal for row in lost_signals(pool_engine("corvane-2.1-four"))}
