"""What the owner and the scan tool tell of a practice car: complaint, codes, history, and what leads nowhere."""

from __future__ import annotations

import random
from collections.abc import Mapping
from dataclasses import dataclass

from phasko.bench.blind.car import Herring, Hidden
from phasko.core.documents import EngineProfile
from phasko.core.documents.job import JobDocument

__all__ = ["Story", "told_of"]


@dataclass(frozen=True, slots=True)
class Story:
    """What is told, and which of it leads nowhere."""

    told: JobDocument
    herrings: tuple[Herring, ...]


_COMPLAINTS: Mapping[str, tuple[tuple[str, tuple[str, ...], tuple[str, ...]], ...]] = {
    "timing": (
        ("Has no pull since it stalled on the quay; idles like a tractor", ("lack_of_power", "rough_idle"), ()),
        ("Cranks and cranks and hardly catches", ("hard_start",), ()),
        ("Would not start after the night on the ferry", ("no_start",), ("after_standing",)),
        ("Weak on every hill, and uses more than it did", ("lack_of_power",), ("load",)),
    ),
    "worn": (
        ("Rattles for a moment at the start, tired on hills", ("rattle", "lack_of_power"), ("cold",)),
        ("Slower year by year; rattles when it is started cold", ("rattle",), ("cold",)),
    ),
    "phaser": (
        ("Idles badly and is weak at low speed", ("rough_idle", "lack_of_power"), ("idle",)),
        ("Stumbles at the lights once it is warm", ("rough_idle",), ("hot", "idle")),
    ),
    "after_work": (
        ("Hard to start and weak since it was in another workshop", ("hard_start", "lack_of_power"), ("after_repair",)),
        ("Spits back since work was done at the front of the engine", ("rough_idle",), ("after_repair",)),
    ),
    "sensor": (
        ("Cuts out for a moment and goes on as if nothing had been", ("stalls",), ("intermittent",)),
        ("Some days it does not start at the first try", ("hard_start",), ("intermittent",)),
        ("Stalled twice on the way to the lighthouse", ("stalls",), ("hot", "intermittent")),
    ),
    "cylinder": (
        ("Shakes at idle, the mirror hums", ("rough_idle", "misfire"), ("idle",)),
        ("Misses under load, plugs and leads are new", ("misfire",), ("load",)),
    ),
    "breathing": (
        ("Will not go over 60, whatever the pedal says", ("lack_of_power",), ("load",)),
        ("Dies slowly when it is driven hard, and comes back after a rest", ("lack_of_power",), ("load", "hot")),
    ),
    "nothing": (
        ("The driver asks for a second look before the winter", ("none",), ()),
        ("The lamp was on once, nobody noticed anything", ("none",), ()),
        ("Bought at an auction; is it sound?", ("none",), ()),
    ),
}

_KIND: Mapping[str, str] = {
    "none": "nothing",
    "chain_stretched": "worn",
    "tensioner_slack": "worn",
    "phaser_off_park": "phaser",
    "crank_sprocket_slipped": "after_work",
    "crank_hub_slipped": "after_work",
    "cam_signal_shifted": "after_work",
    "crank_signal_shifted": "after_work",
    "sync_misadjusted": "after_work",
    "ignition_mistimed": "after_work",
    "cam_sensor_fault": "sensor",
    "crank_sensor_fault": "sensor",
    "induced_pulses": "sensor",
    "weak_cylinder": "cylinder",
    "valve_train": "cylinder",
    "exhaust_restricted": "breathing",
    "intake_restricted": "breathing",
    "something_else": "breathing",
}
"""Of every other fault the complaint is one of timing."""

_TRUE_WORK: Mapping[str, str] = {
    "cam_slipped": "cam",
    "crank_sprocket_slipped": "crank_pulley",
    "crank_hub_slipped": "crank_pulley",
    "crank_signal_shifted": "crank_pulley",
    "cam_signal_shifted": "cam_sensor",
    "sync_misadjusted": "distributor",
    "chain_jumped": "drive",
}
"""Work just before the symptom that has to do with it."""
_IN_VAIN = ("cam_sensor", "crank_sensor", "coil", "injector", "fuel_pump", "solenoid", "control_unit")
_PART_WORDS: Mapping[str, str] = {
    "cam_sensor": "cam sensor",
    "crank_sensor": "crank sensor",
    "coil": "coil",
    "injector": "injector",
    "fuel_pump": "fuel pump",
    "solenoid": "solenoid",
    "control_unit": "control unit",
    "drive": "timing drive",
}
_BY = ("the harbour crew", "the last owner", "a workshop on the mainland", "the driver himself")
_MISLEADING: tuple[str, ...] = ("P0340", "P0335", "P0300", "P0171", "P0420", "P0087", "P0101", "P0116")
_CORRELATION_DEG = 9.0
_OVER_RETARDED_DEG = 8.0


