"""The call: what it says, what it never says, and what it asks for next."""

import math

import pytest

from phasko.bench import Nuisances, Shift, pool_engines
from phasko.core import numbers
from phasko.core.documents import Analysis, EngineProfile
from phasko.core.explanations import EXPLANATIONS
from phasko.core.explanations.grids import elongation_grid, shift_grid, travel_grid
from tests.builders import COARSE_FOUR, FOUR, SIX, analysed, bench_recording, pool_engine, probabilities

PITCH = 360.0 / 21
USUAL = Nuisances(tooth_deg=0.05, cam_jitter_deg=0.1, profile_edge_deg=0.2)


def called(shift: Shift, engine: str = FOUR, seed: int = 70, **described: object) -> Analysis:
    return analysed(bench_recording(engine, seed, shift, USUAL, **described), engine=engine)


@pytest.mark.parametrize(
    ("shift", "engine", "fault"),
    [
        (Shift(), FOUR, "none"),
        (Shift(), SIX, "none"),
        (Shift({"B1I": PITCH, "B1E": PITCH}), FOUR, "chain_jumped"),
        (Shift({"B1I": -PITCH, "B1E": -PITCH}), FOUR, "chain_jumped"),
        (Shift({"B1I": 6.1, "B1E": 2.9}), COARSE_FOUR, "chain_stretched"),
        (Shift(crank_wheel_deg=8.0), FOUR, "crank_signal_shifted"),
        (Shift({"B1I": -21.0}), FOUR, "phaser_off_park"),
    ],
)
def test_the_leader_is_the_physical_one(shift: Shift, engine: str, fault: str) -> None:
    assert called(shift, engine).verdict.faults[0].fault == fault


def test_a_crank_wheel_carries_the_sign_of_its_index() -> None:
    leader = called(Shift(crank_wheel_deg=8.0)).verdict.faults[0]
    assert leader.amount.crank_deg == pytest.approx(8.0, abs=1.5)


def test_a_jump_is_whole_and_says_so() -> None:
    leader = called(Shift({"B1I": PITCH, "B1E": PITCH})).verdict.faults[0]
    assert (leader.amount.pitches, leader.where.cams) == (1.0, ["B1I", "B1E"])
    assert leader.title == "Chain jumped one pitch late"
    assert any("a whole number" in text for text in leader.for_)


def test_a_bank_that_jumped_is_named() -> None:
    known = pool_engine(SIX)
    assert known.drive is not None
    pitch = 360.0 / (known.drive.crank_sprocket_teeth or 21)
    leader = called(Shift({"B2I": pitch, "B2E": pitch}), SIX).verdict.faults[0]
    assert (leader.fault, leader.where.bank) == ("chain_jumped", 2)


def test_a_jump_and_a_wheel_the_other_way_are_both_named() -> None:
    chances = probabilities(called(Shift({"B1I": PITCH, "B1E": PITCH})))
    assert chances["crank_signal_shifted"] > 0.02


def jumped(engine: str, pitches: int) -> Shift:
    known = pool_engine(engine)
    pitch = 360.0 / ((known.drive.crank_sprocket_teeth if known.drive else None) or 21)
    return Shift({cam.id: pitches * pitch for cam in known.cams})


@pytest.mark.parametrize("pitches", [1, 2, 3, -1, -2])
@pytest.mark.parametrize("engine", pool_engines())
def test_cam_signals_alone_never_open_the_covers(engine: str, pitches: int) -> None:
    assert called(jumped(engine, pitches), engine).verdict.teardown != "go"


@pytest.mark.parametrize("pitches", [1, 2, -1])
@pytest.mark.parametrize(
    "engine", [FOUR, COARSE_FOUR, SIX, "haverel-2.4-five", "quayle-5.0-eight", "solan-2.0-flat-four"]
)
def test_a_jump_asks_for_a_second_kind_of_evidence(engine: str, pitches: int) -> None:
    verdict = called(jumped(engine, pitches), engine).verdict
    assert verdict.teardown == "confirm_first"
    assert verdict.next_test is not None
    assert "Nothing yet has felt the pistons or valves" in verdict.teardown_because


def test_the_next_test_parts_the_leaders_without_cranking() -> None:
    test = called(Shift({"B1I": PITCH, "B1E": PITCH})).verdict.next_test
    assert test is not None
    assert (test.test, test.cranks) == ("marks", False)
    assert "jumped" in test.why
    assert "crank wheel" in test.why


def test_after_stop_cranking_nothing_that_cranks_is_proposed() -> None:
    verdict = called(Shift({"B1I": 2 * PITCH, "B1E": 2 * PITCH})).verdict
    assert "stop_cranking" in verdict.cautions
    assert verdict.next_test is not None
    assert not verdict.next_test.cranks


def test_an_engine_whose_valves_clear_gets_no_caution() -> None:
    clear = pool_engine(FOUR).model_copy(update={"interference": False})
    recording = bench_recording(clear, 71, Shift({"B1I": PITCH, "B1E": PITCH}))
    assert analysed(recording, engine=clear).verdict.cautions == []


