"""The firing ripple: which waves an engine has, and what a coarse wheel misses of them between its teeth."""

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy.interpolate import CubicSpline

from phasko.bench.pool import pool_engine
from phasko.core.crank.interpolation_error import thin_teeth
from phasko.core.cycle.cycle_half import CamPlace
from phasko.core.documents import EngineProfile
from phasko.core.engine.firing_ripple import firing_ripple
from phasko.core.phase.offset import cam_edges_in_piece, cam_offset
from phasko.core.signals.levels import Levels
from phasko.core.signals.switching import EdgeTrain
from tests.builders import clock_of, profile, without

Floats = NDArray[np.float64]
FOUR = profile()
TURNS = 12
SPEED_DEG_PER_S = 1200.0


def sizes(engine: EngineProfile) -> dict[int, float]:
    ripple = firing_ripple(engine)
    return dict(zip(ripple.per_cycle.astype(int).tolist(), ripple.sine.tolist(), strict=True))


def test_an_even_four_turns_unevenly_four_times_a_cycle() -> None:
    """And what its cylinders differ by shows between, the slower the wave the more."""
    found = sizes(FOUR)
    assert max((4, 8, 12, 16), key=found.__getitem__) == 4
    assert 0.03 < found[8] / found[4] < 0.5
    assert found[12] < found[8]
    assert found[3] < 0.2 * found[4]


def test_uneven_firing_has_waves_between() -> None:
    even, odd = sizes(pool_engine("brimholt-3.2-six")), sizes(pool_engine("brimholt-3.8-odd-six"))
    assert odd[3] / odd[6] > 4 * even[3] / even[6]


def test_without_an_index_no_place_is_known() -> None:
    ripple = firing_ripple(without(FOUR, index=True))
    assert ripple.sine == pytest.approx(ripple.cosine)
    assert firing_ripple(FOUR).cosine[3] == pytest.approx(0.5 * firing_ripple(FOUR).sine[3], rel=0.01)


def rippled(teeth: int, waves: Floats, engine: EngineProfile) -> tuple[Floats, Floats, NDArray[np.int64], CubicSpline]:
    """(times of the teeth, nominal angles, tooth, true angle over time) with ``waves`` of the engine's ripple."""
    fine = np.arange(0.0, TURNS * 360.0, 0.5)
    times = (fine - firing_ripple(engine).waves(fine) @ waves) / SPEED_DEG_PER_S
    number = np.arange(TURNS * teeth - 1)
    nominal = number * 360.0 / teeth
    return np.interp(nominal, fine, times), nominal, number % teeth, CubicSpline(times, fine)


@pytest.mark.parametrize(
    ("teeth", "missing", "sure"), [(4, 0, 0.6), (6, 1, 0.85), (8, 0, 0.85), (12, 0, 0.85), (24, 0, 0.85)]
)
def test_what_is_missed_between_teeth_is_what_is_said(teeth: int, missing: int, sure: float) -> None:
    """Twenty engines with other sizes and places of every wave: errors against what is said of them, at all angles. A
    wave that is zero at every tooth of few shows nothing of its size, and is then off by more than twice."""
    ratios = []
    for seed in range(20):
        waves = 3.0 * np.random.default_rng([seed, 8]).standard_normal(2 * firing_ripple(FOUR).per_cycle.size)
        waves /= np.linalg.norm(firing_ripple(FOUR).sine)
        times, nominal, tooth, truth = rippled(teeth, waves, FOUR)
        kept = tooth < teeth - missing
        said = thin_teeth(times[kept], nominal[kept], tooth[kept], firing_ripple(FOUR))
        at = np.arange(1080.0, 2520.0, 7.0)
        moments = np.interp(at, truth(truth.x), truth.x)
        off = CubicSpline(times[kept], nominal[kept])(moments) - at
        ratios.append(np.sqrt(np.mean(off**2) / np.mean(np.sum(said.missed_deg(at) ** 2, axis=1))))
    assert 0.5 < np.median(ratios) < 1.5
    assert np.mean(np.array(ratios) < 2.0) >= sure


