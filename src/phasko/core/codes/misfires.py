"""Misfire codes read as a pattern: one cylinder, one bank, every second in firing order, all."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from phasko.core.codes.meaning import code_meaning
from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.job import Code

__all__ = ["MisfirePattern", "misfire_pattern"]

Pattern = Literal["random", "one", "bank", "every_second", "neighbours", "all", "some"]


@dataclass(frozen=True, slots=True)
class MisfirePattern:
    """Which cylinders the codes name, the pattern they make, and what that points to."""

    pattern: Pattern
    cylinders: tuple[int, ...]
    words: str


def misfire_pattern(codes: Sequence[Code], profile: EngineProfile) -> MisfirePattern | None:
    """The pattern of all misfire codes of a job together; ``None`` where there is none. A code of a cylinder that this
    engine does not have is left out."""
    meanings = [code_meaning(code.code) for code in codes]
    named = sorted({m.cylinder for m in meanings if m is not None and m.cylinder in profile.firing_tdc_deg})
    cylinders = tuple(c for c in named if c is not None)
    if not cylinders:
        random = any(m is not None and m.about == "misfire_random" for m in meanings)
        return MisfirePattern("random", (), _WORDS["random"]) if random else None
    pattern = _pattern(cylinders, profile)
    return MisfirePattern(pattern, cylinders, f"{_cylinder_words(cylinders)}: {_WORDS[pattern]}")


def _pattern(cylinders: tuple[int, ...], profile: EngineProfile) -> Pattern:
    order, these = profile.firing_order, set(cylinders)
    if len(these) == 1:
        return "one"
    if these == set(order):
        return "all"
    if any(these == set(bank.cylinders) for bank in profile.banks) and len(profile.banks) > 1:
        return "bank"
    if these in ({*order[::2]}, {*order[1::2]}):
        return "every_second"
    # Cylinders that stand side by side in the block share a gasket, or a pair of plugs and leads.
    if len(these) == 2 and any(_stand_together(these, list(bank.cylinders)) for bank in profile.banks):
        return "neighbours"
    return "some"


def _stand_together(two: set[int], bank: list[int]) -> bool:
    return two <= set(bank) and abs(bank.index(min(two)) - bank.index(max(two))) == 1


def _cylinder_words(cylinders: Sequence[int]) -> str:
    if len(cylinders) == 1:
        return f"Cylinder {cylinders[0]}"
    return f"Cylinders {', '.join(str(c) for c in cylinders[:-1])} and {cylinders[-1]}"


_WORDS = {
    "random": "Misfires without a named cylinder. Often one cylinder that the control unit could not name, or mixture; "
    "valve timing misfires on all.",
    "one": "one cylinder: its spark, its injector, its seal. Swap the coil first; then see whether it seals.",
    "bank": "one whole bank: cam timing of that bank, its exhaust, its mixture, or a shared supply. It may still sound "
    "even. Not the coils.",
    "every_second": "every second cylinder in firing order: the rhythm stays even over it. A bank's cam, a shared "
    "supply, or a signal read half wrong. Not single coils.",
    "neighbours": "two cylinders side by side: the gasket between them, or a pair of leads.",
    "all": "all cylinders: mixture, fuel pressure, breathing or valve timing; not coils one by one.",
    "some": "several cylinders without a plain pattern: see what they share, and whether they seal.",
}
"""Common practice, no published source."""
