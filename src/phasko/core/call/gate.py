"""Whether the covers may come off: the conditions, each of which can say what is missing."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import NormalDist
from typing import Literal

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.call.hypotheses import Hypothesis
from phasko.core.call.likelihood import Counts
from phasko.core.call.posterior import Judgement
from phasko.core.capture.contradictions import Contradiction
from phasko.core.evidence import EVERY_KIND, JobEvidence
from phasko.core.evidence.corners import Corners, agreeing_corners
from phasko.core.explanations import EXPLANATIONS
from phasko.core.words import degrees, lower_first

__all__ = ["Gate", "GateView", "contradicted_gate", "contradicts_from", "decide_gate", "gate_view"]

Teardown = Literal["go", "confirm_first", "no"]

_SECOND_KINDS = {kind.name for kind in EVERY_KIND if kind.second_kind}
_TITLES = {kind.name: kind.title for kind in EVERY_KIND}
_CYLINDER_FAULTS = {e.fault for e in EXPLANATIONS if e.area == "cylinder"}
_CYLINDER_KINDS = ("compression", "hump_count", "gauge", "leak_down", "levels", "corners", "pulses", "marks")
_SEAL_KINDS = {
    "gauge": "pressure",
    "leak_down": "pressure",
    "levels": "pressure",
    "compression": "compression",
    "hump_count": "compression",
}
"""Kinds that speak of one cylinder, and which of them are one kind: gauge, leak-down and transducer feel the
pressure."""


@dataclass(frozen=True, slots=True)
class Gate:
    teardown: Teardown
    because: str


@dataclass(frozen=True, slots=True, eq=False)
class GateView:
    """What the gate reads: the judgement, and how badly every hypothesis fits each kind of evidence."""

    judgement: Judgement
    job: JobEvidence
    misfits: dict[str, Floats]

    def kinds(self, counts: Counts) -> list[str]:
        return [kind for kind in self.misfits if counts(kind)]


def gate_view(judgement: Judgement, job: JobEvidence) -> GateView:
    """Works out what every kind of evidence says against every hypothesis, once for all the gate's questions."""
    observed = judgement.table.observed
    kinds = dict.fromkeys([o.kind for o in observed.numbers] + [w.kind for w in observed.words])
    return GateView(judgement, job, {kind: judgement.table.misfit_by(kind) for kind in kinds})


def contradicted_gate(disagree: Sequence[Contradiction]) -> Gate:
    """Where captures of one condition contradict each other nothing is concluded from them, neither that all is
    well."""
    worst = disagree[0]
    return Gate(
        "confirm_first",
        f"Two captures of one condition read cam {worst.cam.id} {degrees(worst.apart_deg, worst.u95_deg)} apart. Does "
        "the fault come and go, or was something repaired in between? If so, say at the later one that it was recorded "
        "after the repair; else a look settles how it stands now.",
    )


def decide_gate(view: GateView, counts: Counts = lambda kind: True) -> Gate:  # noqa: ARG005
    """``go`` only when nothing is missing; ``no`` when little speaks for a fault behind the covers. What is typical of
    the type is left out."""
    hypotheses = view.judgement.hypotheses
    chances = view.judgement.plain if counts("") else _recounted(view, counts)
    if not view.kinds(counts):
        return Gate("no", "Nothing has been measured yet.")
    need = _need(view, chances)
    leader = _leader(view, chances)
    branch = hypotheses[leader].branch
    area = hypotheses[leader].explanation.area
    cylinder_chance = sum(
        chance for fault, chance in view.judgement.by_fault(chances).items() if fault in _CYLINDER_FAULTS
    )
    if area == "cylinder" and cylinder_chance > 0.5:
        return _cylinder_gate(view, leader, chances, counts)
    if area in ("open", "reference"):
        return Gate("confirm_first", _what_does_not_fit(view, chances))
    if need < numbers.GATE_SUSPICION.value or not _speaks(view, chances, counts):
        return Gate("no", _no_because(view, need, leader))
    if not branch.covers_off:
        return Gate("confirm_first", "The leading explanation needs no covers off, but one that does is not excluded.")
    missing = _missing(view, leader, chances, counts)
    return Gate("confirm_first", missing) if missing else Gate("go", _agreeing(view, leader, counts))


