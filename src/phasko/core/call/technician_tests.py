"""The tests that a technician can do next: what each costs, how it is done, and what any state would show."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

from phasko.core import numbers
from phasko.core.call.first_capture import first_capture_outcomes
from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.job import Look
from phasko.core.engine.state import EngineState
from phasko.core.evidence import WORD_KINDS, JobEvidence, Word
from phasko.core.evidence.cylinder_compression import pressed, relative_pressures
from phasko.core.looks import question, told_answer
from phasko.core.numbers.entry import Entry

__all__ = ["TESTS", "Outcomes", "Target", "TechnicianTest"]

Outcomes = Mapping[str, float]
"""What a test may show, with the chance of each in one state."""

_KINDS = {kind.name: kind for kind in WORD_KINDS}


@dataclass(frozen=True, slots=True)
class Target:
    """What a test is aimed at: the engine, and the cylinder and cam that the leading explanations are about."""

    profile: EngineProfile
    cylinder: int | None = None
    cam: str | None = None


@dataclass(frozen=True, slots=True)
class TechnicianTest:
    """One test a technician can do: what it costs, whether the starter turns the engine for it, what it would show in
    any state, and whether it feels valves or pistons (or sees marks) instead of reading the signals once more.
    ``possible`` on this engine and not ``done`` yet. ``answered_by``: the look under which its answer is noted."""

    test: str
    title: str
    how: str
    minutes: Entry
    cranks: bool
    outcomes: Callable[[EngineState, Target], Outcomes]
    second_kind: bool = False
    possible: Callable[[JobEvidence], bool] = lambda job: True  # noqa: ARG005
    done: Callable[[JobEvidence, Target], bool] = lambda job, target: False  # noqa: ARG005
    answered_by: str | None = field(default=None)


def _looked(question_id: str, kind: str) -> Callable[[EngineState, Target], Outcomes]:
    """A look shows its answers with the chances that the evidence itself uses."""
    asked = question(question_id)
    assert asked is not None

    def outcomes(state: EngineState, target: Target) -> Outcomes:
        found = {}
        for answer in asked.answers:
            look = Look(question=question_id, answer=answer.id, cylinder=target.cylinder)
            told = told_answer(look, (), target.profile)
            assert told is not None
            word = Word(
                kind=kind,
                key="test",
                subject=question_id,
                answer=answer.id,
                words="",
                cylinder=target.cylinder,
                about=look,
                speaks=(told.speaks, told.chance, told.otherwise),
            )
            found[answer.title.lower()] = _KINDS[kind].chance(word, state, target.profile)
        return _shares(found)

    return outcomes


def _shares(chances: Mapping[str, float]) -> Outcomes:
    total = sum(chances.values())
    return {name: chance / total for name, chance in chances.items()}


def _told(right: str, wrong: str, is_wrong: float, reliability: float | None = None) -> Outcomes:
    """Two outcomes; a careful test shows what is there with the reliability of the table."""
    sure = numbers.LOOK_RELIABILITY.value if reliability is None else reliability
    shown = is_wrong * sure + (1.0 - is_wrong) * (1.0 - sure)
    return {right: 1.0 - shown, wrong: shown}


def _beyond(size_deg: float, least_deg: float) -> float:
    """How surely something that far off is seen to be off, where ``least_deg`` is what can just be seen."""
    return 1.0 / (1.0 + math.exp(-(abs(size_deg) - least_deg)))


def _pressure(state: EngineState, target: Target) -> Outcomes:
    """TDC and valve corners of one cylinder: valves true or out, wheel true or out."""
    if state.outside or not state.cams_turn:
        return {"valves true, wheel true": 0.5, "valves out, wheel true": 0.5} if state.outside else {"no peak": 1.0}
    cams = [cam.id for cam in target.profile.cams]
    far = max((abs(state.valves_of(cam)) for cam in cams), default=0.0)
    out = 0.85 if state.unknown_valves_sd_deg else _beyond(far, numbers.CORNER_SEEN_DEG.value)
    wheel = _beyond(state.crank_wheel_deg + state.hub_deg, numbers.TDC_SEEN_DEG.value)
    sure = numbers.LOOK_RELIABILITY.value
    out, wheel = (sure * p + (1.0 - sure) * (1.0 - p) for p in (out, wheel))
    return {
        "valves true, wheel true": (1 - out) * (1 - wheel),
        "valves out, wheel true": out * (1 - wheel),
        "valves true, wheel out": (1 - out) * wheel,
        "valves out, wheel out": out * wheel,
    }


def _second_pressure(state: EngineState, target: Target) -> Outcomes:  # noqa: ARG001
    """A second cylinder of the same cam: the same corner is the cam, another one that cylinder's own valve train."""
    own = bool(state.still or state.worn_lobes)
    return _told("the same corner", "another corner", float(own), None if not state.outside else 0.5)


