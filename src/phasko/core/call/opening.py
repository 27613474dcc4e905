"""What opening shows and costs, and what the schools of limits say: the page a technician reads before the covers."""

from __future__ import annotations

from collections.abc import Callable

from phasko.core import numbers
from phasko.core.call.posterior import Judgement
from phasko.core.codes import code_meaning
from phasko.core.documents.analysis import CostResult, MarkResult, OpeningResult, SchoolResult, Verdict
from phasko.core.documents.job import Costs
from phasko.core.evidence import JobEvidence
from phasko.core.words import angle_words, cam_name, drive_word, lower_first

__all__ = ["costs", "costs_both_ways", "opening", "schools"]

_MARK_LIMIT_DEG = 1.0


def opening(judgement: Judgement, job: JobEvidence, inspect_valves: bool) -> OpeningResult | None:
    """For the leading explanation, where it asks for opening at all."""
    leader = judgement.weighed[0]
    opened = leader.explanation.opened(job.profile, leader.best.place, leader.amount_deg, leader.best.pitches)
    if opened is None:
        return None
    timing = leader.explanation.area == "timing"
    word = drive_word(job.profile)
    hazards = (
        [
            f"A tensioner that releases can let the {word} jump: hold crank and cams by the maker's tools first.",
            "Cams under spring load turn by themselves, a pump on its lobe bends: fingers away.",
            "Battery off; local rules, the maker's procedure and licensed practice come first.",
        ]
        if timing
        else [
            "Head bolts off in the maker's order with the engine cold; fuel and coolant let off first.",
            "Battery off; local rules, the maker's procedure and licensed practice come first.",
        ]
    )
    inspect = [f"{word} and its marks", "tensioner and its oil feed", "guides", "sprockets and keys"] if timing else []
    if inspect_valves or not timing:
        inspect += ["valves of every cylinder: leak-down or borescope before the bill is made", "piston crowns"]
    if timing:
        inspect.append("phasers and their bolts")
    return OpeningResult(
        see=opened.see,
        false_if=opened.false_if,
        hazards=hazards,
        together=list(opened.together),
        inspect=inspect,
        hours=_hours(_costs(job), timing),
        marks=_marks(judgement, job) if timing else [],
    )


def _marks(judgement: Judgement, job: JobEvidence) -> list[MarkResult]:
    """Every cam's mark under the leading explanation, at the amount that the measurements give it."""
    leader = judgement.weighed[0]
    one = judgement.hypotheses[leader.row]
    base = leader.best.amount_deg
    scale = leader.amount_deg / base if base and leader.amount_deg is not None else 1.0
    teeth = job.profile.drive.crank_sprocket_teeth if job.profile.drive is not None else None
    found = []
    for cam in job.profile.cams:
        off = scale * one.state.valves_of(cam.id)
        count = off * teeth / 360.0 if teeth else None
        found.append(MarkResult(cam=cam.id, name=cam_name(cam, job.profile), off_deg=off, teeth=count))
    return found


def _costs(job: JobEvidence) -> Costs:
    return (job.told.costs if job.told is not None else None) or Costs()


def _hours(told: Costs, timing: bool) -> float:
    usual = (numbers.OPENING_HOURS if timing else numbers.HEAD_HOURS).value
    return told.opening_hours if told.opening_hours is not None else usual


def costs(judgement: Judgement, job: JobEvidence) -> CostResult | None:
    """What opening in vain and driving on cost on the average; ``None`` where nothing speaks for opening."""
    need = sum(
        float(c)
        for h, c in zip(judgement.hypotheses, judgement.chances, strict=True)
        if h.branch.covers_off or (h.second_branch is not None and h.second_branch.covers_off)
    )
    if need < 0.02 or not judgement.table.observed:
        return None
    told = _costs(job)
    hours = _hours(told, True)
    ruin = numbers.ENGINE_HOURS.value
    if told.engine is not None and told.labour_per_hour:
        ruin = told.engine / told.labour_per_hour
    in_vain, on = (1.0 - need) * hours, need * numbers.RUIN_CHANCE.value * ruin
    money = _money(told)
    return CostResult(
        opening_hours=hours,
        in_vain_hours=round(in_vain, 2),
        driving_on_hours=round(on, 2),
        labour_per_hour=told.labour_per_hour,
        currency=told.currency,
        text=f"Opening now wastes {money(in_vain)} on the average, driving on risks {money(on)}.",
    )