def _recounted(view: GateView, counts: Counts) -> Floats:
    scores = view.judgement.table.log_density(counts) + view.judgement.plain_log_priors
    made = np.exp(scores - scores.max())
    return np.asarray(made / made.sum())


def _sure(view: GateView, need: float, chances: Floats) -> bool:
    """Whether what lies behind the covers is likely enough beside all else. A phaser that is excluded by its state does
    not count among that, as long as it is not likely by itself."""
    hypotheses = view.judgement.hypotheses
    likely = [row for row in view.judgement.phasers.tolist() if chances[row] > 1e-6]
    excluded = sum(float(chances[row]) for row in likely if _phaser_excluded(view, hypotheses[row]))
    least = numbers.GATE_PROBABILITY.value
    return need >= least * (1.0 - excluded) and need >= numbers.GATE_BESIDE_PHASER.value


def _need(view: GateView, chances: Floats) -> float:
    return float(chances[view.judgement.covered].sum())


def _speaks(view: GateView, chances: Floats, counts: Counts) -> bool:
    """Whether anything measured or seen speaks clearly for something behind the covers against a sound engine. With
    little evidence the gate follows what is usual, not what is conceivable."""
    covered = int(np.where(view.judgement.covered, chances, -1.0).argmax())
    sound = view.judgement.sound
    least = math.log(numbers.GATE_ODDS.value)
    return any(view.misfits[kind][sound] - view.misfits[kind][covered] >= least for kind in view.kinds(counts))


def _leader(view: GateView, chances: Floats) -> int:
    """The hypothesis that is most probable within the most probable explanation."""
    by_fault = list(view.judgement.by_fault(chances).values())
    own = view.judgement.fault_of == max(range(len(by_fault)), key=lambda i: by_fault[i])
    return int(np.where(own, chances, -1.0).argmax())


def _no_because(view: GateView, need: float, leader: int) -> str:
    title = view.judgement.hypotheses[leader].branch.place.title
    in_100 = round(100 * need)
    if view.judgement.hypotheses[leader].explanation.area == "health" and title:
        return f"{title}: nothing behind the covers asks for more than watching it."
    if in_100 >= 100 * numbers.GATE_SUSPICION.value:
        return "Nothing measured speaks clearly for anything behind the covers."
    speak = "speaks" if in_100 == 1 else "speak"
    how_many = f"Only {in_100} in 100 {speak}" if in_100 else "Less than 1 in 100 speaks"
    return f"{how_many} for anything behind the covers."


def _what_does_not_fit(view: GateView, chances: Floats) -> str:
    """The observation that a sound engine explains worst."""
    table = view.judgement.table
    sound = view.judgement.sound
    area = table.hypotheses[_leader(view, chances)].explanation.area
    check = (
        "Check wheel, index, edges and cams of the profile, or compare with a known good capture."
        if area == "reference"
        else "Check the profile, the hook-up, fuel and what lies between sensor and control unit."
    )
    off = np.abs(table.misfits(sound, 0.0))
    worst_word = min(range(len(table.observed.words)), key=lambda i: table.words[sound, i], default=None)
    if off.size and off.max() > 2.0:
        worst = table.observed.numbers[int(off.argmax())].words
        return f"None of the usual explanations fits: {lower_first(worst)}. {check}"
    if worst_word is not None and table.words[sound, worst_word] < math.log(0.2):
        return f"None of the usual explanations fits: {lower_first(table.observed.words[worst_word].words)}. {check}"
    return f"None of the usual explanations fits what was observed. {check}"


def _cylinder_gate(view: GateView, leader: int, chances: Floats, counts: Counts) -> Gate:
    """A cylinder opens the engine only where two of compression, pressure or leak-down, pulse and a look agree."""
    hypotheses = view.judgement.hypotheses
    place = hypotheses[leader].branch.place
    sound = view.judgement.sound
    agreeing = {
        _SEAL_KINDS.get(kind, kind)
        for kind in view.kinds(counts)
        if kind in _CYLINDER_KINDS
        and view.misfits[kind][sound] - view.misfits[kind][leader] >= math.log(numbers.CYLINDER_ODDS.value)
    }
    same = sum(
        float(c)
        for h, c in zip(hypotheses, chances, strict=True)
        if h.explanation.area == "cylinder" and h.branch.place.cylinders == place.cylinders
    )
    if len(place.cylinders) == 1 and same >= numbers.GATE_PROBABILITY.value and len(agreeing) >= 2:
        named = " and ".join(sorted(_AGREEING_WORDS[kind] for kind in agreeing))
        return Gate("go", f"{named[0].upper()}{named[1:]} agree about this cylinder.")
    if len(place.cylinders) != 1:
        return Gate("confirm_first", "Several cylinders are low: a gauge or leak-down reading of each comes first.")
    if agreeing == {"compression"}:
        return Gate(
            "confirm_first",
            "Compression while cranking is one kind of evidence: a gauge, leak-down or in-cylinder reading, or a look, "
            "must agree first.",
        )
    return Gate("confirm_first", "Two of compression, pressure or leak-down, pulse and a look must agree about it.")