def _profile_right(state: EngineState, target: Target) -> Outcomes:  # noqa: ARG001
    wrong = (bool(state.readings_deg) or state.unknown_common_sd_deg > 0.0) and not state.outside
    return _told("right", "wrong", float(wrong))


def _known_good(state: EngineState, target: Target) -> Outcomes:
    """Against a known good engine: a wrong profile shows none of its offset, a faulty engine all of it."""
    cams = [cam.id for cam in target.profile.cams]
    off = max((abs(state.valves_of(c) + state.cam_signals_deg.get(c, 0.0) - state.hub_deg) for c in cams), default=0.0)
    off = max(off, abs(state.crank_wheel_deg))
    return _told("reads the same", "differs", _beyond(off, 3.0) if not state.outside else 0.5)


def _sweep(state: EngineState, target: Target) -> Outcomes:  # noqa: ARG001
    # One that rests where it should changes nothing about what is opened, however badly it follows: no reason to sweep.
    stuck = bool(state.phaser_deg) and state.phaser_when != "connected"
    if state.outside:
        return {"sweeps between its stops": 0.5, "a stop is missing": 0.5}
    return _told("sweeps between its stops", "a stop is missing", float(stuck))


def _running(state: EngineState, target: Target) -> Outcomes:
    """The other condition: what comes and goes is gone, what stays stays."""
    goes = bool(state.slack_deg and state.slack_when in ("cranking", "running")) or (
        bool(state.phaser_deg) and state.phaser_when in ("hot", "cold")
    )
    if state.outside:
        return {"the same": 0.6, "gone": 0.4}
    off = any(abs(state.reading_of(cam.id)) >= numbers.SHIFT_MIN_DEG.value for cam in target.profile.cams)
    return _told("gone", "the same", 0.0 if goes else 1.0) if off or goes else {"gone": 0.5, "the same": 0.5}


def _relative(state: EngineState, target: Target) -> Outcomes:
    relative = relative_pressures(pressed(state, target.profile))
    low = min(relative.values()) < 0.8 or bool(state.unknown_seal_sd)
    return _told("even", "uneven", float(low))


def _spark_turned(state: EngineState, target: Target) -> Outcomes:  # noqa: ARG001
    if state.outside:
        return {"right as it is": 0.4, "only the spark moves": 0.3, "spark and cam": 0.3}
    if state.spark_deg and state.cam_signals_deg:
        return {"spark and cam": 0.9, "only the spark moves": 0.05, "right as it is": 0.05}
    alone = bool(state.spark_deg)
    shown = "only the spark moves" if alone else "right as it is"
    return {
        name: 0.9 if name == shown else 0.05 for name in ("only the spark moves", "right as it is", "spark and cam")
    }


def _sync(state: EngineState, target: Target) -> Outcomes:  # noqa: ARG001
    clocked = bool(state.cam_signals_deg)
    return _told("stays out", "comes into its window", float(clocked) if not state.outside else 0.5)


def _signal_changes(state: EngineState, target: Target) -> Outcomes:  # noqa: ARG001
    return _told(
        "the signal stays", "the signal changes", float(bool(state.signals)) if not state.outside else 0.3, 0.9
    )


def _gauge(state: EngineState, target: Target) -> Outcomes:
    made = pressed(state, target.profile)
    own = made.get(target.cylinder or target.profile.firing_order[0], 1.0)
    if state.unknown_seal_sd:
        return {"low": 0.6, "fine": 0.4}
    return _told("fine", "low", float(own < 0.78))


def _leak_down(state: EngineState, target: Target) -> Outcomes:
    left = state.seal.get(target.cylinder or 0, 1.0) * state.seal_of_all
    if state.unknown_seal_sd:
        return {"leaks": 0.6, "tight": 0.4}
    return _told("tight", "leaks", float(left < 0.85))


def _noted(question_id: str) -> Callable[[JobEvidence, Target], bool]:
    def done(job: JobEvidence, target: Target) -> bool:
        asked = question(question_id)
        cylinder = target.cylinder if asked is not None and asked.per_cylinder else None
        return any(look.question == question_id and look.cylinder == cylinder for look in job.looks)

    return done


def _look(question_id: str, minutes: Entry, kind: str = "looks", **other: object) -> TechnicianTest:
    """A test that is one of the looks: its title, how, and outcomes are the question's own."""
    asked = question(question_id)
    assert asked is not None
    return TechnicianTest(
        test=question_id,
        title=asked.title,
        how=" ".join(filter(None, (asked.how, asked.caution))),
        minutes=minutes,
        cranks=asked.cranks,
        outcomes=_looked(question_id, kind),
        second_kind=asked.second_kind,
        done=_noted(question_id),
        answered_by=question_id,
        **other,  # type: ignore[arg-type]
    )


