"""Guides with a meter: a sensor's wires found, an inductive pair, a solenoid, a terminal, batteries, a good ground."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from phasko.core import numbers
from phasko.core.documents.job import Guided, Look

__all__ = ["GUIDES", "Guide", "GuideField", "GuideVerdict", "guide_of", "guide_verdict"]


@dataclass(frozen=True, slots=True)
class GuideField:
    """One reading: its name, title and unit; or, without a unit, a choice between ``answers`` (id, title)."""

    name: str
    title: str
    unit: str | None = None
    answers: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True, slots=True)
class GuideVerdict:
    """What the readings say. ``look``: the answer that they are noted under, where they are evidence; ``missing``: what
    is still to be read."""

    words: str
    look: Look | None = None
    missing: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Guide:
    """A guide: how it is done in steps, what is read, and what to mind. ``about``: it belongs to a sensor, a cam with a
    phaser, or nothing. ``question``: the look that its verdict is noted under."""

    id: str
    title: str
    steps: tuple[str, ...]
    fields: tuple[GuideField, ...]
    caution: str
    about: str
    verdict: Callable[[Guided], GuideVerdict]
    question: str | None = None


def _number(name: str, title: str, unit: str) -> GuideField:
    return GuideField(name, title, unit)


def _choice(name: str, title: str, *answers: tuple[str, str]) -> GuideField:
    return GuideField(name, title, None, answers)


_WIRES = (1, 2, 3)


def _sensor_wires(guided: Guided) -> GuideVerdict:
    """Supply, ground and signal among three wires. With the plug off, a pull-up in the control unit may show the
    supply's voltage on the signal wire too; it sags under a small load."""
    read = guided.readings
    missing = tuple(f"Wire {w}: {what}" for w in _WIRES for key, what in _NEEDED if f"{key}{w}" not in read)
    if missing:
        return GuideVerdict("Not read whole yet.", None, missing)
    grounds = [w for w in _WIRES if read[f"ohm{w}"] <= numbers.GROUND_MOST_OHM.value and read[f"volt{w}"] < 0.5]
    fed = [w for w in _WIRES if w not in grounds and _is_supply(read[f"volt{w}"])]
    supplies = [w for w in fed if not _sags(read, w)]
    if not grounds:
        return GuideVerdict(
            "No wire has a ground: look for it back along the loom. A sensor without ground runs badly without a code.",
            _wires_look("ground_missing"),
        )
    if not fed:
        return GuideVerdict("No wire has a supply with the key on.", _wires_look("supply_missing"))
    if len(supplies) > 1:
        return GuideVerdict(
            f"Wires {supplies[0]} and {supplies[1]} both read as a supply: load each with a kilohm to ground and read "
            "again. The one that sags is the signal.",
            None,
            tuple(f"Wire {w}: volts under load" for w in supplies if f"loaded{w}" not in read),
        )
    if not supplies:
        return GuideVerdict(
            "What reads as a supply sags under a small load: the supply is missing, this is a pull-up, or its wire is "
            "nearly broken.",
            _wires_look("supply_missing"),
        )
    signal = next((w for w in _WIRES if w not in (supplies[0], grounds[0])), None)
    return GuideVerdict(
        f"Wire {supplies[0]} is the supply ({read[f'volt{supplies[0]}']:.1f} V), wire {grounds[0]} the ground, wire "
        f"{signal} the signal. The second sensor of a car may be wired the other way round.",
        _wires_look("right"),
    )


_NEEDED = (("volt", "volts, key on"), ("ohm", "ohms to the engine, key off"))


def _is_supply(volts: float) -> bool:
    low, high, battery_low, battery_high = (entry.value for entry in numbers.SUPPLY_V)
    return low <= volts <= high or battery_low <= volts <= battery_high


def _sags(read: Mapping[str, float], wire: int) -> bool:
    loaded = read.get(f"loaded{wire}")
    return loaded is not None and read[f"volt{wire}"] - loaded > numbers.SUPPLY_SAGS_V.value


def _wires_look(answer: str) -> Look:
    return Look(question="sensor_wires", answer=answer)


