"""For and against each explanation: what every kind of evidence alone says of it, in words with numbers."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.call.gate import GateView, decide_gate
from phasko.core.call.likelihood import Counts
from phasko.core.call.posterior import Judgement, Weighed
from phasko.core.documents.analysis import EvidenceWeight, WithoutKind
from phasko.core.evidence import EVERY_KIND
from phasko.core.words import angle_words, lower_first

__all__ = ["Reasons", "call_without", "reasons"]

_TITLES = {kind.name: kind.title for kind in EVERY_KIND}


@dataclass(frozen=True, slots=True)
class Reasons:
    """What each kind says about one explanation, the largest first; ``telling`` is the line that parts it from its
    neighbour."""

    weights: tuple[EvidenceWeight, ...]
    telling: str = ""

    @property
    def speaks_for(self) -> list[str]:
        return [one.text for one in self.weights if one.bits > 0]

    @property
    def against(self) -> list[str]:
        return [one.text for one in self.weights if one.bits < 0]


def reasons(judgement: Judgement) -> dict[str, Reasons]:
    """By fault: the odds that a kind of evidence alone gives for it against all others, weighted by their chance before
    measuring. Odds that would not move anybody are left out. The explanation that is left when nothing fits has none:
    no value speaks for it."""
    observed = judgement.table.observed
    kinds = list(dict.fromkeys([o.kind for o in observed.numbers] + [w.kind for w in observed.words]))
    alone = {kind: judgement.alone(kind) for kind in kinds}
    found: dict[str, tuple[EvidenceWeight, ...]] = {}
    for one in judgement.weighed:
        weights = [_weight(judgement, kind, alone[kind], one) for kind in kinds]
        told = [w for w in weights if w is not None]
        found[one.explanation.fault] = tuple(sorted(told, key=lambda w: -abs(w.bits)))
    telling = _telling(judgement, alone, found)
    return {fault: Reasons(weights, telling.get(fault, "")) for fault, weights in found.items()}


def _weight(judgement: Judgement, kind: str, alone: Mapping[str, float], one: Weighed) -> EvidenceWeight | None:
    fault = one.explanation.fault
    if one.explanation.area == "open":
        return None
    others = [f for f in alone if f != fault]
    chance = np.array([judgement.priors[f] for f in others])
    rival = float(np.logaddexp.reduce(np.array([alone[f] for f in others]) + np.log(chance / chance.sum())))
    odds = alone[fault] - rival
    if abs(odds) < math.log(numbers.TELLING_ODDS.value):
        return None
    return EvidenceWeight(
        kind=kind,
        title=_TITLES[kind],
        bits=round(odds / math.log(2.0), 2),
        text=_sentence(judgement, kind, one, odds > 0),
    )


def _sentence(judgement: Judgement, kind: str, one: Weighed, speaks_for: bool) -> str:
    """The observation of that kind that fits the explanation best, or worst, with what was expected."""
    table = judgement.table
    rows = [i for i, o in enumerate(table.observed.numbers) if o.kind == kind]
    if rows:
        steps = float(table.best_steps[one.row])
        predicted = table.means[one.row] + steps * table.directions[one.row]
        sd = np.sqrt(np.diag(table.covariances[int(table.group[one.row])]))
        off = np.abs(table.misfits(one.row, steps))
        off_sound = np.abs(table.misfits(judgement.sound, 0.0))
        pick = max(rows, key=lambda i: off_sound[i] - off[i] if speaks_for else off[i] - 0.1 * off_sound[i])
        told = _number_sentence(table.observed.numbers[pick].words, kind, float(predicted[pick]), float(sd[pick]))
        return told + (_whole_pitches(judgement, one, speaks_for) if kind == "cam_phase" else "")
    words = [i for i, w in enumerate(table.observed.words) if w.kind == kind]
    usual = table.words[:, words].mean(axis=0)
    gain = table.words[one.row, words] - usual
    pick = words[int(gain.argmax() if speaks_for else gain.argmin())]
    return table.observed.words[pick].words


def _whole_pitches(judgement: Judgement, one: Weighed, speaks_for: bool) -> str:
    """That the offset is a whole number of pitches, for a jump; empty where it is not, or speaks against."""
    if not speaks_for or not one.best.pitches or one.best.amount_deg is None:
        return ""
    pitch = one.best.amount_deg / one.best.pitches
    moved = [
        o.value
        for o in judgement.table.observed.numbers
        if o.kind == "cam_phase" and o.cam in one.best.place.cams and o.modulo_deg is None
    ]
    pitches = abs(sum(moved) / len(moved) / pitch) if moved else 0.0
    near = round(pitches) != 0 and abs(pitches - round(pitches)) <= numbers.WHOLE_PITCH.value
    return f"; {pitches:.2f} pitches, a whole number" if near else ""


def _number_sentence(words: str, kind: str, predicted: float, sd: float) -> str:
    if kind == "cam_phase":
        if sd > numbers.ANYTHING_SD_DEG.value:
            return f"{words}; this would allow anything"
        expected = "in time" if abs(predicted) < 0.05 else angle_words(predicted, 2 * sd)
        return f"{words}; expected {expected} within {2 * sd:.0f}°"
    if kind == "compression" and sd < numbers.OVERALL_OPEN_SD.value:
        return f"{words}; expected {100 * predicted:.0f} %"
    return words


def _telling(
    judgement: Judgement, alone: Mapping[str, Mapping[str, float]], found: Mapping[str, tuple[EvidenceWeight, ...]]
) -> dict[str, str]:
    """For each explanation the sentence of the kind that parts it most from its neighbour in the list; none twice."""
    used: set[str] = set()
    lines: dict[str, str] = {}
    for place, one in enumerate(judgement.weighed):
        neighbour = judgement.weighed[place + 1 if place == 0 else place - 1]
        fault, other = one.explanation.fault, neighbour.explanation.fault
        ordered = sorted(alone, key=lambda kind: -abs(alone[kind][fault] - alone[kind][other]))
        for kind in ordered:
            odds = alone[kind][fault] - alone[kind][other]
            if abs(odds) < math.log(numbers.TELLING_ODDS.value):
                break
            line = f"{'+' if odds > 0 else '-'} {_sentence(judgement, kind, one, odds > 0)}"
            if line[2:] not in used:
                used.add(line[2:])
                lines[fault] = line
                break
        else:
            own = [w for w in found[fault] if w.text not in used]
            if own:
                used.add(own[0].text)
                lines[fault] = f"{'+' if own[0].bits > 0 else '-'} {own[0].text}"
    return lines


def call_without(view: GateView) -> list[WithoutKind]:
    """The call with one kind of evidence left out at a time: which explanation would lead, how surely, and the gate."""
    judgement = view.judgement
    weighed = {str(w.explanation.fault): w for w in judgement.weighed}
    made = []
    for left_out in view.misfits:
        counts = _all_but(left_out)
        chances = judgement.by_fault(judgement.chances_of(counts))
        leader = weighed[max(chances, key=lambda fault: chances[fault])]
        made.append(
            WithoutKind(
                kind=left_out,
                title=_TITLES[left_out],
                fault=leader.explanation.fault,
                words=lower_first(leader.title),
                probability=min(1.0, chances[leader.explanation.fault]),
                teardown=decide_gate(view, counts).teardown,
            )
        )
    return made


def _all_but(left_out: str) -> Counts:
    return lambda kind: kind != left_out
