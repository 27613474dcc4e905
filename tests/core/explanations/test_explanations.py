"""What each explanation predicts for the cam signals, the valves and the crank wheel: the table of the trade."""

from __future__ import annotations

import pytest

from phasko.core import numbers
from phasko.core.documents import EngineProfile
from phasko.core.engine.state_table import StateTable
from phasko.core.evidence import NUMBER_KINDS, WORD_KINDS, Observable, Word
from phasko.core.evidence.cylinder_compression import pressed
from phasko.core.explanations import EXPLANATIONS, Branch, Explanation
from tests.builders import COARSE_FOUR, FOUR, SIX, pool_engine

KINDS = {kind.name: kind for kind in NUMBER_KINDS}
WORDS = {kind.name: kind for kind in WORD_KINDS}
DISTRIBUTOR = "ostrin-1.6-distributor"
DIESEL = "corvane-2.2-diesel"
BEHIND_COVERS = {
    "chain_jumped",
    "chain_stretched",
    "cam_slipped",
    "crank_sprocket_slipped",
    "crank_hub_slipped",
    "drive_broken",
}


def explanation(fault: str) -> Explanation:
    return next(e for e in EXPLANATIONS if e.fault == fault)


def branches(fault: str, engine: str | EngineProfile = FOUR) -> tuple[Branch, ...]:
    return explanation(fault).branches(pool_engine(engine) if isinstance(engine, str) else engine)


def signal_deg(branch: Branch, cam: str) -> float:
    """What the signal of a cam reads in the wheel frame under that branch."""
    observable = Observable("cam_phase", cam, 0.0, 0.1, {}, "", cam)
    states = StateTable(pool_engine(FOUR), (branch.state,))
    return float(KINDS["cam_phase"].predict([observable], states).means[0, 0])


def test_every_fault_of_the_contract_is_there_once() -> None:
    from typing import get_args

    from phasko.core.documents.analysis import FaultName

    assert sorted(e.fault for e in EXPLANATIONS) == sorted(get_args(FaultName))


def test_only_what_is_behind_the_covers_needs_them_off() -> None:
    behind = {e.fault for e in EXPLANATIONS for b in e.branches(pool_engine(SIX)) if b.covers_off}
    assert behind == BEHIND_COVERS


def test_health_moves_nothing_and_wear_within_the_limit_is_health() -> None:
    sound, *worn = branches("none")
    assert signal_deg(sound, "B1I") == 0.0
    for branch in worn:
        assert 0.0 < signal_deg(branch, "B1I") <= 5.0
        assert branch.place.title == "Timing drive worn, within its limits"


def test_a_jump_at_the_crank_moves_valves_and_signals_of_all_cams_alike() -> None:
    whole = [b for b in branches("chain_jumped") if len(b.place.cams) == 2]
    assert {-7, -1, 1, 2, 7} <= {round(b.pitches or 0) for b in whole}
    for branch in whole:
        expected = (branch.pitches or 0) * 360 / 21
        assert signal_deg(branch, "B1I") == signal_deg(branch, "B1E") == pytest.approx(expected)
        assert branch.state.valves_of("B1I") == pytest.approx(expected)
        assert branch.state.crank_wheel_deg == 0.0


def test_a_jump_at_one_cam_leaves_the_other() -> None:
    single = [b for b in branches("chain_jumped") if b.place.cams == ("B1E",)]
    assert single
    assert all(signal_deg(b, "B1I") == 0.0 and signal_deg(b, "B1E") != 0.0 for b in single)


def test_late_jumps_are_likelier_than_early_ones() -> None:
    late = sum(b.share for b in branches("chain_jumped") if (b.amount_deg or 0) > 0)
    assert late == pytest.approx(numbers.JUMP_LATE_SHARE.value)


@pytest.mark.parametrize("bank", [1, 2])
def test_a_bank_can_jump_alone_and_takes_its_cylinders_along(bank: int) -> None:
    of_bank = [b for b in branches("chain_jumped", SIX) if b.place.bank == bank and len(b.place.cams) == 2]
    other = 3 - bank
    assert all(signal_deg(b, f"B{bank}I") == signal_deg(b, f"B{bank}E") != 0.0 for b in of_bank)
    assert all(signal_deg(b, f"B{other}I") == 0.0 for b in of_bank)
    engine = pool_engine(SIX)
    far = next(b for b in of_bank if b.pitches == 7.0)
    made = pressed(far.state, engine)
    assert all(made[c] < 0.2 for c in engine.whole_bank(bank))
    assert all(made[c] == 1.0 for c in engine.whole_bank(other))