_AGREEING_WORDS = {
    "compression": "compression",
    "pressure": "the pressure reading",
    "corners": "the valve corners",
    "pulses": "the pulses",
    "marks": "the look",
}


def _missing(view: GateView, leader: int, chances: Floats, counts: Counts) -> str | None:
    """The first condition that does not hold, in words."""
    second = [kind for kind in view.kinds(counts) if kind in _SECOND_KINDS]
    if not second:
        return f"{_who_speaks(view, leader, counts)} Nothing yet has felt the pistons or valves, or seen the marks."
    need = _need(view, chances)
    if not _sure(view, need, chances):
        rival = int(np.where(view.judgement.covered, -1.0, chances).argmax())
        beside = f"beside “{lower_first(_title(view, rival))}”"
        return f"What lies behind the covers stands at {100 * need:.0f} in 100 {beside}; that is not sure enough."
    sound = view.judgement.sound
    silent = _second_is_silent(view, leader, second, counts)
    if silent is not None:
        return silent
    if second == [_PISTONS]:
        return "Pistons and cam signals speak for it; nothing yet has felt the valves, or seen the marks."
    harmless = _not_excluded(view, leader, chances, counts)
    if harmless is not None:
        title = _title(view, harmless)
        return f"Nothing speaks clearly enough against “{lower_first(title)}”."
    measured = [kind for kind in view.kinds(counts) if kind not in _NOT_MEASURED]
    if not any(view.misfits[kind][sound] - view.misfits[kind][leader] >= math.log(_SPEAKS_ODDS) for kind in measured):
        return "Nothing but looks speaks for it; measure the cams against the crank too."
    return _contradiction(view, leader, counts)


def _second_is_silent(view: GateView, leader: int, second: Sequence[str], counts: Counts) -> str | None:
    """Why what is of a second kind does not count for the leader; ``None`` where it does. One corner alone may be that
    cylinder's own valve train."""
    speaking = [kind for kind in second if _speaks_as_second(view, kind, leader, counts)]
    if not speaking and second == [_PISTONS]:
        return "The pistons say nothing about it; nothing yet has felt the valves, or seen the marks."
    if not speaking:
        return "What felt or saw the valves themselves does not speak for it."
    if speaking != [Corners.name]:
        return None
    table = view.judgement.table
    off = table.misfits(leader, float(table.best_steps[leader]))
    if agreeing_corners(table.observed.numbers, off) >= numbers.CORNERS_LEAST.value:
        return None
    return "One valve corner alone may be that cylinder's own valve train; a second one, or the marks, settle it."


def _speaks_as_second(view: GateView, kind: str, leader: int, counts: Counts) -> bool:
    """Whether a second kind speaks for the leader against a sound engine; or rules out a moved crank wheel that nothing
    else rules out, as true pistons do."""
    own = view.misfits[kind] - view.misfits[kind][leader]
    if own[view.judgement.sound] >= math.log(_SPEAKS_ODDS):
        return True
    others = [view.misfits[k] - view.misfits[k][leader] for k in view.kinds(counts) if k != kind]
    least = math.log(numbers.GATE_ODDS.value)
    rest = np.sum(others, axis=0) if others else np.zeros(own.size)
    return any(
        own[i] >= least and rest[i] < least
        for i, h in enumerate(view.judgement.hypotheses)
        if h.second is None and not h.branch.covers_off and h.branch.state.crank_wheel_deg
    )


_PISTONS = "index"
_SPEAKS_ODDS = 3.0
_WHISPERS_ODDS = 1.3
_NOT_MEASURED = ("marks", "looks", "history", "codes")
"""Kinds that a person tells; beside them something must have been measured before the covers come off."""


