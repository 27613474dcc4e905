"""Figures from elsewhere as angles: every way of counting gives the same place."""

from __future__ import annotations

from typing import Any

import pytest

from phasko.core import numbers
from phasko.core.documents.job import Figure
from phasko.core.errors import RefusedError
from phasko.core.standards import figure_place
from tests.builders import FOUR, pool_engine, without

ENGINE = pool_engine(FOUR)
"""A 60-2 wheel: teeth 1 to 58 every 6 degrees, then two missing; index 276 degrees after TDC 1."""


def place(**said: Any) -> tuple[float, float]:
    found = figure_place(Figure(cam="B1I", **said), ENGINE)
    return found.after_tooth_1_deg, found.u95_deg


@pytest.mark.parametrize(
    ("said", "expected_deg"),
    [
        ({"form": "teeth", "value": 23.5}, 141.0),
        ({"form": "teeth", "value": 36.5, "side": "before"}, 141.0),
        ({"form": "teeth", "value": 23.5, "counted": False}, 141.0),
        ({"form": "teeth", "value": 34.5, "side": "before", "counted": False}, 141.0),
        ({"form": "between", "value": 24.5}, 141.0),
        ({"form": "degrees", "value": 141.0}, 141.0),
        ({"form": "tdc_degrees", "value": 57.0}, 141.0),
        ({"form": "picture", "value": 39.1666667, "from_mark": 0, "to_mark": 100, "reading": 0.5}, 141.0),
        ({"form": "picture", "value": 312.5, "from_mark": 900, "to_mark": -600, "reading": 2.0}, 141.0),
        ({"form": "between", "value": 58.5}, 351.0),
        ({"form": "teeth", "value": 1.0, "side": "before", "counted": False}, 342.0),
        ({"form": "teeth", "value": 1.0, "side": "before"}, 354.0),
    ],
)
def test_every_way_of_counting(said: dict[str, Any], expected_deg: float) -> None:
    """Tooth 24.5 is the middle between teeth 24 and 25, 23.5 pitches after tooth 1; over the gap one place is 18
    degrees. Backwards from tooth 1 the first tooth that is there is number 58, 18 degrees before it."""
    assert place(**said)[0] == pytest.approx(expected_deg, abs=0.01)


def test_a_figure_is_as_sure_as_its_last_place() -> None:
    assert place(form="teeth", value=23)[1] == pytest.approx(0.5 * 6.0)
    assert place(form="teeth", value=23.5)[1] == pytest.approx(0.05 * 6.0)
    assert place(form="degrees", value=141)[1] == pytest.approx(0.5)
    assert place(form="degrees", value=141, u95=2.0)[1] == 2.0


def test_a_picture_is_as_sure_as_its_ruler() -> None:
    """Half a millimetre on a turn 40 mm long is 4.5 degrees; at a share of 0.25 the three readings together make
    sqrt(1 + 0.0625 + 0.5625) times that."""
    at_gap = place(form="picture", value=0.0, from_mark=0, to_mark=40, reading=0.5)[1]
    quarter = place(form="picture", value=10.0, from_mark=0, to_mark=40, reading=0.5)[1]
    assert at_gap == pytest.approx(4.5 * 2**0.5, rel=0.01)
    read = 4.5 * (1 + 0.25**2 + 0.75**2) ** 0.5
    assert quarter == pytest.approx((read**2 + numbers.PICTURE_SWING_U95_DEG.value**2) ** 0.5, rel=0.01)


def test_what_the_profile_lacks_is_asked_for() -> None:
    teeth = Figure(cam="B1I", form="teeth", value=3)
    with pytest.raises(RefusedError, match="does not describe the crank wheel"):
        figure_place(teeth, without(ENGINE, wheel=True))
    with pytest.raises(RefusedError, match="no index"):
        figure_place(Figure(cam="B1I", form="tdc_degrees", value=3), without(ENGINE, index=True))
    with pytest.raises(RefusedError, match="regular pitch"):
        figure_place(teeth, pool_engine("quayle-5.0-eight"))


@pytest.mark.parametrize("said", [{"value": 1.0}, {"value": 1, "from_mark": 2, "to_mark": 2, "reading": 1}])
def test_a_picture_needs_two_gaps(said: dict[str, Any]) -> None:
    with pytest.raises(ValueError, match="gap"):
        Figure(cam="B1I", form="picture", **said)