@pytest.mark.parametrize("engine", [FOUR, COARSE_FOUR])
def test_stretch_is_late_more_on_the_longer_run_and_beyond_the_limit(engine: str) -> None:
    drive = pool_engine(engine).drive
    assert drive is not None
    ratio = drive.free_links["B1I"] / drive.free_links["B1E"]
    for branch in branches("chain_stretched", engine):
        intake, exhaust = signal_deg(branch, "B1I"), signal_deg(branch, "B1E")
        assert intake > 5.0
        assert intake / exhaust == pytest.approx(ratio)


def test_a_slipped_cam_takes_its_valves_and_a_moved_wheel_does_not() -> None:
    for slipped in branches("cam_slipped"):
        cam = slipped.place.cams[0]
        assert slipped.state.valves_of(cam) == pytest.approx(signal_deg(slipped, cam))
    for moved in branches("cam_signal_shifted"):
        cam = moved.place.cams[0]
        assert moved.state.valves_of(cam) == 0.0
        assert moved.state.cam_signals_deg[cam] == pytest.approx(signal_deg(moved, cam))


def test_several_cams_may_be_set_wrong_each_by_its_own_amount() -> None:
    apart = [b for b in branches("cam_slipped", SIX) if b.state.unknown_valves_sd_deg]
    assert {b.place.cams for b in apart} == {("B1I", "B1E"), ("B2I", "B2E"), ("B1I", "B1E", "B2I", "B2E")}


def test_a_late_crank_wheel_reads_every_cam_early_a_slipped_sprocket_late_and_a_hub_not_at_all() -> None:
    cams = ("B1I", "B1E", "B2I", "B2E")
    for branch in branches("crank_signal_shifted", SIX):
        assert {signal_deg(branch, cam) for cam in cams} == {-(branch.amount_deg or 0.0)}
        assert not branch.state.valves_of("B1I")
    for branch in branches("crank_sprocket_slipped", SIX):
        assert {signal_deg(branch, cam) for cam in cams} == {branch.amount_deg}
        assert branch.state.valves_of("B1I") == branch.amount_deg
    for branch in branches("crank_hub_slipped", SIX):
        assert {signal_deg(branch, cam) for cam in cams} == {0.0}
        assert branch.state.valves_of("B1I") == branch.amount_deg


def test_a_phaser_goes_only_where_it_has_authority() -> None:
    """Parked late with 50 degrees: never late of park, never further than its range."""
    found = branches("phaser_off_park")
    assert {b.place.cams for b in found} == {("B1I",)}
    off_park = [b for b in found if b.state.phaser_deg]
    assert all(-50.0 <= b.state.phaser_deg["B1I"] <= 0.0 for b in off_park)
    assert [b.amount_deg for b in found if b not in off_park] == [0.0]


def test_none_is_offered_where_it_cannot_be() -> None:
    known = pool_engine(FOUR)
    fixed = known.model_copy(update={"cams": [cam.model_copy(update={"phaser": None}) for cam in known.cams]})
    assert branches("phaser_off_park", fixed) == ()
    assert branches("chain_jumped", DISTRIBUTOR) == ()
    assert branches("chain_stretched", DISTRIBUTOR) == ()
    assert branches("tensioner_slack", DISTRIBUTOR) == ()
    assert branches("sync_misadjusted", FOUR) == ()
    assert branches("ignition_mistimed", DIESEL) == ()
    assert branches("sync_misadjusted", DISTRIBUTOR)


def test_a_distributor_takes_the_spark_along() -> None:
    for branch in branches("sync_misadjusted", DISTRIBUTOR):
        assert branch.state.spark_deg == branch.amount_deg
        assert branch.state.valves_of("CAM") == 0.0


