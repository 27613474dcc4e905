"""A small seeded part of the benchmark: kill -9 in the middle of imports, descriptions and backups."""

from pathlib import Path

from tests.levels import examples
from trials.kills import killed, workshop_in


def test_nothing_is_lost_or_half_after_kills(tmp_path: Path) -> None:
    kills = examples(8, 60)
    workshop_in(tmp_path)
    rows = killed(tmp_path, range(9000, 9000 + kills))
    assert rows[-1].acknowledged > 3
    assert [row.lost for row in rows] == [0] * kills
    assert [fault for row in rows for fault in row.faults] == []