def _who_speaks(view: GateView, leader: int, counts: Counts) -> str:
    faults = [view.judgement.hypotheses[i].explanation.fault for i in (leader, view.judgement.sound)]
    others = [kind for kind in view.kinds(counts) if kind not in ("cam_phase", "edge_spacing", "signals")]
    alone = [[view.judgement.alone(kind)[fault] for fault in faults] for kind in others]
    if all(led - sound < math.log(_WHISPERS_ODDS) for led, sound in alone):
        return "Only the cam signals speak so far."
    return "None of what speaks so far is of a second kind."


def _speaking(view: GateView, leader: int, counts: Counts) -> list[str]:
    """Kinds that speak for the leader against a sound engine, the strongest first."""
    sound = view.judgement.sound
    gains = {kind: float(view.misfits[kind][sound] - view.misfits[kind][leader]) for kind in view.kinds(counts)}
    return [k for k in sorted(gains, key=lambda k: -gains[k]) if gains[k] >= math.log(_SPEAKS_ODDS)]


def _title(view: GateView, row: int) -> str:
    """A hypothesis in words, with the amount that the measurements give it."""
    one = view.judgement.hypotheses[row]
    weighed = next(w for w in view.judgement.weighed if w.explanation is one.explanation)
    amount = weighed.amount_deg if weighed.best.place == one.branch.place else one.branch.amount_deg
    return one.explanation.title(one.branch.place, amount, one.branch.pitches)


def _not_excluded(view: GateView, leader: int, chances: Floats, counts: Counts) -> int | None:
    """The likeliest harmless state against which what was observed does not speak twenty to one."""
    hypotheses = view.judgement.hypotheses
    least = math.log(numbers.GATE_ODDS.value)
    kinds = view.kinds(counts)
    each = np.array([view.misfits[kind] - view.misfits[kind][leader] for kind in kinds])
    # One kind alone may speak so clearly, or several together.
    against = np.maximum(each.max(axis=0), each.sum(axis=0))
    rows = [
        i
        for i, h in enumerate(hypotheses)
        if h.second is None and not h.branch.covers_off and against[i] < least and not _phaser_excluded(view, h)
    ]
    if sum(float(chances[i]) for i in rows) <= numbers.HARMLESS_LEAST.value:
        return None
    return max(rows, key=lambda i: chances[i], default=None)


def _phaser_excluded(view: GateView, one: Hypothesis) -> bool:
    """A phaser is excluded by its state: the captures that speak were recorded with it parked or unplugged, or it was
    swept and did what a sound one does."""
    cams = set(one.branch.state.phaser_deg)
    if not cams:
        return False
    sweeps = [sweep for capture in view.job.captures for sweep in capture.sweeps if sweep.cam.id in cams]
    if sweeps:
        return all(sweep.healthy for sweep in sweeps)
    known = [
        capture.recording.description.phasers in ("parked", "unplugged")
        for capture in view.job.captures
        for reading in capture.cams
        if reading.cam.id in cams and reading.offset is not None
    ]
    return bool(known) and all(known)


def _contradiction(view: GateView, leader: int, counts: Counts) -> str | None:
    table = view.judgement.table
    steps = float(table.best_steps[leader])
    off = np.abs(table.misfits(leader, steps))
    kept = [i for i, o in enumerate(table.observed.numbers) if counts(o.kind)]
    if kept:
        worst = max(kept, key=lambda i: off[i])
        if off[worst] > contradicts_from(len(kept)):
            return f"One measurement contradicts it: {lower_first(table.observed.numbers[worst].words)}."
    return None


def contradicts_from(count: int) -> float:
    """From how many standard deviations on the worst of so many values contradicts: as unlikely by chance as a single
    one beyond ``GATE_CONTRADICTION`` (Bonferroni's inequality; Montgomery, Design and Analysis of Experiments, from
    memory)."""
    one = NormalDist().cdf(-numbers.GATE_CONTRADICTION.value)
    return -NormalDist().inv_cdf(one / count)


def _agreeing(view: GateView, leader: int, counts: Counts) -> str:
    named = [lower_first(_TITLES[kind]) for kind in _speaking(view, leader, counts)[:3]]
    return f"Different kinds of evidence agree: {', '.join(named)}."
