"""Relative compression as it stands in the result document."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from phasko.core.documents.result_part import Number, ResultPart

__all__ = ["CompressionResult", "CompressionSourceResult", "CylinderRelative", "OverallCompressionResult"]


class CylinderRelative(ResultPart):
    """``spread``: standard deviation from cycle to cycle, of the healthy ones; ``repeats``: every cycle is alike, no
    change midway and none that fails now and then; ``None`` where too few cycles tell."""

    cylinder: int
    relative: Number | None
    u95: Number | None = None
    state: Literal["good", "weak", "dead", "unknown"]
    spread: Number | None = None
    repeats: bool | None = None


class CompressionSourceResult(ResultPart):
    """One source alone: ``explained`` is the share of its variance that humps account for, ``humps_late_deg`` how late
    all humps stand against the profile's TDCs, ``turned`` whether they point the other way."""

    source: Literal["starter_current", "battery_voltage", "crank_speed"]
    channel: str | None
    events_per_cycle: int
    explained: Number
    humps_late_deg: Number
    turned: bool
    relative: list[Number]
    u95: list[Number]


class OverallCompressionResult(ResultPart):
    """All cylinders together over known good captures of the kind."""

    relative: Number
    u95: Number
    references: int
    source: str


class CompressionResult(ResultPart):
    """Joint answer of all sources. ``sound``: how many cylinders are neither weak nor dead; ``words``: for lists.
    ``relative`` and ``u95`` of a source are in order of cylinder numbers."""

    source: Literal["starter_current", "battery_voltage", "crank_speed"]
    events_per_cycle: int | None
    expected_events: int
    identified_by: str | None
    cylinders: list[CylinderRelative]
    sources: list[CompressionSourceResult] = Field(default_factory=list)
    cycles_used: int = 0
    cycles_left_out: int = 0
    settled_from_s: Number | None = None
    settled_to_s: Number | None = None
    blind_spots: list[str] = Field(default_factory=list)
    overall: OverallCompressionResult | None = None
    sound: int | None = None
    words: str | None = None