def test_a_healthy_engine_keeps_its_covers_and_asks_for_nothing() -> None:
    verdict = called(Shift()).verdict
    assert (verdict.teardown, verdict.next_test, verdict.undecided, verdict.cautions) == ("no", None, False, [])


def test_one_cam_late_is_undecided_between_cam_and_its_wheel() -> None:
    verdict = called(Shift({"B1E": 12.0})).verdict
    assert {f.fault for f in verdict.faults[:2]} <= {"cam_slipped", "cam_signal_shifted", "chain_jumped"}
    assert verdict.teardown == "confirm_first"
    assert verdict.next_test is not None


def test_an_active_phaser_excuses_an_early_cam_while_running() -> None:
    parked = called(Shift({"B1I": -21.0}))
    assert probabilities(parked)["none"] < 0.01


def test_explanations_exclude_each_other() -> None:
    chances = probabilities(called(Shift({"B1I": 6.0})))
    assert math.isclose(sum(chances.values()), 1.0, abs_tol=1e-9)
    assert "something_else" in chances
    assert list(chances.values()) == sorted(chances.values(), reverse=True)


def test_more_captures_of_the_same_thing_do_not_multiply_the_certainty() -> None:
    """Edges, cycles and captures share index and reference: they are not independent witnesses."""
    one = bench_recording(FOUR, 72, Shift({"B1I": 4.0, "B1E": 4.0}), USUAL)
    ten = [
        bench_recording(FOUR, 72 + i, Shift({"B1I": 4.0, "B1E": 4.0}), Nuisances(cam_jitter_deg=0.1)) for i in range(10)
    ]
    single, many = probabilities(analysed(one))["none"], probabilities(analysed(*ten))["none"]
    assert abs(single - many) < 0.15


@pytest.mark.parametrize("engine", pool_engines())
@pytest.mark.parametrize("explanation", EXPLANATIONS, ids=lambda e: e.fault)
def test_every_prior_is_proper(engine: str, explanation: object) -> None:
    branches = explanation.branches(pool_engine(engine))  # type: ignore[attr-defined]
    if branches:
        assert sum(b.share for b in branches) == pytest.approx(1.0)
        assert all(b.share >= 0 for b in branches)


def test_grids_cover_their_range_evenly() -> None:
    assert sum(share for _, share, _ in shift_grid()) == pytest.approx(1.0)
    assert sum(share for _, share, _ in elongation_grid(0.5, 1.8)) == pytest.approx(1.0)
    places = [place for place, _, _ in travel_grid(-50.0, 0.0)]
    assert min(places) > -50.0
    assert max(places) <= -numbers.SHIFT_MIN_DEG.value


def test_numbers_all_have_unit_meaning_and_source() -> None:
    for name, entry in numbers.table().items():
        assert entry.meaning, name
        assert entry.source, name


def test_prior_chances_sum_to_one_where_there_is_no_sync_drive() -> None:
    own = ("PRIOR_SYNC", *(name for name in numbers.table() if "FACTOR" in name))
    total = sum(e.value for name, e in numbers.table().items() if name.startswith("PRIOR_") and name not in own)
    assert total == pytest.approx(1.0)


@pytest.mark.parametrize("seed", range(80, 92))
def test_healthy_engines_with_edges_off_by_a_degree_stay_closed(seed: int) -> None:
    """Profile edges off by half a degree (up to a degree and more), uneven teeth: still nothing behind the covers."""
    rough = Nuisances(tooth_deg=0.1, cam_jitter_deg=0.2, profile_edge_deg=0.5)
    analysis = analysed(bench_recording(FOUR, seed, nuisances=rough))
    assert probabilities(analysis)["none"] > 0.5
    assert analysis.verdict.teardown == "no"


def scattered(engine: str) -> EngineProfile:
    """A profile of another engine on the same crank wheel: its cam edges stand elsewhere."""
    known = pool_engine(engine)
    cams = []
    for cam in known.cams:
        edges = [e.model_copy(update={"deg": (e.deg + 25.0 * i) % 720.0}) for i, e in enumerate(cam.edges)]
        cams.append(cam.model_copy(update={"edges": edges}))
    return known.model_copy(update={"cams": cams})


def test_edges_of_another_pattern_mean_a_wrong_profile() -> None:
    verdict = analysed(bench_recording(FOUR, 73), engine=scattered(FOUR)).verdict
    assert verdict.faults[0].fault == "reference_wrong"
    assert verdict.faults[0].probability < 0.99, "a garbled signal looks the same"
    assert any("do not follow the profile's pattern" in text for text in verdict.faults[0].for_)
    assert verdict.teardown == "confirm_first"
    assert "profile" in verdict.teardown_because
    assert verdict.next_test is not None
    assert verdict.next_test.test in ("profile_check", "wiring")


def test_another_wheel_means_a_wrong_profile() -> None:
    verdict = analysed(bench_recording(COARSE_FOUR, 74), engine=FOUR).verdict
    assert verdict.faults[0].fault == "reference_wrong"
    assert any("looks like 36-1" in text for text in verdict.faults[0].for_)
    assert verdict.teardown == "confirm_first"
