"""Against published metrology and statistics. Values marked (memory) were written down from memory of the source."""

import math

import numpy as np
import pytest
from scipy import stats
from scipy.interpolate import PchipInterpolator, make_interp_spline
from scipy.stats import median_abs_deviation

from phasko.bench import Shift
from phasko.core.call.hypotheses import single_hypotheses, tabled
from phasko.core.call.likelihood import likelihood
from phasko.core.call.posterior import Judgement
from phasko.core.call.technician_tests import TESTS, Target
from phasko.core.call.test_choice import expected_information
from phasko.core.crank.clock import ClockSetting, crank_clock
from phasko.core.crank.tooth_count import count_teeth
from phasko.core.engine.firing_ripple import firing_ripple
from phasko.core.evidence import NUMBER_KINDS, JobEvidence, Observed
from phasko.core.phase.offset_statistics import offset_of_cycles
from phasko.core.signals.levels import state_levels
from phasko.core.signals.switching import hysteresis_edges
from phasko.core.uncertainty import NORMAL_95, combine_u95, robust_sd, t_factor
from tests.builders import FOUR, bench_recording, pool_engine, profile
from trials.measurements import measure_capture


@pytest.mark.parametrize(
    ("freedom", "factor"),
    [
        (1, 12.71),
        (2, 4.30),
        (3, 3.18),
        (4, 2.78),
        (5, 2.57),
        (7, 2.36),
        (10, 2.23),
        (20, 2.09),
        (50, 2.01),
        (100, 1.984),
    ],
)
def test_t_factors(freedom: int, factor: float) -> None:
    """JCGM 100:2008 (GUM), table G.2, column 95 % (memory); printed to three digits."""
    assert t_factor(freedom) == pytest.approx(factor, abs=0.006)


def test_t_factors_of_two_standard_deviations() -> None:
    """JCGM 100:2008, table G.2, column 95.45 % (memory)."""
    for freedom, factor in ((1, 13.97), (3, 3.31), (10, 2.28)):
        assert t_factor(freedom, 0.9545) == pytest.approx(factor, abs=0.01)


def test_effective_degrees_of_freedom_of_the_end_gauge() -> None:
    """JCGM 100:2008, H.1.6 (memory): 25 nm (18 degrees), 9.7 (25.6), 2.9 (50), 16.6 (2) give 32 nm, 16.7."""
    terms = [(25.0, 18.0), (9.7, 25.6), (2.9, 50.0), (16.6, 2.0)]
    combined = math.sqrt(sum(u * u for u, _ in terms))
    assert combined == pytest.approx(32.0, abs=0.5)
    assert combine_u95(terms) == pytest.approx(stats.t.ppf(0.975, 16.7) * combined, rel=2e-3)


def test_known_terms_combine_by_the_normal_factor() -> None:
    assert combine_u95([(3.0, math.inf), (4.0, math.inf)]) == pytest.approx(5 * NORMAL_95)


def test_the_mean_of_cycles_covers_like_students_interval() -> None:
    """Gosset's promise, counted: 95 in 100 of 4000 means of six cycles lie within t times s over root n."""
    rng = np.random.default_rng(4)
    inside = 0
    for _ in range(4000):
        values = rng.normal(0.0, 0.3, 6)
        found = offset_of_cycles(values, np.zeros(6, np.int64), np.arange(6), 60.0 * np.arange(6), 1, 1e-9)
        inside += abs(found.mean) <= combine_u95([(found.random_sd, found.random_dof)])
    assert inside / 4000 == pytest.approx(0.95, abs=0.012)


def test_the_error_of_a_mean_is_scipys() -> None:
    values = np.random.default_rng(5).normal(1.0, 0.2, 9)
    found = offset_of_cycles(values, np.zeros(9, np.int64), np.arange(9), 60.0 * np.arange(9), 1, 1e-9)
    assert found.random_sd == pytest.approx(float(stats.sem(values)))
    assert found.random_dof == 8


def test_the_middle_of_a_transition_is_half_way() -> None:
    """IEEE 181-2011, 5.3: reference level instants by linear interpolation at 50 % between the two state levels."""
    rise = np.interp(np.arange(400), [150.0, 250.0], [1.0, 3.0]).astype(np.float32)
    levels = state_levels(rise)
    assert levels is not None
    assert levels.at(0.5) == pytest.approx(2.0, abs=0.02)
    assert hysteresis_edges(rise, levels)[0][0] == pytest.approx(200.0, abs=1.0)


