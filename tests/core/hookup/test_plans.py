"""Channel plans for every engine of the pool, held against rules."""

from __future__ import annotations

from typing import Literal

import pytest

from phasko.bench.pool import pool_engines
from phasko.core.documents.job import JobDocument
from phasko.core.hookup import HookUpPlan, hook_up_plan, hook_up_question, hook_ups_of, proposed_question
from phasko.core.hookup.settings import narrowest_level_deg, top_speed_rpm
from tests.builders import pool_engine

NOTHING = JobDocument.model_validate({"schema": "phasko.job/1"})


def every_plan(engine: str) -> list[HookUpPlan]:
    profile = pool_engine(engine)
    return [hook_up_plan(profile, asked, n, NOTHING) for asked in hook_ups_of(profile) for n in (2, 4, 8)]


def plan(engine: str, question: str, channels: int, **told: object) -> HookUpPlan:
    asked = hook_up_question(question)
    assert asked is not None
    document = JobDocument.model_validate({"schema": "phasko.job/1", **told})
    return hook_up_plan(pool_engine(engine), asked, channels, document)


@pytest.mark.parametrize("engine", pool_engines())
def test_no_coil_is_probed_without_its_attenuator(engine: str) -> None:
    for made in every_plan(engine):
        for lead in made.leads:
            if lead.role in ("coil", "injector"):
                assert lead.attenuator >= 10.0, (made.question.id, lead.key)
            if lead.role == "coil":
                assert any(caution.id == "attenuator" for caution in made.cautions)


@pytest.mark.parametrize("engine", pool_engines())
def test_the_rate_is_enough_for_the_wheel_at_the_speed(engine: str) -> None:
    profile = pool_engine(engine)
    for made in every_plan(engine):
        rpm = top_speed_rpm(made.question.turns)
        if rpm is None:
            assert made.recording.sample_deg is None
            continue
        level_s = narrowest_level_deg(profile) / (6.0 * rpm)
        assert level_s * made.recording.rate_hz >= 10.0, made.question.id
        assert made.recording.sample_deg == pytest.approx(6.0 * rpm / made.recording.rate_hz)
        assert made.recording.sample_deg <= (0.3 if made.question.turns == "running" else 0.1)


@pytest.mark.parametrize("engine", pool_engines())
def test_cautions_are_complete(engine: str) -> None:
    for made in every_plan(engine):
        asked, roles = made.question, {lead.role for lead in made.leads}
        ids = [caution.id for caution in made.cautions]
        assert len(ids) == len(set(ids))
        wanted = {"clear", "high_voltage_car"} if asked.turns != "bench" else {"hot", "supply_limited"}
        if asked.turns == "cranking":
            wanted |= {"chocked", "burst", "pump_off" if asked.id == "injector" else "fuel_off"}
        if asked.turns in ("idle", "running"):
            wanted.add("exhaust")
        if "cylinder_pressure" in roles:
            wanted |= {"adapter", "zeroed"} | ({"diesel_hole"} if "diesel" in engine else {"plug_out"})
        if "starter_current" in roles:
            wanted |= {"zeroed", "battery"}
        if asked.id == "sweep":
            wanted.add("solenoid_fuse")
        assert wanted <= set(ids), (asked.id, wanted - set(ids))


@pytest.mark.parametrize("engine", pool_engines())
def test_no_round_has_more_leads_than_channels_and_none_twice(engine: str) -> None:
    for made in every_plan(engine):
        assert made.rounds
        for round_ in made.rounds:
            keys = [lead.key for lead in round_.leads]
            assert 1 <= len(keys) <= made.channels
            assert len(keys) == len(set(keys))


@pytest.mark.parametrize("channels", [2, 4, 8])
def test_every_cam_gets_its_turn_beside_the_crank(channels: Literal[2, 4, 8]) -> None:
    made = plan("quayle-5.0-eight", "timing", channels)
    assert all(round_.leads[0].role == "crank" for round_ in made.rounds)
    cams = [lead.cam for round_ in made.rounds for lead in round_.leads if lead.role == "cam"]
    assert sorted(c for c in cams if c) == ["B1E", "B1I", "B2E", "B2I"]
    assert len(made.rounds) == {2: 4, 4: 2, 8: 1}[channels]


def test_the_cam_that_a_code_names_comes_first() -> None:
    assert plan("quayle-5.0-eight", "timing", 2).rounds[0].leads[1].cam == "B1I"
    made = plan("quayle-5.0-eight", "timing", 2, codes=[{"code": "P0019"}])
    assert made.rounds[0].leads[1].cam == "B2E"


def test_two_channels_take_clamp_and_coil_for_the_seal() -> None:
    assert [lead.role for lead in plan("corvane-2.1-four", "seal", 2).leads] == ["starter_current", "coil"]
    # A diesel has no coil: the crank takes its place.
    assert "coil" not in {lead.role for lead in plan("corvane-2.2-diesel", "seal", 2).leads}


def test_a_sweep_keeps_every_cam_with_its_solenoid() -> None:
    for round_ in plan("quayle-5.0-eight", "sweep", 4).rounds:
        assert {lead.cam for lead in round_.leads if lead.role == "cam"} == {
            lead.cam for lead in round_.leads if lead.role == "phaser_command"
        }


def test_the_harness_is_bracketed_at_both_ends() -> None:
    first = plan("corvane-2.1-four", "harness", 2).rounds[0].leads
    assert [(lead.role, lead.at) for lead in first] == [("crank", "sensor"), ("crank", "control_unit")]


def test_a_distributor_engine_alone_has_a_sync_drive_and_only_phased_ones_a_sweep() -> None:
    assert "sync" in {one.id for one in hook_ups_of(pool_engine("ostrin-1.6-distributor"))}
    four = {one.id for one in hook_ups_of(pool_engine("ostrin-1.4-four"))}
    assert not {"sync", "sweep"} & four


def test_clear_flood_is_believed_only_where_it_was_proved() -> None:
    unsure = " ".join(plan("corvane-2.1-four", "timing", 4).states)
    assert "not proved on this one" in unsure
    proved = plan("corvane-2.1-four", "timing", 4, hook_up={"question": "timing", "clear_flood": "proved"})
    assert "cuts it on this car, proved" in " ".join(proved.states)


@pytest.mark.parametrize(
    ("told", "planned", "asked"),
    [
        ({"codes": [{"code": "P0303"}]}, (), "seal"),
        ({"codes": [{"code": "P0335"}], "complaint": {"symptoms": ["stalls"], "when": ["hot"]}}, (), "symptom"),
        ({"codes": [{"code": "P0016"}]}, (), "timing"),
        ({"codes": [{"code": "P0016"}]}, ("marks", "cylinder_pressure"), "pressure"),
        ({}, ("sync_adjust",), "timing"),
    ],
)
def test_the_first_question_follows_plan_and_complaint(
    told: dict[str, object], planned: tuple[str, ...], asked: str
) -> None:
    document = JobDocument.model_validate({"schema": "phasko.job/1", **told})
    assert proposed_question(pool_engine("corvane-2.1-four"), document, planned).id == asked