def test_edges_a_firing_apart_share_what_is_missed() -> None:
    """Two teeth to a firing: edges 180 degrees apart are off alike, nothing averages out."""
    times, nominal, tooth, _ = rippled(4, 2.0 * np.ones(2 * firing_ripple(FOUR).per_cycle.size), FOUR)
    missed = thin_teeth(times, nominal, tooth, firing_ripple(FOUR)).missed_deg(np.array([40.0, 220.0, 400.0, 580.0]))
    alone = np.sqrt(np.sum(missed**2, axis=1)).mean()
    assert np.linalg.norm(missed.mean(axis=0)) > 0.9 * alone


def test_two_teeth_show_nothing_of_the_ripple() -> None:
    """With one tooth hidden nothing is left: the error halfway between is what the table says of the unknown."""
    times, nominal, tooth, _ = rippled(2, np.zeros(2 * firing_ripple(FOUR).per_cycle.size), FOUR)
    missed = thin_teeth(times, nominal, tooth, firing_ripple(FOUR)).missed_deg(np.array([90.0, 270.0]))
    assert np.sqrt(np.mean(np.sum(missed**2, axis=1))) == pytest.approx(3.0, rel=0.05)


@pytest.mark.parametrize("seed", range(4))
def test_edges_that_disagree_widen_what_teeth_did_not_show(seed: int) -> None:
    """A ripple that is zero at all four teeth: only the cam's own edges, far from where they should be, betray it."""
    four = pool_engine("corvane-2.1-four").model_dump(by_alias=True, exclude_none=True)
    crank = {**four["crank"], "wheel": {"slots": 4}, "index_deg": 0.0, "tooth_deg": 8.0}
    engine = EngineProfile.model_validate({**four, "crank": crank})
    parts = firing_ripple(engine).per_cycle.size
    size = np.random.default_rng(seed).uniform(1.0, 6.0)
    waves = np.zeros(2 * parts)
    waves[3] = size / firing_ripple(engine).sine[3]
    fine = np.arange(0.0, 7200.0, 0.5)
    times = (fine - firing_ripple(engine).waves(fine) @ waves) / SPEED_DEG_PER_S
    teeth = np.interp(np.arange(0.0, 7000.0, 90.0), fine, times)
    piece = clock_of(engine, teeth, 0.0).pieces[0]
    cam = engine.cams[1]
    place = np.array([edge.deg for edge in cam.edges])
    at = np.sort((place[:, None] + 720.0 * np.arange(1, 9)).ravel())
    moments = np.interp(at, fine, times)
    rising = np.array([cam.edges[int(np.argmin(abs(place - a % 720.0)))].kind == "rising" for a in at])
    train = EdgeTrain("c2", moments, rising, Levels(0.0, 5.0, 0.0), 1e-5)
    found = cam_offset(cam_edges_in_piece(train, piece, cam, CamPlace(0.0, 0.0, 0.0, None), 0), cam, 1.0)
    assert found is not None
    off = (found.offset.value + 45.0) % 90.0 - 45.0
    assert 0.2 * found.offset.u95 < abs(off) < found.offset.u95


def test_a_tooth_that_is_never_seen_is_no_tooth_at_zero() -> None:
    times, nominal, tooth, _ = rippled(8, 2.0 * np.ones(2 * firing_ripple(FOUR).per_cycle.size), FOUR)
    kept = tooth != 5
    said = thin_teeth(times[kept], nominal[kept], tooth[kept], firing_ripple(FOUR))
    beside, far = (np.sum(said.missed_deg(np.array([at])) ** 2) for at in (225.0, 22.0))
    assert beside > 2 * far > 0.0


def test_a_wheel_with_two_teeth_has_a_clock() -> None:
    engine = profile(crank__wheel={"slots": 2})
    piece = clock_of(engine, np.arange(40) * 0.15, 0.0).pieces[0]
    assert np.isfinite(piece.place_sd_deg(np.array([720.0 + 90.0]))).all()
    assert piece.place_sd_deg(np.array([720.0 + 90.0]))[0] > 1.0
