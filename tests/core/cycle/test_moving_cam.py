"""Edges of a cam that moves are counted on, however far it goes between two of them."""

from __future__ import annotations

import numpy as np
import pytest

from phasko.core.cycle.moving_cam import track_edges
from phasko.core.documents.engine import CamEdge
from tests.builders import pool_engine

EIGHT = pool_engine("haverel-2.4-five").cams[0].edges
FEW = [CamEdge(deg=100.0, kind="rising"), CamEdge(deg=460.0, kind="falling")]
DEG_S = 5000.0


def passing(edges: list[CamEdge], late: np.ndarray, cycles: int = 20) -> tuple[np.ndarray, ...]:
    """(times in s, angles in deg, kinds, places) of a cam that is ``late`` by one value an edge, at a steady speed."""
    place = np.tile(np.arange(len(edges)), cycles)
    nominal = np.array([edges[k].deg for k in place]) + 720.0 * np.repeat(np.arange(cycles), len(edges))
    angles = nominal + late
    return angles / DEG_S, angles, np.array([edges[k].kind == "rising" for k in place]), place


@pytest.mark.parametrize("edges", [EIGHT, FEW])
@pytest.mark.parametrize("rate_deg_s", [60.0, 250.0, 450.0])
def test_a_fast_sweep_loses_no_edge(edges: list[CamEdge], rate_deg_s: float) -> None:
    """Same kinds of edge stand 110 degrees apart or less: a nearest edge would be the wrong one."""
    nominal_s = (np.arange(20 * len(edges)) / len(edges)) * 720.0 / DEG_S
    late = np.clip((0.8 - nominal_s) * rate_deg_s, -55.0, 0.0)
    times, angles, rising, place = passing(edges, late)
    found = track_edges(times, angles, rising, edges, 0.0)
    assert found.reference.tolist() == place.tolist()
    assert found.delta_deg == pytest.approx(late, abs=1e-6)


def test_lost_and_added_edges_of_a_moving_cam_stay_apart_from_its_movement() -> None:
    late = np.clip(-(np.arange(160) - 60) * 2.0, -50.0, 0.0)
    _, angles, rising, place = passing(EIGHT, late)
    lost = [40, 41, 100]
    kept = np.setdiff1d(np.arange(160), lost)
    bounce = float(angles[80] + 9.0)
    order = np.argsort([*angles[kept], bounce, bounce + 1.0])
    angles = np.array([*angles[kept], bounce, bounce + 1.0])[order]
    rising = np.array([*rising[kept], ~rising[80], rising[80]])[order]
    found = track_edges(angles / DEG_S, angles, rising, EIGHT, 0.0)
    assert np.count_nonzero(found.reference < 0) == 2
    seen = (found.cycle * 8 + found.reference)[found.reference >= 0]
    assert sorted(set(range(160)) - set(seen.tolist())) == lost
    assert place.size == 160


def test_without_edges_nothing_is_found() -> None:
    empty = np.empty(0)
    assert track_edges(empty, empty, empty > 0, EIGHT, 0.0).reference.size == 0