def told_of(hidden: Hidden, engine: EngineProfile, text_seed: random.Random) -> Story:
    """The story of a car with that fault; drawn from ``text_seed``."""
    rng, herrings = text_seed, []
    text, symptoms, when = rng.choice(_COMPLAINTS[_KIND.get(hidden.fault, "timing")])
    codes = _true_codes(hidden, engine)
    if rng.random() < 0.35:
        code = rng.choice([one for one in _MISLEADING if one not in codes])
        codes.append(code)
        herrings.append(Herring(what=f"{code} has another cause"))
    replaced = []
    work = _TRUE_WORK.get(hidden.fault)
    if work is not None and rng.random() < 0.5:
        replaced.append({"part": work, "when": "before_symptom", "effect": "changed", "by": rng.choice(_BY)})
    elif rng.random() < 0.12:
        replaced.append({"part": "drive", "when": "before_symptom", "effect": "none", "by": rng.choice(_BY)})
        herrings.append(Herring(what="the timing drive was renewed in good order"))
    # Whoever replaced a part in vain had something to complain of.
    if hidden.fault != "none" and rng.random() < 0.5:
        part = rng.choice(_IN_VAIN)
        replaced.append({"part": part, "when": "after_symptom", "effect": "none", "by": rng.choice(_BY)})
        herrings.append(Herring(what=f"the {_PART_WORDS[part]} was replaced in vain"))
    if hidden.present == "not_today":
        herrings.append(Herring(what="the symptom does not show today"))
    worn = hidden.fault in ("chain_stretched", "tensioner_slack")
    told = {
        "schema": "phasko.job/1",
        "complaint": {
            "text": text,
            "symptoms": list(symptoms),
            "when": list(when),
            "distance_km": 1000 * (rng.randint(120, 190) if worn else rng.randint(8, 170)),
        },
        "codes": [{"code": code, "status": rng.choice(("current", "stored", "stored"))} for code in codes],
        "replaced": replaced,
        "costs": {"labour_per_hour": 70, "currency": "crowns"},
    }
    return Story(JobDocument.model_validate(told), tuple(herrings))


def _true_codes(hidden: Hidden, engine: EngineProfile) -> list[str]:
    """Codes that the control unit of this car would have set (SAE J2012, from memory)."""
    found: list[str] = []
    for cam in engine.cams:
        off = hidden.valves_deg.get(cam.id, 0.0) + hidden.target_deg.get(cam.id, 0.0) - hidden.wheel_deg
        exhaust = cam.shaft == "exhaust"
        if abs(off) > _CORRELATION_DEG:
            found.append(
                {(1, False): "P0016", (1, True): "P0017", (2, False): "P0018"}.get((cam.bank, exhaust), "P0019")
            )
        if cam.phaser is not None and hidden.fault == "phaser_off_park" and abs(off) > _OVER_RETARDED_DEG:
            late = off > 0.0
            table = {(1, False): "P0012" if late else "P0011", (1, True): "P0015" if late else "P0014"}
            table |= {(2, False): "P0022" if late else "P0021", (2, True): "P0025" if late else "P0024"}
            found.append(table[(min(cam.bank, 2), exhaust)])
    if hidden.fault in ("cam_sensor_fault", "induced_pulses") and hidden.cams:
        found.append("P0340" if hidden.signals.get(hidden.cams[0]) == "lost" else "P0341")
    if "crank" in hidden.signals:
        found.append("P0335" if hidden.signals["crank"] == "lost" else "P0336")
    if hidden.fault in ("weak_cylinder", "valve_train"):
        found.append(f"P030{hidden.cylinders[0]}")
    return list(dict.fromkeys(found))
