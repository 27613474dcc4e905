"""Sparks as entries of the result document, and what is said beside them."""

from __future__ import annotations

from collections.abc import Sequence

from phasko.core import numbers
from phasko.core.documents.analysis import IgnitionResult, Problem
from phasko.core.ignition.firing import CoilFiring

__all__ = ["ignition_problems", "ignition_results"]


def ignition_results(firings: Sequence[CoilFiring]) -> list[IgnitionResult]:
    """One entry per coil whose cylinder is known, or was found by its TDC."""
    found = []
    for firing in firings:
        cylinder = firing.cylinder or firing.nearest
        if cylinder is None:
            continue
        found.append(
            IgnitionResult(
                cylinder=cylinder,
                spark_deg=firing.spark_deg,
                spark_u95_deg=firing.spark_u95_deg,
                state=firing.state,
                spread_deg=firing.spread_deg,
                every_deg=firing.every_deg,
                sparks=firing.sparks,
                missed=firing.cycles_without,
                channel=firing.channel,
                segment=firing.segment,
            )
        )
    return found


def ignition_problems(firings: Sequence[CoilFiring]) -> list[Problem]:
    """A coil that belongs to another cylinder, that fires every turn, or not at all. A running engine is never told
    that it does not spark, only that this coil does not."""
    found = []
    for firing in firings:
        if firing.sparks == 0 and firing.segment == "running":
            text = (
                f"The coil on {firing.channel} shows no firing although the engine runs: its lead is not on a coil, or "
                "this cylinder's coil is not driven."
            )
            found.append(Problem(code="no_spark", channel=firing.channel, text=text))
        elif firing.sparks == 0:
            text = (
                f"The coil on {firing.channel} never fires while the crank turns: no drive, or spark withheld because "
                "cam and crank do not agree. Earth the coil through a spark gap; no bare probes."
            )
            found.append(Problem(code="no_spark", channel=firing.channel, text=text))
        elif firing.cycles_without > numbers.SPARK_MISSED_LEAST.value:
            text = f"The coil on {firing.channel} leaves out {firing.cycles_without} of its firings."
            found.append(Problem(code="spark_missing", channel=firing.channel, text=text))
        if firing.every_deg == 360.0:
            text = (
                f"The coil on {firing.channel} fires every turn: two firings are 360 degrees apart, not 720, and "
                "it names no cylinder."
            )
            found.append(Problem(code="coil_every_turn", channel=firing.channel, text=text))
        if _wrong_cylinder(firing):
            text = (
                f"The coil on {firing.channel} is said to be cylinder {firing.cylinder}'s but fires at the TDC of "
                f"cylinder {firing.nearest}: look which coil the lead is on."
            )
            found.append(Problem(code="coil_cylinder", channel=firing.channel, text=text))
    return found


def _wrong_cylinder(firing: CoilFiring) -> bool:
    return (
        firing.cylinder is not None
        and firing.nearest is not None
        and firing.nearest != firing.cylinder
        and firing.spark_deg is not None
        and abs(firing.spark_deg) > numbers.SPARK_OWN_DEG.value / 4
    )
