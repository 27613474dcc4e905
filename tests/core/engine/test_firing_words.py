"""A firing order in every way in which people write one."""

from __future__ import annotations

import pytest

from phasko.core.engine.firing_words import firing_order_of
from phasko.core.errors import DocumentError


@pytest.mark.parametrize("text", ["1-3-4-2", "1 3 4 2", "1342", "1,3,4,2", " 1 – 3 – 4 – 2 ", "1; 3; 4; 2", "1>3>4>2"])
def test_one_order_in_many_hands(text: str) -> None:
    assert firing_order_of(text, 4) == [1, 3, 4, 2]


def test_ten_and_more_need_marks_between() -> None:
    assert firing_order_of("1-10-9-4-3-6-5-8-7-2", 10)[1] == 10
    with pytest.raises(DocumentError):
        firing_order_of("11094365872", 10)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("1-3-4", "leaves out cylinder 2"),
        ("1-3-3-2", "names cylinder 3 twice"),
        ("1-3-4-7", "names cylinder 7, and there are 4"),
        ("one three", "is no firing order"),
        ("", "is no firing order"),
    ],
)
def test_what_is_wrong_is_said_in_words(text: str, words: str) -> None:
    with pytest.raises(DocumentError, match=words) as refused:
        firing_order_of(text, 4)
    assert refused.value.place == "Firing order"