def _has_phaser(job: JobEvidence) -> bool:
    return any(cam.phaser for cam in job.profile.cams)


def _has_chain(job: JobEvidence) -> bool:
    return job.profile.drive is None or job.profile.drive.type == "chain"


def _has_spark(job: JobEvidence) -> bool:
    return job.profile.ignition is None or job.profile.ignition.type != "none"


def _runs(job: JobEvidence) -> bool:
    """Whether it may run: a car that does not start is not asked to."""
    complaint = job.told.complaint if job.told is not None else None
    return complaint is None or "no_start" not in complaint.symptoms


def _misfires(job: JobEvidence) -> bool:
    """Whether there is a misfire that can move with a coil."""
    complaint = job.told.complaint if job.told is not None else None
    felt = complaint is not None and {"misfire", "rough_idle"} & set(complaint.symptoms)
    return _has_spark(job) and _runs(job) and bool(felt)


def _clocked(job: JobEvidence) -> bool:
    profile = job.profile
    return (profile.drive is not None and profile.drive.type == "distributor_gear") or (
        profile.ignition is not None and profile.ignition.type == "distributor"
    )


def _measured(role: str) -> Callable[[JobEvidence, Target], bool]:
    return lambda job, target: any(c.recording.with_role(role) for c in job.captures)  # type: ignore[arg-type]  # noqa: ARG005


def _ran(job: JobEvidence, target: Target) -> bool:  # noqa: ARG001
    return any(reading.segment == "running" for capture in job.captures for reading in capture.cams)


def _cranked(job: JobEvidence, target: Target) -> bool:  # noqa: ARG001
    return any(capture.turned for capture in job.captures)


def _pressed(job: JobEvidence, target: Target) -> bool:  # noqa: ARG001
    return any(capture.compression is not None for capture in job.captures)


