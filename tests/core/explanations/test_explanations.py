"""What each explanation predicts for the cam signals, the valves and the crank wheel: the table of the trade."""

from __future__ import annotations

import pytest

from phasko.core import numbers
from phasko.core.documents import EngineProfile
from phasko.core.evidence import EVIDENCE, Observable
from phasko.core.explanations import EXPLANATIONS, Branch, Explanation
from tests.builders import COARSE_FOUR, FOUR, SIX, pool_engine

CAM_PHASE = next(kind for kind in EVIDENCE if kind.name == "cam_phase")
SPACING = next(kind for kind in EVIDENCE if kind.name == "edge_spacing")


def explanation(fault: str) -> Explanation:
    return next(e for e in EXPLANATIONS if e.fault == fault)


def branches(fault: str, engine: str | EngineProfile = FOUR) -> tuple[Branch, ...]:
    return explanation(fault).branches(pool_engine(engine) if isinstance(engine, str) else engine)


def signal_deg(branch: Branch, cam: str) -> float:
    """What the signal of a cam reads in the wheel frame under that branch."""
    return CAM_PHASE.predict(Observable("cam_phase", cam, 0.0, 0.1, {}, "", cam), branch.state).mean


def test_every_fault_of_the_list_is_there_once() -> None:
    names = [e.fault for e in EXPLANATIONS]
    assert len(names) == len(set(names))
    assert {"none", "reference_wrong", "something_else"} <= set(names)


def test_only_what_is_behind_the_covers_needs_them_off() -> None:
    behind = {e.fault for e in EXPLANATIONS if e.needs_covers_off}
    assert behind == {"chain_jumped", "chain_stretched", "cam_slipped"}


def test_health_moves_nothing() -> None:
    (only,) = branches("none")
    assert signal_deg(only, "B1I") == 0.0
    assert only.share == 1.0


def test_a_jump_at_the_crank_moves_valves_and_signals_of_all_cams_alike() -> None:
    whole = [b for b in branches("chain_jumped") if len(b.place.cams) == 2]
    assert {round(b.pitches or 0) for b in whole} == {-3, -2, -1, 1, 2, 3}
    for branch in whole:
        expected = (branch.pitches or 0) * 360 / 21
        assert signal_deg(branch, "B1I") == signal_deg(branch, "B1E") == pytest.approx(expected)
        assert branch.state.valves_deg["B1I"] == pytest.approx(expected)
        assert branch.state.crank_wheel_deg == 0.0


def test_a_jump_at_one_cam_leaves_the_other() -> None:
    single = [b for b in branches("chain_jumped") if b.place.cams == ("B1E",)]
    assert single
    assert all(signal_deg(b, "B1I") == 0.0 for b in single)
    assert all(signal_deg(b, "B1E") != 0.0 for b in single)


def test_late_jumps_are_likelier_than_early_ones() -> None:
    late = sum(b.share for b in branches("chain_jumped") if (b.amount_deg or 0) > 0)
    assert late == pytest.approx(numbers.JUMP_LATE_SHARE.value)


@pytest.mark.parametrize("bank", [1, 2])
def test_a_bank_can_jump_alone(bank: int) -> None:
    of_bank = [b for b in branches("chain_jumped", SIX) if b.place.bank == bank and len(b.place.cams) == 2]
    other = 3 - bank
    assert of_bank
    assert all(signal_deg(b, f"B{bank}I") == signal_deg(b, f"B{bank}E") != 0.0 for b in of_bank)
    assert all(signal_deg(b, f"B{other}I") == 0.0 for b in of_bank)


@pytest.mark.parametrize("engine", [FOUR, COARSE_FOUR])
def test_stretch_is_late_and_more_on_the_longer_run(engine: str) -> None:
    drive = pool_engine(engine).drive
    assert drive is not None
    ratio = drive.free_links["B1I"] / drive.free_links["B1E"]
    for branch in branches("chain_stretched", engine):
        intake, exhaust = signal_deg(branch, "B1I"), signal_deg(branch, "B1E")
        assert intake > 0
        assert intake / exhaust == pytest.approx(ratio)


def test_a_slipped_cam_takes_its_valves_and_a_moved_wheel_does_not() -> None:
    for slipped in branches("cam_slipped"):
        cam = slipped.place.cams[0]
        assert slipped.state.valves_deg[cam] == pytest.approx(signal_deg(slipped, cam))
    for moved in branches("cam_signal_shifted"):
        cam = moved.place.cams[0]
        assert moved.state.valves_deg.get(cam, 0.0) == 0.0
        assert moved.state.cam_signals_deg[cam] == pytest.approx(signal_deg(moved, cam))


def test_a_late_crank_wheel_reads_every_cam_early() -> None:
    for branch in branches("crank_signal_shifted", SIX):
        late = branch.state.crank_wheel_deg
        assert branch.amount_deg == late
        assert {signal_deg(branch, cam) for cam in ("B1I", "B1E", "B2I", "B2E")} == {-late}
        assert not branch.state.valves_deg


def test_a_phaser_goes_only_where_it_has_authority() -> None:
    """Parked late with 50 degrees: never late of park, never further than its range."""
    found = branches("phaser_off_park")
    assert {b.place.cams for b in found} == {("B1I",)}
    for branch in found:
        away = signal_deg(branch, "B1I")
        assert -50.0 <= away <= 0.0


def test_engines_without_phasers_have_no_phaser_fault() -> None:
    known = pool_engine(FOUR)
    fixed = known.model_copy(update={"cams": [cam.model_copy(update={"phaser": None}) for cam in known.cams]})
    assert branches("phaser_off_park", fixed) == ()


def test_a_wrong_crank_edge_is_a_tooth_width_for_all() -> None:
    edges = [b for b in branches("reference_wrong") if b.amount_deg is not None]
    assert sorted(signal_deg(b, "B1I") for b in edges) == [-3.0, 3.0]
    assert all(signal_deg(b, "B1I") == signal_deg(b, "B1E") for b in edges)


def test_only_a_wrong_target_changes_the_spacing() -> None:
    contrast = Observable("edge_spacing", "B1I:0", 0.0, 0.5, {}, "", "B1I")
    may = {
        e.fault
        for e in EXPLANATIONS
        for b in e.branches(pool_engine(FOUR))
        if SPACING.predict(contrast, b.state).open_factors
    }
    assert may == {"reference_wrong", "something_else"}


def test_a_geared_cam_hardly_jumps() -> None:
    geared = pool_engine("ostrin-1.6-distributor")
    jumped = explanation("chain_jumped")
    assert jumped.prior(geared) == pytest.approx(0.1 * jumped.prior(pool_engine(FOUR)))


@pytest.mark.parametrize("engine", [FOUR, SIX])
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


def test_signals_alone_are_never_the_second_kind() -> None:
    assert not any(kind.opens_covers for kind in EVIDENCE)
