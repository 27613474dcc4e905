"""What was looked at, listened to and read off gauges: marks and valves themselves, everything else, and readings."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from phasko.core import numbers
from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.job import Look
from phasko.core.engine.state import EngineState
from phasko.core.engine.state_table import StateTable
from phasko.core.evidence.breathing_words import push_chance
from phasko.core.evidence.holds import holds
from phasko.core.evidence.observable import JobEvidence, NotCounted, Observable, Observed, Predictions, Word
from phasko.core.evidence.signal_health import whole_signals
from phasko.core.looks import look_words, question, told_answer
from phasko.core.uncertainty import NORMAL_95

__all__ = ["Gauge", "LeakDown", "Marks", "Seen", "mark_out_chance"]

_READINGS = ("gauge", "leak_down")


def _words(job: JobEvidence, kind: str, second_kind: bool) -> Observed:
    """Looks of one group as words; of the same question about the same thing the last one counts."""
    found: dict[tuple[str, int | None, str | None], Word] = {}
    left = []
    whole = whole_signals(job) if job.captures else ()
    for number, look in enumerate(job.looks):
        asked, answer = question(look.question), told_answer(look, job.looks, job.profile)
        if asked is None or answer is None or look.question in _READINGS or asked.second_kind != second_kind:
            continue
        words = look_words(look, answer)
        if answer.speaks == "nothing":
            left.append(NotCounted(words, "it weighs nothing"))
            continue
        found[(look.question, look.cylinder, look.cam)] = Word(
            kind=kind,
            key=f"{number}:{look.question}",
            subject=look.question,
            answer=answer.id,
            words=words,
            cylinder=look.cylinder,
            cam=look.cam,
            value=look.amount_deg,
            second_kind=second_kind,
            about=look,
            speaks=(answer.speaks, answer.chance, answer.otherwise),
            whole_signals=whole if look.question in ("spark", "injector") else (),
        )
    return Observed((), tuple(found.values()), tuple(left))


def _chance(word: Word, state: EngineState, profile: EngineProfile) -> float:
    assert word.speaks is not None
    speaks, shown, otherwise = word.speaks
    if speaks == "signals that do not agree":
        cams = tuple(cam.id for cam in profile.cams)
        return shown if state.out_of_step(cams, whole=word.whole_signals) else otherwise
    if word.subject in ("throttle_hand", "manifold") and word.answer == "pushes_back":
        return push_chance(state, profile)
    return shown if holds(speaks, state, profile, word.cylinder) else otherwise


class Seen:
    """What is seen and heard without touching marks or valves."""

    name = "looks"
    title = "Look and listen"
    second_kind = False

    def observe(self, job: JobEvidence) -> Observed:
        return _words(job, self.name, False)

    def chance(self, word: Word, state: EngineState, profile: EngineProfile) -> float:
        return _chance(word, state, profile)


class Marks:
    """What saw marks, valves or signal wheels themselves."""

    name = "marks"
    title = "Marks and valves"
    second_kind = True

    def observe(self, job: JobEvidence) -> Observed:
        return _words(job, self.name, True)

    def chance(self, word: Word, state: EngineState, profile: EngineProfile) -> float:
        """Marks by how far they stand out as they were looked at; the others by what they speak about."""
        if word.subject == "valve_moves" and not state.cams_turn:
            # No valve at all moves then.
            return numbers.LOOK_RELIABILITY.value if word.answer == "still" else 1.0 - numbers.LOOK_RELIABILITY.value
        if word.subject != "marks":
            return _chance(word, state, profile)
        out = mark_out_chance(word, state, profile)
        if word.answer == "true":
            return 1.0 - out
        return out


def mark_out_chance(word: Word, state: EngineState, profile: EngineProfile) -> float:
    """Chance that marks are found out: by the displacement of the named cam, or of the furthest. With an amount it is
    a density over one degree, so that it compares how far. With the crank on the maker's own mark a hub that slipped
    takes that mark along; so may a sprocket. A phaser, or a slack strand, shows there or does not."""
    assert word.about is not None
    at_mark = word.about.crank_at == "mark"
    missed, wrongly = (1.0 - numbers.LOOK_CHANCES["marks.out"][0].value, numbers.LOOK_CHANCES["marks.out"][1].value)
    if not state.cams_turn:
        return _amount_share(word, None) * (1.0 - missed)
    cams = [word.cam] if word.cam is not None else [cam.id for cam in profile.cams]
    if any(cam in state.unknown_valves_sd_deg for cam in cams):
        sd = max(state.unknown_valves_sd_deg.values())
        return 0.75 * _amount_share(word, 0.0, sd) + 0.25 * wrongly * _amount_share(word, None)
    own = max((state.valves_deg.get(cam, 0.0) for cam in cams), key=abs, default=0.0)
    turned = state.sprocket_deg + (0.0 if at_mark else state.hub_deg)
    far = own
    if turned:
        far = max((state.valves_deg.get(cam, 0.0) + turned for cam in cams), key=abs, default=0.0)
    shown = _out(word, far, missed, wrongly)
    if at_mark and state.sprocket_deg:
        other = _out(word, own, missed, wrongly)
        shown = numbers.MARK_ON_PULLEY_SHARE.value * shown + (1.0 - numbers.MARK_ON_PULLEY_SHARE.value) * other
    # Neither a phaser nor a slack strand stands with the engine at rest as it does while it turns.
    moved = [of[cam] for of in (state.phaser_deg, state.slack_deg) for cam in cams if cam in of]
    if moved:
        seen = numbers.MARK_AT_REST_SHARE.value
        shown = (1.0 - seen) * shown + seen * _out(word, max(moved, key=abs), missed, wrongly)
    return shown


def _out(word: Word, displaced_deg: float, missed: float, wrongly: float) -> float:
    steep = (abs(displaced_deg) - numbers.LOOK_SEEN_DEG.value) / numbers.MARK_SEEN_SLOPE_DEG.value
    seen = 1.0 / (1.0 + math.exp(-max(-60.0, min(60.0, steep))))
    return (1.0 - missed) * seen * _amount_share(word, displaced_deg) + wrongly * (1.0 - seen) * _amount_share(
        word, None
    )


def _amount_share(word: Word, displaced_deg: float | None, sd_deg: float = 0.0) -> float:
    """How well a read amount fits a displacement (1 without an amount): a normal density, per degree; without a
    displacement anywhere within the furthest that counts."""
    if word.value is None:
        return 1.0
    if displaced_deg is None:
        return 0.5 / numbers.SHIFT_MAX_DEG.value
    sd = math.hypot(numbers.MARK_AMOUNT_SD_DEG.value, sd_deg)
    z = (word.value - displaced_deg) / sd
    return math.exp(-0.5 * z * z) / (sd * math.sqrt(2.0 * math.pi)) + 1e-4


class Gauge:
    """Compression gauge readings, as logarithms: a leak takes its share off whatever the engine's own figure is."""

    name = "gauge"
    title = "Gauge"
    second_kind = False

    def observe(self, job: JobEvidence) -> Observed:
        """One value per cylinder. All share what gauge and cranking speed do, and the profile's range."""
        readings: dict[int, Look] = {
            look.cylinder: look
            for look in job.looks
            if look.question == "gauge" and look.value is not None and look.cylinder is not None
        }
        limits = job.profile.cranking_pressure_bar
        usual = 0.5 * (limits[0] + limits[1]) if limits else numbers.GAUGE_USUAL_BAR.value
        spread = math.log(limits[1] / limits[0]) / (2.0 * NORMAL_95) if limits else 2.0 * numbers.GAUGE_SIZE_SD.value
        size = math.hypot(spread, numbers.GAUGE_SIZE_SD.value)
        found = [
            Observable(
                kind=self.name,
                key=str(cylinder),
                value=math.log(max(look.value or 0.0, _LEAST_SHARE * usual) / usual),
                own_sd=numbers.GAUGE_OWN_SD.value,
                factors={"gauge:size": size, f"build:cylinder:{cylinder}": numbers.CYLINDER_BUILD_SD.value},
                words=f"The gauge reads {look.value:g} bar at cylinder {cylinder}",
                cylinder=cylinder,
            )
            for cylinder, look in sorted(readings.items())
        ]
        return Observed(tuple(found))

    def predict(self, observables: Sequence[Observable], states: StateTable) -> Predictions:
        """The share that each cylinder has left. A leak weighs differently at every cranking speed, the more the larger
        it is."""
        order = states.profile.firing_order
        made = states.pressed()[:, [order.index(one.cylinder or 0) for one in observables]]
        share = np.maximum(made, _LEAST_SHARE)
        shared = {f"open:seal:{one.cylinder}": np.zeros(share.shape) for one in observables}
        for column, one in enumerate(observables):
            shared[f"open:seal:{one.cylinder}"][:, column] = states.number("unknown_seal_sd")
        low = np.where(share < numbers.GAUGE_LOW_SHARE.value, _LOW_GAUGE_SD, 0.0)
        return Predictions(np.log(share), low, shared)