TESTS: tuple[TechnicianTest, ...] = (
    _look("marks", numbers.MINUTES_MARKS, "marks"),
    _look("crank_wheel", numbers.MINUTES_WHEEL_LOOK, "marks"),
    _look("cam_target", numbers.MINUTES_TARGET_LOOK, "marks"),
    _look("valve_moves", numbers.MINUTES_VALVE_LOOK, "marks"),
    _look("borescope", numbers.MINUTES_BORESCOPE, "marks"),
    _look("tensioner", numbers.MINUTES_TENSIONER, possible=_has_chain),
    _look("wiring", numbers.MINUTES_WIRING),
    _look("sensor_wires", numbers.MINUTES_SENSOR_WIRES),
    _look("rhythm", numbers.MINUTES_RHYTHM),
    _look("throttle_hand", numbers.MINUTES_THROTTLE_HAND),
    _look("fuel_by_hand", numbers.MINUTES_FUEL_BY_HAND, possible=_has_spark),
    _look("fuel_pressure", numbers.MINUTES_FUEL_PRESSURE),
    _look("exhaust_opened", numbers.MINUTES_EXHAUST_OPENED),
    _look("intake_opened", numbers.MINUTES_INTAKE_OPENED),
    _look("solenoid_swapped", numbers.MINUTES_SOLENOID_SWAPPED, possible=lambda job: _has_phaser(job) and _runs(job)),
    _look("coil_swapped", numbers.MINUTES_COIL_SWAPPED, possible=_misfires),
    _look("turns_by_hand", numbers.MINUTES_TURNS_BY_HAND),
    TechnicianTest(
        test="gauge",
        title="Compression gauge",
        how="Take all plugs out, open the throttle, turn fuel and ignition off; test every cylinder alike. "
        "Keep hands clear of plug holes.",
        minutes=numbers.MINUTES_GAUGE,
        cranks=True,
        outcomes=_gauge,
        done=_noted("gauge"),
        answered_by="gauge",
    ),
    TechnicianTest(
        test="leak_down",
        title="Leak-down of that cylinder",
        how="Check that the plug is tight first. Put the cylinder on its own TDC with the gear out: listen at "
        "intake, exhaust, filler and radiator. Air may turn the engine: leave no tool on the crank.",
        minutes=numbers.MINUTES_LEAK_DOWN,
        cranks=False,
        outcomes=_leak_down,
        done=_noted("leak_down"),
        answered_by="leak_down",
    ),
    TechnicianTest(
        test="wiggle",
        title="Wiggle and warm the sensor while watching its signal",
        how="Key on, engine standing: tap the sensor, move plug and loom, warm the sensor with measured temperature, a "
        "magnet before it; then supply, ground and leads nearby. Keep clear of belts and fans.",
        minutes=numbers.MINUTES_WIGGLE,
        cranks=False,
        outcomes=_signal_changes,
        done=_noted("wiring"),
    ),
    TechnicianTest(
        test="profile_check",
        title="Check the engine data",
        how="Compare wheel, index angle, timing edge and cam edges with the maker's data.",
        minutes=numbers.MINUTES_PROFILE_CHECK,
        cranks=False,
        outcomes=_profile_right,
    ),
    TechnicianTest(
        test="known_good",
        title="Compare with a known good engine",
        how="Find a capture of a healthy engine of this kind in the same condition, or record one.",
        minutes=numbers.MINUTES_KNOWN_GOOD,
        cranks=False,
        outcomes=_known_good,
        done=lambda job, target: any(  # noqa: ARG005
            reading.reference.source == "reference" for capture in job.captures for reading in capture.cams
        ),
    ),
    TechnicianTest(
        test="capture_cranking",
        title="Record it cranking: crank, cams and starter current",
        how="Turn the fuel off and unplug the phasers; crank in bursts of ten seconds or less, with rests.",
        minutes=numbers.MINUTES_CAPTURE,
        cranks=True,
        outcomes=lambda state, target: first_capture_outcomes(state, target.profile),
        done=_cranked,
    ),
    TechnicianTest(
        test="capture_running",
        title="Record it running too",
        how="The same signals idling, hot and cold if it can be, phasers unplugged: elongation stays, a tensioner or a "
        "phaser comes and goes.",
        minutes=numbers.MINUTES_CAPTURE,
        cranks=True,
        outcomes=_running,
        possible=_runs,
        done=_ran,
    ),
    TechnicianTest(
        test="relative_compression",
        title="Relative compression",
        how="Zero the clamp and put it round a battery cable; turn the fuel off; crank five seconds with the "
        "throttle open and a coil, a cam or the crank beside it.",
        minutes=numbers.MINUTES_RELATIVE,
        cranks=True,
        outcomes=_relative,
        done=_pressed,
    ),
    TechnicianTest(
        test="phaser_sweep",
        title="Drive the phaser and watch the cam",
        how="The engine idling, or the maker's procedure with a pressurised cylinder head: drive the solenoid from a "
        "fused supply or the scan tool and record the cam. It must sweep to both stops and come back to park.",
        minutes=numbers.MINUTES_SWEEP,
        cranks=True,
        outcomes=_sweep,
        possible=lambda job: _has_phaser(job) and _runs(job),
        done=lambda job, target: any(c.sweeps for c in job.captures),  # noqa: ARG005
    ),
    TechnicianTest(
        test="spark_turned",
        title="Turn the distributor, or swap the coil, and watch the spark",
        how="Does the spark move alone, or the cam's signal with it? Look which coil the lead is on. No bare probes.",
        minutes=numbers.MINUTES_SPARK_TURNED,
        cranks=True,
        outcomes=_spark_turned,
        possible=_has_spark,
    ),
    TechnicianTest(
        test="sync_adjust",
        title="Turn the sync drive while watching the offset",
        how="Loosen it, turn to the maker's window on the live signal, tighten, rev, look again. One degree of the "
        "body is two of the crank.",
        minutes=numbers.MINUTES_SYNC,
        cranks=True,
        outcomes=_sync,
        possible=_clocked,
    ),
    TechnicianTest(
        test="cylinder_pressure",
        title="Pressure in one cylinder with the crank signal",
        how="A transducer in place of a plug, that injector unplugged, its coil on an earthed gap: it shows the true "
        "TDC and when the valves move. Let the pressure off before taking the adapter out.",
        minutes=numbers.MINUTES_PRESSURE,
        cranks=True,
        outcomes=_pressure,
        second_kind=True,
        possible=lambda job: job.profile.valve_timing is not None,
        done=_measured("cylinder_pressure"),
    ),
    TechnicianTest(
        test="second_cylinder_pressure",
        title="Pressure in a second cylinder of the same cam",
        how="As before, in another cylinder that the same cam serves: the same corner is the cam.",
        minutes=numbers.MINUTES_PRESSURE,
        cranks=True,
        outcomes=_second_pressure,
        second_kind=True,
        possible=lambda job: any(c.recording.with_role("cylinder_pressure") for c in job.captures),
        done=lambda job, target: len({one.cylinder for c in job.captures for one in c.felt}) > 1,  # noqa: ARG005
    ),
    TechnicianTest(
        test="road_test",
        title="Road test",
        how="Where it is legal, somebody else watching the screen: full throttle in a low gear, load and trims logged.",
        minutes=numbers.MINUTES_ROAD,
        cranks=True,
        outcomes=lambda state, target: _told(
            "breathes",
            "too little air",
            float(
                state.exhaust_blocked > 0
                or state.intake_blocked > 0
                or any(abs(state.valves_of(cam.id)) >= numbers.CAUTION_LEAST_DEG.value for cam in target.profile.cams)
            ),
        ),
        possible=_runs,
        done=lambda job, target: bool(job.roads),  # noqa: ARG005
    ),
)
