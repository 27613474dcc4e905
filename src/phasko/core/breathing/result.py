"""Breathing as entries of the result document, and what is said beside them."""

from __future__ import annotations

from collections.abc import Sequence

from phasko.core import numbers
from phasko.core.breathing.manifold import Manifold
from phasko.core.breathing.pulses import PulseMeasurement
from phasko.core.documents.analysis import (
    CylinderRelative,
    ManifoldResult,
    Problem,
    PulseOddResult,
    PulseResult,
    PulseSuspect,
)

__all__ = ["breathing_problems", "manifold_results", "odd_words", "pulse_results"]

_PLACE = {"intake_pulse": "intake", "exhaust_pulse": "exhaust", "crankcase_pulse": "crankcase"}


def pulse_results(pulses: Sequence[PulseMeasurement]) -> list[PulseResult]:
    """One entry per channel."""
    return [
        PulseResult(
            role=one.role,
            channel=one.channel,
            cylinders=[
                CylinderRelative(cylinder=c.cylinder, relative=c.relative, u95=c.u95, state=c.state)
                for c in one.cylinders
            ],
            odd=[
                PulseOddResult(
                    at_deg=odd.deg,
                    size=odd.size,
                    u95=odd.u95,
                    suspects=[PulseSuspect(cylinder=c, chance=p, words=w) for c, p, w in odd.suspects],
                )
                for odd in one.odd
            ],
            delay_s=one.delay_s,
            delay_u95_s=one.delay_u95_s,
            random_share=one.random_share,
            cycles=one.cycles,
        )
        for one in pulses
    ]


def manifold_results(manifolds: Sequence[Manifold]) -> list[ManifoldResult]:
    return [
        ManifoldResult(place=m.place, channel=m.channel, mean_bar=m.mean_bar, u95_bar=m.u95_bar, state=m.state)
        for m in manifolds
    ]


def odd_words(one: PulseMeasurement) -> list[str]:
    """What repeats in a channel, each place in one sentence with its doubt."""
    found = []
    for odd in one.odd:
        size = f"{100 * odd.size:+.0f} ± {100 * odd.u95:.0f} % of the usual pulse at {odd.deg:.0f}°"
        if odd.swung_by:
            low = ", ".join(map(str, odd.swung_by))
            found.append(
                f"The {_PLACE[one.role]} pulses differ once per 720° ({size}), as the crank's speed swings behind "
                f"cylinder {low}, which does not compress: no other is named."
            )
            continue
        if not odd.suspects:
            found.append(f"The {_PLACE[one.role]} pulses differ once per 720° ({size}); no cylinder fits that place.")
            continue
        cylinder, chance, words = odd.suspects[0]
        text = f"Once per 720° the {_PLACE[one.role]} pulse differs ({size}): cylinder {cylinder}, {words}"
        others = [str(c) for c, share, _ in odd.suspects[1:] if share >= numbers.PULSE_DOUBT.value]
        doubt = f"; {100 * chance:.0f} in 100, or cylinder {' or '.join(others)}" if others else ""
        found.append(f"{text}{doubt}.")
    return found


def breathing_problems(pulses: Sequence[PulseMeasurement], manifolds: Sequence[Manifold]) -> list[Problem]:
    """What repeats, what does not, and which pulses cannot be attributed."""
    found = []
    for one in pulses:
        found += [Problem(code="pulse_odd", channel=one.channel, text=text) for text in odd_words(one)]
        if one.delay_deg is None and one.role == "exhaust_pulse":
            text = (
                f"The {_PLACE[one.role]} pulses stand where no delay of a hose or pipe puts them: names of cylinders "
                "are doubtful. Is the sensor turned round?"
            )
            found.append(Problem(code="pulse_delay", channel=one.channel, text=text))
        if one.random_share > numbers.PULSE_RANDOM_MOST.value:
            text = (
                f"The {_PLACE[one.role]} pulses differ at random from cycle to cycle, by "
                f"{100 * one.random_share:.0f} % of a pulse: that is no cylinder, which would repeat every 720°."
            )
            found.append(Problem(code="pulse_random", channel=one.channel, text=text))
    for m in manifolds:
        size = f"{1000 * m.mean_bar:+.0f} ± {1000 * m.u95_bar:.0f} mbar"
        if m.state == "pushes":
            text = f"The engine pushes back at the throttle instead of sucking ({size}): valves far out of time."
            found.append(Problem(code="intake_pushes", channel=m.channel, text=text))
        if m.state == "back_pressure":
            text = f"The exhaust stands under pressure while cranking ({size}): open a sensor hole and try again."
            found.append(Problem(code="exhaust_back_pressure", channel=m.channel, text=text))
    return found
