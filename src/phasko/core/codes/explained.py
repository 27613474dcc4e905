"""Codes explained: the public title, what they really say, what sets them, cause or consequence."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from phasko.core.codes.lamp import status_words
from phasko.core.codes.meaning import About, CodeMeaning, cam_of, code_meaning
from phasko.core.codes.titles import code_title, is_makers_own
from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.job import Code, Sorted
from phasko.core.words import cam_name, lower_first

__all__ = ["ExplainedCode", "explain_codes"]


@dataclass(frozen=True, slots=True)
class ExplainedCode:
    """One code. ``title``: the public one, ``None`` where there is none. ``says``: what it really says on this engine;
    ``set_by``: what makes the control unit set it; ``status``: what its status means. ``sort``: a cause, a consequence,
    or unrelated and kept for the owner; ``sorted_by_hand`` when a person said so. ``one_with``: the signal that it is
    one piece of evidence with."""

    code: str
    title: str | None
    says: str
    set_by: str
    status: str
    sort: Sorted
    sorted_by_hand: bool
    one_with: str | None


@dataclass(frozen=True, slots=True)
class _Told:
    says: str
    set_by: str
    one_with: str | None = None


_ABOUT: Mapping[About, _Told] = {
    "correlation": _Told(
        "Crank and cam signal are out of step by more than the control unit allows. That may be the drive, the phaser, "
        "a signal wheel, the sensor's place, or the software's limit; the title does not say which.",
        "The cam's edges against the crank's gap, mostly while the phaser should be parked.",
        "the crank and cam signals",
    ),
    "crank_sensor": _Told(
        "The control unit did not see the crank signal as it expects it. That is the sensor, its wires, its supply, "
        "the wheel, or two good signals that do not agree.",
        "Missing, too many or implausible pulses while another signal shows that the engine turns.",
        "the crank signal",
    ),
    "cam_sensor": _Told(
        "The control unit did not see this cam's signal as it expects it. A whole signal that is out of step sets it "
        "too; “no signal” in a title is not always no signal.",
        "No edge, wrong edges, or an edge outside its window while the crank signal is good.",
        "that cam's signal",
    ),
    "phaser": _Told(
        "The cam is not where the control unit wants it. That is the phaser, its solenoid or screen, oil, or a drive "
        "that is off: a jumped chain sets it as well.",
        "The cam's measured angle against the wanted one for some seconds, mostly with warm oil.",
        "that cam's offset",
    ),
    "solenoid": _Told(
        "The solenoid's circuit, electrically: open, shorted, or without supply. It says nothing of timing by itself.",
        "The driver's current or voltage in the control unit. A solenoid unplugged for a capture sets it.",
    ),
    "misfire": _Told(
        "The crank slowed after this cylinder's turn. It may not seal, not breathe, not spark, or get no fuel.",
        "The crank's own speed from tooth to tooth; a moved crank wheel or a rough road misleads it.",
        "that cylinder's compression",
    ),
    "misfire_random": _Told(
        "Misfires that were not given to one cylinder. Often it is one cylinder all the same.",
        "The crank's own speed from tooth to tooth.",
    ),
    "coil": _Told(
        "The coil's circuit, electrically. A spark that the control unit withholds itself does not set it.",
        "The driver's current or the primary's voltage.",
    ),
    "not_learned": _Told(
        "The control unit does not know the crank wheel's small errors yet, so that it cannot see misfires well. Usual "
        "after work on crank, wheel or control unit.",
        "The learning drive has not been done.",
    ),
}
"""Common practice, no published source."""

_CONSEQUENCES: Mapping[str, str] = {
    "P0299": "Too little boost: a consequence where the engine breathes badly or was switched to a reduced mode.",
    "P0315": "Not learned: a consequence of work that was done.",
    "P0420": "The catalyst: often a consequence of misfires that ran into it.",
    "P0430": "The catalyst: often a consequence of misfires that ran into it.",
    "P0562": "Low system voltage: often a consequence of long cranking.",
    "U0100": "Lost communication: often a consequence of low voltage, or of a supply that is missing.",
}
_BREATHING = {"P0101", "P0106", "P0171", "P0172", "P0174", "P0175"}


def explain_codes(codes: Sequence[Code], profile: EngineProfile) -> tuple[ExplainedCode, ...]:
    """Every code of a job in words for this engine, in the order in which they were noted."""
    causes = any(code_meaning(code.code) is not None for code in codes)
    return tuple(_explained(code, profile, causes) for code in codes)


def _explained(code: Code, profile: EngineProfile, causes: bool) -> ExplainedCode:
    name = code.code.strip().upper()
    meaning = code_meaning(name)
    told = _told(name, meaning, profile)
    return ExplainedCode(
        code=name,
        title=code_title(name),
        says=told.says,
        set_by=told.set_by,
        status=status_words(code),
        sort=code.sort or _sort(name, meaning, causes),
        sorted_by_hand=code.sort is not None,
        one_with=told.one_with,
    )


def _told(name: str, meaning: CodeMeaning | None, profile: EngineProfile) -> _Told:
    if meaning is not None:
        told = _ABOUT[meaning.about]
        return _Told(f"{told.says}{_place(meaning, profile)}", told.set_by, told.one_with)
    if name[:5] in _CONSEQUENCES:
        return _Told(_CONSEQUENCES[name[:5]], "")
    if name[:5] in _BREATHING:
        return _Told(
            "Air and fuel do not fit together. A leak, a sensor, fuel pressure; also valve timing, a blocked exhaust.",
            "Trims or the modelled air against the measured one.",
        )
    if is_makers_own(name):
        return _Told("The maker's own code: look it up in the maker's list. Its meaning is not guessed here.", "")
    if code_title(name) is not None:
        return _Told("It says nothing about timing, signals or cylinders by itself.", "")
    return _Told("No title ships for this code: look it up. It counts for nothing here.", "")


def _place(meaning: CodeMeaning, profile: EngineProfile) -> str:
    """Which cam of this engine is meant, or that it has none such."""
    if meaning.cylinder is not None:
        return "" if meaning.cylinder in profile.firing_tdc_deg else " This engine has no such cylinder: wrong car?"
    if meaning.shaft is None or not profile.cams:
        return ""
    cam = cam_of(meaning, profile)
    if cam is None:
        return f" The profile of this engine has no {meaning.shaft} cam in bank {meaning.bank}."
    return f" On this engine: the {lower_first(cam_name(cam, profile))}."


def _sort(name: str, meaning: CodeMeaning | None, causes: bool) -> Sorted:
    """What the code is likely to be beside the others."""
    if meaning is not None and meaning.about != "not_learned":
        return "cause"
    if name[:5] in _CONSEQUENCES and causes:
        return "consequence"
    return "cause" if name[:5] in _BREATHING else "unrelated"
