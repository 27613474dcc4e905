"""A small seeded part of the accuracy tables: the benchmarks' own captures, judged by what the docs claim of them."""

from __future__ import annotations

import numpy as np
import pytest

from phasko.bench.pool import pool_engines
from trials import compression as seal
from trials import engine_offsets as offsets
from trials.cache import cached_on_disk

pytestmark = pytest.mark.exhaustive

judged_seal = cached_on_disk(seal.judged)
readings_of_row = cached_on_disk(offsets.readings_of_row)

EVEN = [name for name in pool_engines() if name not in ("haverel-1.3-even", "brimholt-3.8-odd-six")]


@pytest.fixture(scope="module")
def judged() -> list[seal.Judged]:
    """One capture of every evenly firing engine, seeds apart from those of fitting and of the tables."""
    return [one for i, name in enumerate(EVEN) for one in judged_seal((name, 71_000 + 13 * i))]


def test_relative_compression_lies_within_its_half_width(judged: list[seal.Judged]) -> None:
    whole = [one for one in judged if one.source == "all"]
    assert len(whole) > 30
    inside = np.mean([abs(one.found - one.truth) <= one.u95 for one in whole])
    assert inside >= 0.9
    scores = np.array([(one.found - one.truth) / one.u95 * 1.96 for one in whole])
    assert scores.std() < 1.3


def test_it_is_as_close_as_is_claimed(judged: list[seal.Judged]) -> None:
    """Within 0.05 of the true pressure ratio up to four cylinders, 0.10 above, for nine in ten."""
    for most, limit in ((4, 0.05), (99, 0.10)):
        errors = [
            abs(one.found - one.truth)
            for one in judged
            if one.source == "all" and (one.cylinders <= 4) == (most == 4) and not one.faulty
        ]
        assert np.quantile(errors, 0.9) <= limit


def test_every_dead_cylinder_or_one_25_percent_down_is_named(judged: list[seal.Judged]) -> None:
    low = [one for one in judged if one.faulty and one.truth <= 0.75 and one.source == "all"]
    assert low
    assert all(one.state in ("weak", "dead") for one in low if one.u95 <= 0.15)


def test_no_healthy_cylinder_is_called_weak(judged: list[seal.Judged]) -> None:
    spoiled = {(one.engine, one.seed) for one in judged if one.faulty}
    healthy = [one for one in judged if (one.engine, one.seed) not in spoiled and one.source == "all"]
    assert healthy
    assert not [one for one in healthy if one.state in ("weak", "dead") and one.truth >= 0.92]


@pytest.mark.parametrize("k", range(0, len(offsets.CLASSES), 2))
def test_offsets_of_the_big_table_s_classes_are_covered(k: int) -> None:
    """Two engines of every other class."""
    row = offsets.CLASSES[k]
    found = []
    for i in (k % len(offsets.engines()), (k + 5) % len(offsets.engines())):
        found += [reading for reading in readings_of_row(row, i, 72_000 + i) if reading.read]
    assert found
    over = [abs(one.error) / max(one.u95, 1e-9) for one in found]
    assert np.mean(np.array(over) <= 1.0) >= 0.75
    assert max(over) < 2.5