def _vr_pair(guided: Guided) -> GuideVerdict:
    read, said = guided.readings, guided.answers
    if "ohm" not in read:
        return GuideVerdict("Not read whole yet.", None, ("Resistance of the pair",))
    ohm = read["ohm"]
    if ohm < _VR_OHM[0]:
        return GuideVerdict(f"{ohm:g} Ω: its winding is shorted.", _wires_look("ground_missing"))
    if ohm > _VR_OHM[1]:
        return GuideVerdict(f"{ohm:g} Ω: its winding or a wire is open.", _wires_look("supply_missing"))
    if said.get("signal") == "neither":
        return GuideVerdict(
            "The winding is whole and neither wire shows a sine: its gap, its wheel, or a lead that touches nothing. "
            "Read between both wires before naming a fault."
        )
    if said.get("signal") == "one":
        return GuideVerdict("The other wire is the return. The signal is whole.", _wires_look("right"))
    if said.get("signal") == "both":
        return GuideVerdict("A sine on both, one the mirror of the other: whole.", _wires_look("right"))
    return GuideVerdict(f"{ohm:g} Ω: a usual winding.", None, ("Which wire shows a sine while it turns",))


_VR_OHM = (50.0, 5000.0)
"""An inductive pick-up's winding has about 200 to 2000 ohms; outside of this it has none (ohm, common practice)."""


def _solenoid(guided: Guided) -> GuideVerdict:
    read = guided.readings
    if "own" not in read:
        return GuideVerdict("Not read whole yet.", None, ("Its own resistance",))
    own = read["own"]
    low, high = read.get("maker_low"), read.get("maker_high")
    if low is not None and high is not None:
        fits = low <= own <= high
        words = f"{own:g} Ω, the maker says {low:g} to {high:g} Ω: {'right' if fits else 'off'}."
        return GuideVerdict(words, _solenoid_look(fits))
    other = read.get("other")
    if other is None:
        return GuideVerdict(f"{own:g} Ω.", None, ("Its neighbour's resistance, or the maker's limits",))
    fits = abs(own - other) <= numbers.SOLENOID_APART_SHARE.value * max(other, 0.1)
    return GuideVerdict(
        f"{own:g} Ω, its neighbour {other:g} Ω: {'alike' if fits else 'not alike'}. Electrically right is not yet "
        "free to move.",
        _solenoid_look(fits),
    )


def _solenoid_look(right: bool) -> Look:
    return Look(question="solenoid_resistance", answer="right" if right else "off")


def _terminal(guided: Guided) -> GuideVerdict:
    grip = guided.answers.get("grip")
    if grip is None:
        return GuideVerdict("Not tried yet.", None, ("How the test pin goes in and out",))
    if grip == "firm":
        return GuideVerdict("Every terminal grips like its neighbours.", Look(question="wiring", answer="good"))
    return GuideVerdict(
        "A terminal that does not grip loses contact when it is warm or shaken: renew it, then test again.",
        Look(question="wiring", answer="damaged"),
    )


def _batteries(guided: Guided) -> GuideVerdict:
    read = guided.readings
    missing = tuple(
        title for name, title in (("clamp", "The clamp's zero"), ("probe", "The probe's")) if name not in read
    )
    if missing:
        return GuideVerdict("Not read whole yet.", None, missing)
    off = [name for name, least in (("clamp", 5.0), ("probe", 0.1)) if abs(read[name]) > least]
    if off:
        return GuideVerdict(
            f"The {' and the '.join(off)} will not be zeroed: a battery is low, or it is on the wrong range."
        )
    return GuideVerdict("Both are at zero: their batteries hold.")


def _ground(guided: Guided) -> GuideVerdict:
    if "drop" not in guided.readings:
        return GuideVerdict("Not read whole yet.", None, ("Millivolts while cranking",))
    drop = guided.readings["drop"]
    if abs(drop) <= _GROUND_DROP_MV:
        return GuideVerdict(f"{drop:g} mV: a good ground.")
    return GuideVerdict(
        f"{drop:g} mV between the scope's ground and the engine: clip it to bare metal of the engine itself, or every "
        "low level is read too high."
    )


