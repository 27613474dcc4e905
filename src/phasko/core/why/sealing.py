"""Why a cylinder is called sound, weak or dead while cranking, and what it breathes."""

from __future__ import annotations

from collections.abc import Iterator

from phasko.core import numbers
from phasko.core.documents.analysis import CaptureResult, ManifoldResult, OverallCompressionResult
from phasko.core.documents.compression_results import CompressionResult, CylinderRelative
from phasko.core.why.answer import Part, Why, cycles_words

__all__ = ["sealing_whys"]

_BY = {"starter_current": "starter current", "battery_voltage": "battery voltage", "crank_speed": "crank speed"}


def sealing_whys(capture: CaptureResult) -> Iterator[Why]:
    """One for each cylinder's relative compression, for all together where known goods tell it, and for each manifold
    whose mean pressure was read."""
    sealing = capture.compression
    if sealing is not None:
        for one in sealing.cylinders:
            if one.relative is not None:
                yield _relative(capture.file, sealing, one)
        if sealing.overall is not None:
            yield _overall(capture.file, sealing, sealing.overall)
    for manifold in capture.manifolds:
        yield _manifold(capture, manifold)


def _relative(file: str, sealing: CompressionResult, one: CylinderRelative) -> Why:
    # Sources list their figures by cylinder number, the result in firing order.
    place = sorted(c.cylinder for c in sealing.cylinders).index(one.cylinder)
    parts = [
        Part(name=f"By {_BY[source.source]}", value=_percent(source.relative[place], source.u95[place]))
        for source in sealing.sources
        if place < len(source.relative)
    ]
    weak, dead = numbers.COMPRESSION_WEAK_BELOW, numbers.COMPRESSION_DEAD_BELOW
    parts.append(Part(name="Weak below, dead below", value=f"{100 * weak.value:.0f} %, {100 * dead.value:.0f} %"))
    if sealing.cycles_left_out:
        parts.append(Part(name="Cycles left out, since the speed was not steady", value=str(sealing.cycles_left_out)))
    return Why(
        id=f"seal/{one.cylinder}",
        title=f"Cylinder {one.cylinder}, compression beside the others",
        value=f"{_percent(one.relative or 0.0, one.u95)}, {one.state}",
        formula="What the crank's acceleration, or the starter's current, needs of this cylinder's gas torque (fitted "
        "to all cylinders at once) ÷ the same of the healthy ones. The best of the starter's sources and the crank's "
        "speed are joined, each weighed by 1 ÷ ±².",
        parts=parts,
        source="Newton's second law for the crank and the equations of an electric motor, as any handbook has them; "
        "the shape of the gas torque: Heywood 1988, section 5.4; scatter by the jackknife (Efron and Tibshirani 1993, "
        "chapter 11); from memory. What is weak and what is dead is defined by the result document.",
        taken_from=cycles_words(file, sealing.cycles_used, "cranking"),
    )


def _percent(relative: float, u95: float | None) -> str:
    return f"{100 * relative:.0f} %" + (f" ± {100 * u95:.0f} %" if u95 is not None else "")


def _overall(file: str, sealing: CompressionResult, overall: OverallCompressionResult) -> Why:
    count = overall.references
    against = "one known good capture" if count == 1 else f"{count} known good captures"
    return Why(
        id="overall",
        title="All cylinders together",
        value=_percent(overall.relative, overall.u95),
        formula="What the healthy cylinders swing the crank by ÷ the same of known good engines of this kind.",
        parts=[Part(name="By", value=_BY.get(overall.source, overall.source)), Part(name="Against", value=against)],
        source="Torque over inertia by the crank's speed, power by the starter's current: own method. Throttle, "
        "temperature and speed that differ or are not noted widen it.",
        taken_from=cycles_words(file, sealing.cycles_used, "cranking"),
    )


def _manifold(capture: CaptureResult, one: ManifoldResult) -> Why:
    pushes = numbers.MANIFOLD_PUSHES_BAR
    return Why(
        id=f"manifold/{one.channel}",
        title=f"Mean pressure of the {one.place} while cranking",
        value=f"{1000 * one.mean_bar:.0f} ± {1000 * one.u95_bar:.0f} mbar, {one.state.replace('_', ' ')}",
        formula="Mean over whole settled cycles against the outside air. ± holds the gauge's zero.",
        parts=[Part(name="A gauge reading says that it pushes over", value=f"{pushes.value:g} {pushes.unit}")]
        if one.place == "intake"
        else [],
        source="An engine in time sucks at the throttle while it is cranked: common practice, no source.",
        taken_from=cycles_words(
            capture.file, capture.compression.cycles_used if capture.compression is not None else 0, "cranking"
        ),
    )