def swung_teeth() -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """Times and angles of a 60-2 wheel whose speed swings by a tenth, and the fine truth."""
    fine = np.arange(0.0, 8 * 360.0, 0.02)
    slowness = 1.0 / (1200.0 * (1 + 0.1 * np.cos(np.radians(2 * fine))))
    time = np.concatenate([[0.0], np.cumsum(0.01 * (slowness[1:] + slowness[:-1]))])
    angles = np.array([a + 360.0 * k for k in range(8) for a in profile().crank.wheel.angles_deg])
    return np.interp(angles, fine, time), angles, time, fine


def test_the_clock_is_scipys_spline() -> None:
    """Against scipy.interpolate.make_interp_spline (another construction of the same not-a-knot cubic)."""
    times, angles, _, _ = swung_teeth()
    known = profile(crank__index_deg=0.0)
    piece = crank_clock(
        times, count_teeth(times, known.crank.wheel), known.crank.wheel, ClockSetting(0.0, firing_ripple(known))
    ).pieces[0]
    at = np.linspace(times[4], times[-4], 4000)
    ours = piece.angle_deg(at) - piece.angles_deg[0]
    assert ours == pytest.approx(make_interp_spline(times, angles - angles[0], k=3)(at), abs=1e-6)


def test_a_smooth_spline_crosses_the_gap_where_a_shape_preserving_one_does_not() -> None:
    """Fritsch and Carlson's monotone cubic (SciPy's PCHIP) bends at the gap; the smooth one does not."""
    times, angles, fine_t, fine = swung_teeth()
    at = np.linspace(times[58 * 3 - 1], times[58 * 3], 200)
    truth = np.interp(at, fine_t, fine)
    smooth = np.abs(make_interp_spline(times, angles, k=3)(at) - truth).max()
    shaped = np.abs(PchipInterpolator(times, angles)(at) - truth).max()
    assert smooth < 0.005
    assert shaped > 3 * smooth


def test_the_likelihood_is_scipys_normal() -> None:
    """The explanation without parameters against scipy.stats.multivariate_normal with the same shared errors."""
    known = pool_engine(FOUR)
    capture = measure_capture(bench_recording(FOUR, 3, Shift({"B1I": 1.0, "B1E": 0.4})), known)
    observed = tuple(o for kind in NUMBER_KINDS for o in kind.observe(JobEvidence(known, [capture])).numbers)
    names = sorted({n for o in observed for n in o.factors})
    loads = np.array([[o.factors.get(n, 0.0) for n in names] for o in observed])
    # Compression of a sound engine is 1 at every cylinder, everything else 0.
    predicted = np.array([1.0 if o.kind == "compression" else 0.0 for o in observed])
    full = np.diag([max(o.own_sd, 1e-3) ** 2 for o in observed]) + loads @ loads.T
    expected = stats.multivariate_normal(predicted, full).logpdf([o.value for o in observed])
    sound = next(h for h in single_hypotheses(known).hypotheses if h.explanation.area == "health")
    found = likelihood(Observed(observed), tabled(known, [sound])).log_density()
    assert found[0] == pytest.approx(float(expected), abs=1e-6)


def test_a_look_tells_what_a_noisy_channel_carries() -> None:
    """Cover and Thomas 2006, section 7.1.4: a binary symmetric channel carries 1 - H(p) bits; a test errs 5 in 100."""
    known = pool_engine(FOUR)
    singles = single_hypotheses(known)
    hypotheses = singles.hypotheses
    jumped = next(i for i, h in enumerate(hypotheses) if h.explanation.fault == "chain_jumped")
    wrong = next(i for i, h in enumerate(hypotheses) if h.explanation.fault == "reference_wrong")
    chances = np.zeros(len(hypotheses))
    chances[[jumped, wrong]] = 0.5
    table = likelihood(Observed(), singles)
    judgement = Judgement(table, (), {}, {}, chances, chances)
    check = next(test for test in TESTS if test.test == "profile_check")
    entropy = -(0.05 * math.log2(0.05) + 0.95 * math.log2(0.95))
    bits = expected_information(check, judgement, [jumped, wrong], Target(known))
    assert bits == pytest.approx(1.0 - entropy, abs=1e-9)


@pytest.mark.parametrize("kind", [np.float32, np.float64])
def test_the_robust_deviation_is_scipys(kind: type) -> None:
    """Against scipy.stats.median_abs_deviation, about the median and about a given value."""
    values = np.random.default_rng(4).standard_t(2, 5001).astype(kind)
    assert robust_sd(values) == pytest.approx(median_abs_deviation(values, scale="normal"), rel=1e-6)
    shifted = np.concatenate([values, 0.5 - values])  # its median is 0.25
    about = median_abs_deviation(shifted, scale="normal")
    assert robust_sd(values, about=0.25) == pytest.approx(about, rel=1e-6)
