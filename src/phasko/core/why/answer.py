"""The answer to "why is this?" beside one number."""

from __future__ import annotations

from pydantic import Field

from phasko.core.documents.result_part import Number, ResultPart

__all__ = ["Part", "SoMuch", "Why", "cycles_words"]


class Part(ResultPart):
    """One part of the formula with its value, both in words and with its unit."""

    name: str
    value: str


class SoMuch(ResultPart):
    """What a single cycle gave: when (s), and how much."""

    time_s: Number
    value: str


class Why(ResultPart):
    """``id`` says beside which number it belongs, ``value`` repeats it. ``formula`` in words and signs that a person
    can reckon after; ``parts`` what goes into it; ``source`` where formula and limits come from, as the page of the
    method has it; ``taken_from`` the capture and its cycles, ``cycles`` what each of them gave where that is known."""

    id: str
    title: str
    value: str
    formula: str
    parts: list[Part] = Field(default_factory=list)
    source: str
    taken_from: str
    cycles: list[SoMuch] = Field(default_factory=list)


def cycles_words(file: str, cycles: int, state: str | None, *, parts: bool = False) -> str:
    """``7 cycles while cranking, of pick-up-7``; ``parts``: what stands before and after the whole ones counts too."""
    count = "One cycle" if cycles == 1 else f"{cycles} cycles"
    if parts:
        count += " and the parts of cycles before and after"
    doing = f" while {state}" if state in ("cranking", "running") else ""
    return f"{count}{doing}, of {file.removesuffix('.capture.json')}"
