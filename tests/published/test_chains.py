"""Chain geometry against a standard's sprocket table and a handbook's worked example."""

from __future__ import annotations

import math

import pytest

from phasko.core.documents.engine import Drive
from phasko.core.engine.timing_drive import chain_mm_per_deg, elongation_lateness_deg, sprocket_diameter_mm


@pytest.mark.parametrize(
    ("teeth", "unit_diameter"),
    [(17, 5.4422), (19, 6.0755), (21, 6.7095), (23, 7.3439), (25, 7.9787), (38, 12.1096)],
)
@pytest.mark.parametrize("pitch_mm", [8.0, 9.525, 12.7])
def test_pitch_circles_of_the_standards_table(teeth: int, unit_diameter: float, pitch_mm: float) -> None:
    """Pitch circle diameters for a unit pitch: ISO 606:2015, table of sprocket diameters (from memory); the chains 05B,
    06B and 08B have pitches of 8, 9.525 and 12.7 mm."""
    assert sprocket_diameter_mm(pitch_mm, teeth) == pytest.approx(pitch_mm * unit_diameter, rel=1e-4)


def test_chain_that_runs_past_is_the_chord_polygon_of_the_pitch_circle() -> None:
    """A turn takes up as many pitches as the sprocket has teeth: a polygon inside the pitch circle, shorter than it by
    the chordal effect, sin(180/z) over its arc, 0.37 % at 21 teeth (Decker, Maschinenelemente, chapter on chain drives:
    polygon effect; from memory)."""
    drive = Drive(type="chain", pitch_mm=9.525, crank_sprocket_teeth=21)
    per_deg = chain_mm_per_deg(drive, "B1I")
    assert per_deg is not None
    circle = math.pi * sprocket_diameter_mm(9.525, 21) / 360.0
    half = math.pi / 21
    assert per_deg / circle == pytest.approx(math.sin(half) / half, rel=1e-9)
    assert 1.0 - per_deg / circle == pytest.approx(0.0037, abs=0.0001)


def test_a_strand_that_grows_by_half_a_percent() -> None:
    """Worked example, in the manner of the handbooks' strand geometry (Roloff/Matek, Maschinenelemente, chain drives,
    from memory): sprockets of 21 and 42 teeth, 9.525 mm, 340 mm apart. The free strand is the common tangent,
    sqrt(a^2 - ((d2 - d1)/2)^2) = 338.5 mm or 35.5 links; half a percent of it is 1.69 mm, which turn the cam's sprocket
    by 1.69 mm over its pitch circle's radius, 1.52 degrees of the cam, 3.05 of the crank."""
    small, large = (sprocket_diameter_mm(9.525, teeth) for teeth in (21, 42))
    assert (small, large) == pytest.approx((63.91, 127.46), abs=0.01)
    strand = math.sqrt(340.0**2 - ((large - small) / 2.0) ** 2)
    assert strand == pytest.approx(338.5, abs=0.05)
    drive = Drive(type="chain", pitch_mm=9.525, crank_sprocket_teeth=21, free_links={"B1I": strand / 9.525})
    late = elongation_lateness_deg(drive, "B1I", 0.5)
    by_arc = 2.0 * math.degrees(0.005 * strand / (large / 2.0))
    assert by_arc == pytest.approx(3.05, abs=0.01)
    # Links lie as chords, so that the mean motion is a tenth of a percent more than the arc says at 42 teeth.
    assert late == pytest.approx(by_arc, rel=0.002)
