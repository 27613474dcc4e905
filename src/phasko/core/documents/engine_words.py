"""The fields of an engine profile as technicians call them, and what each of them may hold, in words."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping

from pydantic import JsonValue

__all__ = ["field_title", "limit_words", "value_words"]

_TITLES: Mapping[str, str] = {
    "name": "Name",
    "cylinders": "Cylinders",
    "layout": "Layout",
    "banks": "The cylinders of each bank",
    "firing_order": "Firing order",
    "firing_angles_deg": "Firing angles",
    "displacement_l": "Displacement",
    "interference": "Whether valves can meet pistons",
    "geometry": "Bore, stroke and rod",
    "geometry.bore_mm": "Bore",
    "geometry.stroke_mm": "Stroke",
    "geometry.rod_mm": "Rod",
    "geometry.compression_ratio": "Compression ratio",
    "geometry.crank_offset_mm": "Crank offset",
    "crank.sensor": "Crank sensor",
    "crank.timing_edge": "Accurate edge of the crank signal",
    "crank.wheel": "The crank wheel",
    "crank.wheel.slots": "Slots of the crank wheel",
    "crank.wheel.missing": "Missing slots",
    "crank.wheel.teeth_deg": "Teeth of the crank wheel",
    "crank.index_deg": "Where tooth 1 passes",
    "crank.index_u95_deg": "How well tooth 1 is known",
    "crank.tooth_deg": "Tooth width",
    "cams": "The cams",
    "aux_wheels": "Further signal wheels",
    "valve_timing": "Valve timing",
    "drive": "Timing drive",
    "drive.type": "Kind of timing drive",
    "drive.pitch_mm": "Pitch of the chain or belt",
    "drive.crank_sprocket_teeth": "Teeth of the crank sprocket",
    "drive.pitch_crank_deg": "Pitches of each stage",
    "drive.free_links": "Free links to each cam",
    "ignition": "The ignition",
    "ignition.type": "Kind of ignition",
    "ignition.cranking_spark_deg": "Spark while cranking",
    "cranking_pressure_bar": "Cranking pressure",
    "valve_clearance_deg.exhaust_late": "How late the exhaust cam may be before valves meet pistons",
    "valve_clearance_deg.intake_early": "How early the intake cam may be before valves meet pistons",
    "typical_failures": "What this type is known for",
    "learnt.known_good": "How the car it was learnt from was known to be good",
}
_OF_CAM: Mapping[str, str] = {
    "edges": "Edges",
    "edges_u95_deg": "How well the edges are known",
    "tolerance_deg": "Tolerance",
    "bank": "Bank",
    "shaft": "Shaft",
    "sensor": "Sensor",
    "timing_edge": "Accurate edge",
    "teeth_deg": "Teeth",
    "turns_with": "What it turns with",
    "phaser.park": "Where its phaser parks",
    "phaser.range_deg": "Range of its phaser",
    "phaser": "Phaser",
    "id": "Name",
}
_LIMITS: Mapping[str, str] = {
    "name": "an engine needs a name",
    "cylinders": "an engine has 1 to 24 cylinders",
    "firing_order": "write each cylinder once, as in 1-3-4-2",
    "crank.index_deg": "tooth 1 passes between 0 and 360° after TDC 1",
    "crank.index_u95_deg": "it is known to within 0 to 90°",
    "crank.tooth_deg": "a tooth is less than 360° wide",
    "crank.wheel.slots": "a wheel has 2 to 720 slots",
    "crank.wheel.missing": "missing slots are numbers of slots that the wheel has",
    "crank.wheel.teeth_deg": "teeth stand between 0 and 360° after tooth 1, which is 0",
    "displacement_l": "an engine displaces 0.02 to 60 l; 2998 cm³ are 2.998 l",
    "geometry.bore_mm": "a bore is 10 to 400 mm",
    "geometry.stroke_mm": "a stroke is 10 to 500 mm",
    "geometry.rod_mm": "a rod is 20 to 1200 mm long",
    "geometry.compression_ratio": "a compression ratio is over 1 and up to 40",
    "drive.pitch_mm": "a pitch is 2 to 60 mm",
    "drive.crank_sprocket_teeth": "a crank sprocket has 5 to 200 teeth",
    "cranking_pressure_bar": "a cylinder reaches 0.5 to 100 bar while cranking; low and high",
    "valve_timing": "valves open and close between 0 and 720° after their cylinder's TDC",
    "firing_angles_deg": "cylinders fire between 0 and 720°, the first at 0",
    "cams.edges.deg": "edges stand between 0 and 720° after TDC 1",
    "cams.edges": "rising and falling edges take turns, each at its own angle",
    "cams.edges_u95_deg": "edges are known to within 0 to 90°",
    "cams.tolerance_deg": "a tolerance is over 0 and up to 90°",
    "cams.phaser.range_deg": "a phaser moves over 0 and up to 180° of the crank",
    "cams.bank": "banks are numbered from 1",
    "aux_wheels.teeth_deg": "teeth stand between 0 and 720°",
}
_UNITS = (("_deg", "°"), ("_mm", " mm"), ("_l", " l"), ("_bar", " bar"), ("_s", " s"))


def field_title(field: str) -> str:
    """``crank.index_deg`` as ``Where tooth 1 passes``; ``cams[B1I].edges`` as ``Edges of B1I``."""
    cam = re.fullmatch(r"(?:cams|aux_wheels)\[(.+?)\](?:\.(.+))?", field)
    if cam:
        return f"{_OF_CAM.get(cam[2] or '', 'All')} of {cam[1]}" if cam[2] else f"All of {cam[1]}"
    inside = next((title for name, title in _TITLES.items() if name.endswith(f".{field}")), None)
    return _TITLES.get(field) or inside or _TITLES.get(field.rsplit(".", 1)[0]) or _plain(field)


def limit_words(field: str) -> str | None:
    """What a field may hold; places in lists leave no trace (``cams.0.edges.2.deg``). ``None`` where nothing is
    known."""
    bare = re.sub(r"\.\d+(?=\.|$)", "", field)
    while bare:
        if bare in _LIMITS:
            return _LIMITS[bare]
        bare = bare.rpartition(".")[0]
    return None


def value_words(field: str, value: JsonValue) -> str:
    """A value of that field as one reads it: ``60-2``, ``1-3-4-2``, ``40° rising, 130° falling``, ``2.1 l``."""
    match value:
        case bool():
            return "yes" if value else "no"
        case int() | float():
            unit = next((words for ending, words in _UNITS if _last(field).endswith(ending)), "")
            return f"{value:g}{unit}"
        case str():
            return _plain(value) if value.isascii() and value.islower() else value
        case list():
            between = "-" if _last(field) == "firing_order" else ", "
            return between.join(value_words(field, one) for one in value) or "none"
        case dict():
            return _parts_words(value)
        case _:
            return "not known" if value is None else json.dumps(value)


def _parts_words(value: dict[str, JsonValue]) -> str:
    """An edge, a bank, or whatever else has parts."""
    if "deg" in value and "kind" in value:
        return f"{value_words('at_deg', value['deg'])} {value['kind']}"
    if "bank" in value and "cylinders" in value:
        return f"bank {value['bank']}: {value_words('', value['cylinders'])}"
    return ", ".join(f"{_plain(name)} {value_words(name, one)}" for name, one in value.items())


def _last(field: str) -> str:
    return field.rpartition(".")[2]


def _plain(name: str) -> str:
    bare = re.sub(r"_(deg|mm|bar|u95_deg|l)$", "", name.rpartition(".")[2])
    return bare.replace("_", " ")