_LOW_GAUGE_SD = 0.3
_LEAST_SHARE = 0.05


class LeakDown:
    """Leak-down readings."""

    name = "leak_down"
    title = "Leak-down"
    second_kind = False

    def observe(self, job: JobEvidence) -> Observed:
        found: dict[int | None, Word] = {}
        for look in job.looks:
            answer = told_answer(look, job.looks, job.profile)
            if look.question == "leak_down" and look.value is not None and answer is not None:
                found[look.cylinder] = Word(
                    kind=self.name,
                    key=str(look.cylinder),
                    subject="leak_down",
                    answer=answer.id,
                    words=look_words(look, answer),
                    cylinder=look.cylinder,
                    value=look.value,
                    about=look,
                )
        return Observed((), tuple(found.values()))

    def chance(self, word: Word, state: EngineState, profile: EngineProfile) -> float:  # noqa: ARG002
        """A density over the reading's logarithm: usual of a sound cylinder, rising to all as the seal goes."""
        low = math.log(numbers.LEAK_DOWN_SOUND_PERCENT.value)
        high = math.log(numbers.LEAK_DOWN_WIDE_OPEN_PERCENT.value)
        left = state.seal.get(word.cylinder or 0, 1.0) * state.seal_of_all
        sd = numbers.LEAK_DOWN_SD.value + (1.0 if state.unknown_seal_sd else 0.0)
        mean = high + (low - high) * max(0.0, min(1.0, left))
        z = (math.log(max(word.value or 0.0, 1.0)) - mean) / sd
        return math.exp(-0.5 * z * z) / sd + 0.01