def test_a_broken_drive_predicts_flat_cams_and_a_spark_that_may_be_right() -> None:
    broken = branches("drive_broken")[0]
    health = WORDS["signals"]
    flat, whole = (Word("signals", "B1I", "B1I", answer, "") for answer in ("lost", "whole"))
    engine = pool_engine(FOUR)
    assert health.chance(flat, broken.state, engine) > 20 * health.chance(whole, broken.state, engine)
    crank = Word("signals", "crank", "crank", "whole", "")
    assert health.chance(crank, broken.state, engine) > 0.9
    assert broken.state.spark_deg == 0.0


def test_cylinders_under_standing_cams_press_or_do_not() -> None:
    """Of six cylinders each compresses or does not, by where the cams have come to rest; and never all."""
    engine = pool_engine(SIX)
    sets = [b for b in branches("drive_broken", SIX) if not b.state.unknown_seal_sd]
    assert sum(b.share for b in branches("drive_broken", SIX)) == pytest.approx(1.0)
    for branch in sets:
        assert {*pressed(branch.state, engine).values()} <= {0.0, 1.0}
        assert min(pressed(branch.state, engine).values()) == 0.0


def test_a_valve_that_stands_still_predicts_a_missing_hump_and_its_pulse() -> None:
    engine = pool_engine(FOUR)
    still = next(b for b in branches("valve_train") if b.state.still == {3: "intake"})
    assert pressed(still.state, engine)[3] == 0.0
    pulses = WORDS["pulses"]
    odd = Word("pulses", "0", "pulses", "odd", "", cylinder=3)
    assert pulses.chance(odd, still.state, engine) > 10 * pulses.chance(odd, branches("none")[0].state, engine)


def test_a_wrong_crank_edge_is_a_tooth_width_for_all() -> None:
    edges = [b for b in branches("reference_wrong") if b.amount_deg is not None]
    assert sorted(signal_deg(b, "B1I") for b in edges) == [-3.0, 3.0]
    assert all(signal_deg(b, "B1I") == signal_deg(b, "B1E") for b in edges)


def test_only_a_wrong_target_and_cams_that_nothing_drives_change_the_spacing() -> None:
    contrast = Observable("edge_spacing", "B1I:0", 0.0, 0.5, {}, "", "B1I")
    may = {
        e.fault
        for e in EXPLANATIONS
        for b in e.branches(pool_engine(FOUR))
        if KINDS["edge_spacing"].predict([contrast], StateTable(pool_engine(FOUR), (b.state,))).open_sd.any()
    }
    assert may == {"reference_wrong", "something_else", "drive_broken"}


@pytest.mark.parametrize("engine", [FOUR, SIX, DISTRIBUTOR])
@pytest.mark.parametrize("fault", [e.fault for e in EXPLANATIONS])
def test_titles_are_sentences_a_person_says(fault: str, engine: str) -> None:
    known = explanation(fault)
    for branch in branches(fault, engine)[:40]:
        title = known.title(branch.place, branch.amount_deg, branch.pitches)
        assert title[0].isupper()
        assert not title.endswith(".")
        assert "None" not in title
        assert "_" not in title
    assert known.hint.endswith(".")


@pytest.mark.parametrize("fault", sorted(BEHIND_COVERS))
def test_what_lies_behind_the_covers_says_what_is_seen_there_and_what_proves_it_false(fault: str) -> None:
    known, engine = explanation(fault), pool_engine(SIX)
    branch = branches(fault, SIX)[0]
    opened = known.opened(engine, branch.place, branch.amount_deg, branch.pitches)
    assert opened is not None
    assert opened.see.endswith(".")
    assert opened.false_if.endswith(".")
    assert opened.together


def test_a_jump_says_which_mark_how_far_in_teeth_and_degrees_and_which_way() -> None:
    known, engine = explanation("chain_jumped"), pool_engine(FOUR)
    branch = next(b for b in branches("chain_jumped") if b.place.cams == ("B1E",) and b.pitches == 1.0)
    opened = known.opened(engine, branch.place, branch.amount_deg, branch.pitches)
    assert opened is not None
    for words in (
        "crank on its own mark",
        "mark of the exhaust cam",
        "17°",
        "9° at the cam",
        "1.0 sprocket teeth",
        "behind",
    ):
        assert words in opened.see
