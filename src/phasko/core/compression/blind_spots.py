"""What an even rhythm or a right count does not show, and what a wrong one means, in words."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from phasko.core.compression.changes import CompressionChange, compression_changes
from phasko.core.compression.relative import Compression
from phasko.core.documents.analysis import Problem
from phasko.core.documents.capture import Role
from phasko.core.documents.engine import EngineProfile
from phasko.core.signals.recording import Recording

__all__ = ["blind_spots", "compression_problems", "count_words", "dead_bank", "unread_sources"]


def blind_spots(compression: Compression, engine: EngineProfile) -> list[str]:
    """The short standing list: what this capture cannot exclude about sealing."""
    found = ["A seal that fails now and then may not show in a few turns."]
    if compression.overall is None:
        found.insert(
            0,
            "All cylinders equally low, as with a cam late on all, look even: only the overall size against a known "
            "good engine of the kind shows it.",
        )
    if compression.identified_by is None:
        found.insert(
            0,
            "Without a cam, a pressure channel or a coil proved to fire once per cycle no cylinder has a name, and an "
            "even rhythm proves nothing.",
        )
    if engine.crank.index_u95_deg is None:
        found.append("Where TDC stands is only as sure as the profile's index.")
    return found


def compression_problems(compression: Compression | None, engine: EngineProfile) -> list[Problem]:
    """What is said about the sources beside the figures."""
    if compression is None:
        return []
    found = []
    for source in compression.sources:
        down = source.separation.turned
        if source.source == "starter_current" and down:
            text = (
                f"The humps of {source.channel} point down: the clamp was round the other way. Measured all the same."
            )
            found.append(Problem(code="clamp_reversed", channel=source.channel, text=text))
        if source.source == "battery_voltage" and not down:
            text = f"{source.channel} rises with every compression, where battery voltage falls: probe turned round?"
            found.append(Problem(code="voltage_reversed", channel=source.channel, text=text))
    if compression.disagree:
        names = ", ".join(_SOURCE_WORDS[s.source] for s in compression.sources)
        text = f"The sources ({names}) disagree about a cylinder by more than they may; the figures are less sure."
        found.append(Problem(code="compression_sources_disagree", text=text))
    if compression.identified_by is None:
        text = "Cylinders are counted but not named: no signal tells the two turns of a cycle apart."
        found.append(Problem(code="compression_unnamed", text=text))
    found += [
        Problem(code=f"compression_{change.kind}", text=_change_words(change))
        for change in compression_changes(compression)
    ]
    words = count_words(compression, engine)
    if words is not None:
        found.append(Problem(code="compression_count", text=words))
    return found


def unread_sources(recording: Recording, compression: Compression | None, modulo_deg: float | None) -> list[Problem]:
    """Why a clamp or battery lead that was hooked up says nothing about sealing."""
    roles: tuple[Role, ...] = ("starter_current", "battery_voltage")
    hooked = [channel for role in roles for channel in recording.with_role(role)]
    read = {source.channel for source in compression.sources} if compression is not None else set()
    if recording.description.condition not in (None, "cranking", "mixed"):
        return []
    why = "no settled cranking, or humps that do not fit the engine's firing"
    if modulo_deg is not None:
        why = f"the crank wheel looks the same after {modulo_deg:g}°, so that no TDC is known"
    return [
        Problem(code="compression_unread", channel=c.name, text=f"Nothing is read from {c.name} about sealing: {why}.")
        for c in hooked
        if c.name not in read
    ]


_SOURCE_WORDS = {
    "starter_current": "starter current",
    "battery_voltage": "battery voltage",
    "crank_speed": "crank speed",
}


def _change_words(change: CompressionChange) -> str:
    before, after = f"{100 * change.before:.0f} %", f"{100 * change.after:.0f} %"
    at = ", ".join(f"{t:.1f} s" for t in change.times_s[:4])
    if change.kind == "changed":
        return (
            f"Cylinder {change.cylinder} compresses {before} at first and {after} from {at} on: some engines move cams "
            "or vent while cranking for long; else its seal changed."
        )
    if change.kind == "intermittent":
        return f"Cylinder {change.cylinder} falls to {after} in {change.cycles} of {change.of} cycles (at {at})."
    return f"One odd compression of cylinder {change.cylinder} at {at} was noted and does not count: it did not repeat."


def count_words(compression: Compression, engine: EngineProfile) -> str | None:
    """What a count that is too small means, or a whole bank that compresses less; ``None`` where as many compress as
    there are cylinders, and no bank stands out."""
    seen, expected = compression.events_per_cycle, compression.expected_events
    if seen is None:
        return _even_words(compression, engine)
    low = dead_bank((*compression.dead, *compression.weak), engine)
    if seen >= expected:
        if low is None:
            return None
        return f"{seen} of {expected} compress per 720 degrees, but all of bank {low} less than the others: its cams."
    count = f"{seen} of {expected} cylinders compress per 720 degrees"
    bank = dead_bank(compression.dead, engine)
    if bank is not None:
        return f"{count}: the whole of bank {bank} is missing, though the rhythm may sound even."
    order = engine.firing_order
    if 2 * seen == expected and _every_second(compression.dead, order):
        return f"{count}: every second one in firing order is missing, which sounds even."
    return f"{count}."


def _even_words(compression: Compression, engine: EngineProfile) -> str:
    """What humps without anything to count them against leave open."""
    rpm = float(np.mean([c.mean_rpm for c in compression.cycles.cycles]))
    every = f"{engine.cylinders} of {engine.cylinders} cylinders at {rpm:.0f} rpm"
    half = f", or every second one at {2 * rpm:.0f} rpm" if engine.cylinders % 2 == 0 else ""
    return (
        f"Nothing counts the humps per 720 degrees: they are {every}{half}. That a bank, or every second cylinder, "
        "does not compress cannot be excluded; hook up a coil, a cam or the crank as well."
    )


def dead_bank(dead: Sequence[int], engine: EngineProfile) -> int | None:
    """The bank whose cylinders are just those that do not compress."""
    for bank in engine.banks if len(engine.banks) > 1 else ():
        if set(bank.cylinders) == set(dead):
            return bank.bank
    return None


def _every_second(dead: Sequence[int], order: Sequence[int]) -> bool:
    return bool(dead) and set(dead) in (set(order[::2]), set(order[1::2]))