def costs_both_ways(verdict: Verdict, told: Costs | None) -> list[str]:
    """What opening costs, what it wastes on the average if the call is wrong, and what driving on risks, in hours and,
    where an hour's price is known, in money."""
    found = verdict.costs
    if found is None:
        return []
    per_hour, currency = found.labour_per_hour, found.currency

    def both(hours: float) -> str:
        words = "under an hour" if 0 < hours < 0.95 else f"{hours:.1f} hours"
        if not hours:
            words = "nothing"
        return words if per_hour is None else f"{words} ({hours * per_hour:.0f} {currency})".replace(" )", ")")

    opening_hours = verdict.opening.hours if verdict.opening is not None else found.opening_hours
    said = [
        f"Opening and closing: {both(opening_hours)} of labour, parts apart.",
        f"Opening for nothing, weighed by its chance: {both(found.in_vain_hours)}.",
        f"Driving on, weighed by its chance: {both(found.driving_on_hours)}.",
    ]
    if told is not None and told.engine is not None:
        said.append(f"Another engine would be {told.engine:.0f} {told.currency}".rstrip() + ".")
    return said


def _money(told: Costs) -> Callable[[float], str]:
    if told.labour_per_hour is None:
        return lambda hours: "next to nothing" if hours < 0.05 else f"{hours:.1f} hours"
    return lambda hours: f"{hours * (told.labour_per_hour or 0.0):.0f} {told.currency}".strip()


def schools(job: JobEvidence) -> list[SchoolResult]:
    """What each school says about the cam that stands furthest off: half to one degree at the mark, the maker's limit,
    only when codes set. The school that the job names is the one that was used, else the maker's."""
    readings = [
        (reading, reading.offset)
        for capture in job.captures
        for reading in capture.cams
        if reading.offset is not None and not reading.swapped and reading.segment == "cranking"
    ]
    if not readings:
        return []
    reading, offset = max(readings, key=lambda one: abs(one[1].offset.value) / one[0].cam.tolerance_deg)
    off, u95 = offset.offset.value, offset.total_u95_deg
    cam = job.profile.cam(reading.cam.id) or reading.cam
    told = job.told.limit if job.told is not None else None
    used = told.school if told is not None else "maker"
    limit = cam.tolerance_deg
    name = lower_first(cam_name(cam, job.profile))
    reads = f"{name} {angle_words(off, u95)}"
    codes = [
        c
        for c in (job.told.codes if job.told is not None else ())
        if c.status in ("current", "pending", "stored") and _about_timing(c.code)
    ]
    mark_deg = 2.0 * _MARK_LIMIT_DEG
    return [
        SchoolResult(
            school="mark",
            words=f"Half to one degree at the mark: {reads}, {_from(off, mark_deg)}",
            beyond=abs(off) > mark_deg,
            used=used == "mark",
        ),
        SchoolResult(
            school="maker",
            words=f"The limit of {limit:g}°: {reads}, {_from(off, limit)}",
            beyond=abs(off) > limit,
            used=used == "maker",
        ),
        SchoolResult(
            school="codes",
            words=f"Only when codes set: {', '.join(c.code for c in codes) if codes else 'none noted'}",
            beyond=True if codes else None,
            used=used == "codes",
        ),
    ]


def _about_timing(code: str) -> bool:
    meaning = code_meaning(code)
    return meaning is not None and meaning.about in ("correlation", "phaser")


def _from(off_deg: float, limit_deg: float) -> str:
    apart = abs(off_deg) - limit_deg
    return f"{abs(apart):.1f}° {'beyond it' if apart > 0 else 'within it'}"
