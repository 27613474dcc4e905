"""Edge times held against references from SciPy, with the angle of one sample beside the error.

References: band-limited resampling (``scipy.signal.resample_poly``), which reconstructs a signal between its samples,
and the zeros of a cubic spline (``scipy.interpolate.CubicSpline``).
"""

import numpy as np
import pytest
from scipy.interpolate import CubicSpline
from scipy.signal import butter, resample_poly, sosfiltfilt, square

from phasko.core.signals.inductive import inductive_edges
from phasko.core.signals.switching import switching_edges
from tests.builders import recording_of

RATE_HZ = 50_000.0
DEG_PER_SAMPLE = 6.0 * 200.0 / RATE_HZ
"""What one sample is worth at 200 rpm: 0.024 crank degrees."""


def smooth_square(phase: float) -> np.ndarray:
    """A square wave of 200 Hz whose edges are slowed to about a millisecond by a filter without delay."""
    t = np.arange(20_000) / RATE_HZ
    wave = 2.5 + 2.5 * square(2 * np.pi * 200.0 * t + phase)
    return np.asarray(sosfiltfilt(butter(4, 2_000.0, fs=RATE_HZ, output="sos"), wave))


@pytest.mark.parametrize("phase", [0.1, 0.77, 2.3])
def test_switching_edges_lie_where_the_resampled_signal_passes_half(phase: float) -> None:
    samples = smooth_square(phase).astype(np.float32)
    train = switching_edges(recording_of(samples, RATE_HZ).channels[0], recording_of(samples, RATE_HZ))
    assert train is not None
    fine = resample_poly(samples.astype(float), 64, 1)
    above = fine > 2.5
    crossed = np.flatnonzero(above[1:] != above[:-1])
    reference = (crossed + (2.5 - fine[crossed]) / (fine[crossed + 1] - fine[crossed])) / (64 * RATE_HZ)
    error = np.abs(train.times_s[4:-4, None] - reference[None, :]).min(axis=1)
    assert error.max() * RATE_HZ < 0.02, "samples"
    assert error.max() * RATE_HZ * DEG_PER_SAMPLE < 0.0005, "crank degrees, one sample being 0.024"


def test_inductive_crossings_lie_at_the_zeros_of_the_spline() -> None:
    """A sine of growing height, as of a wheel that gains speed: zeros of its cubic spline are the reference."""
    t = np.arange(30_000) / RATE_HZ
    phase = 2 * np.pi * (150.0 * t + 60.0 * t**2)
    samples = ((0.5 + t) * np.sin(phase) + 0.2).astype(np.float32)
    found = inductive_edges(recording_of(samples, RATE_HZ).channels[0], recording_of(samples, RATE_HZ))
    assert found is not None
    zeros = CubicSpline(t, samples.astype(float) - 0.2).roots(extrapolate=False)
    error = np.abs(found.train.times_s[4:-4, None] - zeros[None, :]).min(axis=1)
    assert np.median(error) * RATE_HZ < 0.05, "samples"
    assert np.median(error) * RATE_HZ * DEG_PER_SAMPLE < 0.0012, "crank degrees, one sample being 0.024"
