"""Descriptions of captures: what is required of a channel, and what is kept though unknown."""

import json
from typing import Any

import pytest

from phasko.core.documents import CaptureDescription, parse_document
from phasko.core.errors import DocumentError


def described(*channels: dict[str, Any], **more: Any) -> CaptureDescription:
    text = json.dumps({"schema": "phasko.capture/1", "data": "x.csv", "channels": list(channels), **more})
    return parse_document(text, CaptureDescription, "x.capture.json")


@pytest.mark.parametrize(
    ("channel", "words"),
    [
        ({"column": "c1", "role": "cam"}, "does not say which"),
        ({"column": "c1", "role": "aux"}, "does not say which"),
        ({"column": "c1", "role": "cylinder_pressure"}, "does not name the cylinder"),
        ({"column": "c1", "role": "crank", "scale": 0}, "scale 0, which would erase the signal"),
        ({"column": "c1", "role": "banana"}, "channels.0.role"),
        ({"role": "crank"}, "channels.0.column is required"),
    ],
)
def test_a_channel_says_what_it_is(channel: dict[str, Any], words: str) -> None:
    with pytest.raises(DocumentError, match=words):
        described(channel)


def test_a_column_is_described_once() -> None:
    with pytest.raises(DocumentError, match="name a column twice"):
        described({"column": "c1", "role": "crank"}, {"column": "c1", "role": "cam", "cam": "B1I"})


def test_without_channels_there_is_nothing() -> None:
    with pytest.raises(DocumentError, match="channels"):
        described()


def test_what_is_not_said_is_unknown() -> None:
    known = described({"column": "c1", "role": "crank"})
    assert (known.condition, known.phasers, known.temperature, known.symptom) == (None, *["unknown"] * 3)


def test_unknown_keys_are_kept_by_name() -> None:
    known = described({"column": "c1", "role": "crank", "colour": "red"}, weather="rain")
    assert known.unknown_keys() == ("weather",)
    assert known.channels[0].unknown_keys() == ("colour",)