_GROUND_DROP_MV = 100.0
"""More between two grounds while cranking is a bad one (mV, common practice)."""


GUIDES: tuple[Guide, ...] = (
    Guide(
        id="sensor_wires",
        title="Find a sensor's three wires",
        steps=(
            "Key on, plug off: volts of each wire against the engine.",
            "Key off, wait two to three minutes until the networks sleep: ohms of each wire to the engine.",
            "Two wires read as a supply: load each with a kilohm to ground, and read once more.",
            "What remains is the signal. Two sensors of one car may differ.",
        ),
        fields=(
            *(_number(f"volt{w}", f"Wire {w}, key on", "V") for w in _WIRES),
            *(_number(f"ohm{w}", f"Wire {w} to the engine, key off", "Ω") for w in _WIRES),
            *(_number(f"loaded{w}", f"Wire {w} under a kilohm", "V") for w in _WIRES),
        ),
        caution="The engine may start by itself with the key on: hands clear. Never ohms on a live wire.",
        about="sensor",
        verdict=_sensor_wires,
        question="sensor_wires",
    ),
    Guide(
        id="vr_pair",
        title="Inductive sensor: its pair of wires",
        steps=(
            "Plug off: resistance of the pair.",
            "Turn the engine with one wire on the scope, then with the other: a sine on either, mirrored.",
            "Flat on one may only mean that it is the return.",
        ),
        fields=(
            _number("ohm", "Resistance of the pair", "Ω"),
            _choice(
                "signal", "A sine while it turns", ("one", "On one wire"), ("both", "On both"), ("neither", "On none")
            ),
        ),
        caution="Fuel off before the engine is turned.",
        about="sensor",
        verdict=_vr_pair,
        question="sensor_wires",
    ),
    Guide(
        id="solenoid",
        title="Solenoid's resistance",
        steps=(
            "Unplugged, at the solenoid's own pins.",
            "Its neighbour likewise, equally warm, or the maker's limits.",
        ),
        fields=(
            _number("own", "This one", "Ω"),
            _number("other", "Its neighbour", "Ω"),
            _number("maker_low", "Maker, at least", "Ω"),
            _number("maker_high", "Maker, at most", "Ω"),
        ),
        caution="Hot exhaust may be near.",
        about="phaser",
        verdict=_solenoid,
        question="solenoid_resistance",
    ),
    Guide(
        id="terminal",
        title="Drag of a terminal",
        steps=(
            "A test pin of the right size, nothing else: a probe that is too thick opens the terminal.",
            "In and out of each terminal: every one has to grip like its neighbours.",
        ),
        fields=(
            _choice(
                "grip", "The pin", ("firm", "Grips like its neighbours"), ("loose", "Slides"), ("falls", "Falls out")
            ),
        ),
        caution="Key off.",
        about="sensor",
        verdict=_terminal,
        question="wiring",
    ),
    Guide(
        id="batteries",
        title="Batteries of clamp and probe",
        steps=("Switch on, zero, wait half a minute: it has to stay there.",),
        fields=(_number("clamp", "Clamp after zeroing", "A"), _number("probe", "Transducer after zeroing", "bar")),
        caution="",
        about="",
        verdict=_batteries,
    ),
    Guide(
        id="ground",
        title="A good ground",
        steps=(
            "Clip the scope's ground to bare metal of the engine.",
            "Meter from there to the battery's minus while it is cranked.",
        ),
        fields=(_number("drop", "While cranking", "mV"),),
        caution="Keep hands clear of belts and fans; turn the fuel off.",
        about="",
        verdict=_ground,
    ),
)


def guide_of(guide_id: str) -> Guide | None:
    """The guide of that name; ``None`` where there is none."""
    return next((one for one in GUIDES if one.id == guide_id), None)


def guide_verdict(guided: Guided) -> GuideVerdict | None:
    """What the readings taken by a guide say; ``None`` for a guide that is not known."""
    guide = guide_of(guided.guide)
    return None if guide is None else guide.verdict(guided)
