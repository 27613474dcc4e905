"""What states predict for the cylinders is taken over the same ones as the measurement."""

import numpy as np
import pytest

from phasko.core.compression.separation import found_healthy
from phasko.core.engine.state import EngineState
from phasko.core.engine.state_table import StateTable
from phasko.core.evidence.cylinder_compression import CylinderCompressionKind
from phasko.core.evidence.observable import Observable
from tests.builders import pool_engine


def seen(cylinder: int, value: float) -> Observable:
    return Observable("compression", f"0:0:{cylinder}", value, 0.02, {}, "", cylinder=cylinder)


@pytest.mark.parametrize(
    ("pressures", "healthy"),
    [
        ([1.0, -0.01, 0.034], [True, False, False]),
        ([1.0, 0.6, 0.2], [True, True, False]),
        ([1.0, 0.98, 1.02], [True, True, True]),
    ],
)
def test_where_one_alone_seals_it_is_the_measure(pressures: list[float], healthy: list[bool]) -> None:
    assert found_healthy(np.array(pressures)).tolist() == healthy


def test_one_cylinder_alone_under_a_broken_drive_is_what_is_expected() -> None:
    """Noise of 3 % beside it once made two cylinders the measure, and the true state was contradicted by itself."""
    engine = pool_engine("pellowe-1.0-triple")
    states = StateTable(engine, (EngineState(cams_turn=False, seal={1: 1.0, 2: 0.0, 3: 0.0}),))
    found = CylinderCompressionKind().predict([seen(1, 1.0), seen(2, -0.01), seen(3, 0.034)], states)
    assert found.means[0] == pytest.approx([1.0, 0.0, 0.0])
