"""Injector pulses as they stand in the result document."""

from __future__ import annotations

from collections.abc import Sequence

from phasko.core.documents.cylinder_results import InjectionResult
from phasko.core.injection.pulses import Injection
from phasko.core.words import count_words

__all__ = ["injection_results"]


def injection_results(found: Sequence[Injection]) -> list[InjectionResult]:
    """One result an injector, with its sentence."""
    return [
        InjectionResult(
            channel=one.channel,
            cylinder=one.cylinder,
            width_ms=one.width_ms,
            width_u95_ms=one.width_u95_ms,
            start_deg=one.start_deg,
            start_u95_deg=one.start_u95_deg,
            per_cycle=one.per_cycle,
            pulses=one.pulses,
            withheld=one.withheld,
            words=_words(one),
        )
        for one in found
    ]


def _words(one: Injection) -> str:
    name = "The injector" if one.cylinder is None else f"Injector {one.cylinder}"
    if one.withheld:
        return (
            f"{name} is not driven in {one.cycles:.0f} cycles: the control unit withholds it (clear-flood, cam and "
            "crank out of step, theft protection), or its wire is open."
        )
    if one.width_ms is None:
        return f"{name} shows no pulse."
    often = "" if one.per_cycle is None else f", {_times(one.per_cycle)}"
    when = "" if one.start_deg is None else f", from {abs(one.start_deg):.0f}° before its firing TDC"
    return f"{name}: {one.width_ms:.2f} ± {one.width_u95_ms or 0.0:.2f} ms{often}{when}."


def _times(per_cycle: float) -> str:
    whole = round(per_cycle)
    if abs(per_cycle - whole) > 0.15 or whole < 1:
        return f"{per_cycle:.1f} times a cycle"
    return "once a cycle" if whole == 1 else f"{count_words(whole)} times a cycle"
