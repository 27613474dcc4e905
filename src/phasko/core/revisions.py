"""What is different in the result of a job once a newer version has read it: the gate, the call, and single figures."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from phasko.core.documents import Analysis
from phasko.core.documents.analysis import CamResult, CaptureResult
from phasko.core.words import GATE_WORDS, angle_words, chance_words, lower_first, plus_minus

__all__ = ["Revision", "Weight", "revision_of"]

Weight = Literal["gate", "call", "figures", "nothing"]

_CHANCE = 0.05
"""A chance that moved by less changes no work."""


@dataclass(frozen=True, slots=True)
class Revision:
    """``weight``: the heaviest of what changed; ``sentences``: all of it, the heaviest first."""

    weight: Weight
    sentences: tuple[str, ...]


def revision_of(before: Analysis, after: Analysis) -> Revision:
    """What the newer result says otherwise than the older one."""
    found: list[tuple[Weight, str]] = []
    found += [("gate", one) for one in _gate(before, after)]
    found += [("call", one) for one in _call(before, after)]
    found += [("figures", one) for one in _figures(before, after)]
    return Revision(found[0][0] if found else "nothing", tuple(sentence for _, sentence in found))


def _gate(before: Analysis, after: Analysis) -> Iterator[str]:
    was, now = before.verdict.teardown, after.verdict.teardown
    if was != now:
        yield f"The gate says {GATE_WORDS[now]}; it said {GATE_WORDS[was]}."
    stops = ("stop_cranking" in before.verdict.cautions, "stop_cranking" in after.verdict.cautions)
    if stops == (False, True):
        yield "It says now that the engine must not be cranked."
    if stops == (True, False):
        yield "It no longer says that the engine must not be cranked."


def _call(before: Analysis, after: Analysis) -> Iterator[str]:
    was, now = (one.verdict.faults[0] if one.verdict.faults else None for one in (before, after))
    if was is not None and now is not None:
        if (was.fault, was.where) != (now.fault, now.where):
            yield (
                f"The likeliest is {lower_first(now.title)}, {chance_words(now.probability)}; "
                f"it was {lower_first(was.title)}, {chance_words(was.probability)}."
            )
        elif abs(was.probability - now.probability) >= _CHANCE:
            yield f"{now.title}: {chance_words(now.probability)} now, {chance_words(was.probability)} before."
    if before.verdict.undecided != after.verdict.undecided:
        yield "It is undecided now." if after.verdict.undecided else "It is no longer undecided."
    tests = [one.verdict.next_test.test if one.verdict.next_test else None for one in (before, after)]
    if tests[0] != tests[1]:
        now_test = after.verdict.next_test
        yield f"The next test is another one: {lower_first(now_test.title)}." if now_test else "No test is left."


def _figures(before: Analysis, after: Analysis) -> Iterator[str]:
    held = {capture.file: capture for capture in before.captures}
    for capture in after.captures:
        was = held.get(capture.file)
        if was is not None:
            yield from _cams(was, capture)
            yield from _cylinders(was, capture)
            yield from _problems(was, capture)


def _cams(before: CaptureResult, after: CaptureResult) -> Iterator[str]:
    held = {(cam.cam, cam.segment): cam for cam in before.cams}
    for cam in after.cams:
        was = held.get((cam.cam, cam.segment))
        if was is None:
            continue
        place = f"{cam.cam} in {after.file}"
        if (was.offset_deg is None) != (cam.offset_deg is None):
            yield f"{place} reads {_offset(cam)}; before {_offset(was)}."
        elif was.offset_deg is not None and cam.offset_deg is not None:
            wide = (was.offset_u95_deg or 0.0) + (cam.offset_u95_deg or 0.0)
            # By less than both half widths it is the same figure.
            if abs(was.offset_deg - cam.offset_deg) > wide:
                yield f"{place} reads {_offset(cam)}; before {_offset(was)}."


def _offset(cam: CamResult) -> str:
    if cam.offset_deg is None:
        return "nothing that can be measured"
    return f"{angle_words(cam.offset_deg, 0.1)} {plus_minus(cam.offset_u95_deg or 0.0)}"


def _cylinders(before: CaptureResult, after: CaptureResult) -> Iterator[str]:
    if before.compression is None or after.compression is None:
        return
    held = {one.cylinder: one for one in before.compression.cylinders}
    for one in after.compression.cylinders:
        was = held.get(one.cylinder)
        if was is not None and was.state != one.state:
            yield f"Cylinder {one.cylinder} in {after.file} is called {one.state}; before {was.state}."


def _problems(before: CaptureResult, after: CaptureResult) -> Iterator[str]:
    was, now = ({problem.code: problem.text for problem in one.problems} for one in (before, after))
    for code in sorted(now.keys() - was.keys()):
        yield f"New in {after.file}: {lower_first(now[code])}"
    for code in sorted(was.keys() - now.keys()):
        yield f"No longer said of {after.file}: {lower_first(was[code])}"
