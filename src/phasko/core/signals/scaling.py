"""From the volts of a clamp or transducer to amperes and bar: usual ones, and a line through two points."""

from __future__ import annotations

from dataclasses import dataclass

from phasko.core.documents.capture import Role
from phasko.core.errors import DocumentError

__all__ = ["PRESETS", "Line", "Preset", "line_through", "preset"]

_PSI_BAR = 0.0689476
"""1 psi in bar (NIST SP 811, B.8: 6.894757e3 Pa)."""


@dataclass(frozen=True, slots=True)
class Line:
    """value = raw · ``scale`` + ``offset``, in ``unit``."""

    scale: float
    offset: float
    unit: str


@dataclass(frozen=True, slots=True)
class Preset:
    """A usual sensor: its line and the role it belongs to."""

    id: str
    name: str
    role: Role
    line: Line


PRESETS = (
    Preset("clamp_1mv", "Clamp, 1 mV/A", "starter_current", Line(1000.0, 0.0, "A")),
    Preset("clamp_10mv", "Clamp, fine range, 1 mV/100 mA", "starter_current", Line(100.0, 0.0, "A")),
    Preset("clamp_100mv", "Clamp, 100 mV/A", "starter_current", Line(10.0, 0.0, "A")),
    Preset("attenuator_10", "Attenuator 10:1", "coil", Line(10.0, 0.0, "V")),
    Preset("attenuator_20", "Attenuator 20:1", "coil", Line(20.0, 0.0, "V")),
    Preset("bar_per_v", "Transducer, 1 bar/V", "cylinder_pressure", Line(1.0, 0.0, "bar")),
    Preset(
        "psi_500",
        "Transducer, 0.5 to 4.5 V for 0 to 500 psi",
        "cylinder_pressure",
        Line(500 * _PSI_BAR / 4.0, -500 * _PSI_BAR / 8.0, "bar"),
    ),
    Preset(
        "psi_200",
        "Transducer, 0.5 to 4.5 V for 0 to 200 psi",
        "cylinder_pressure",
        Line(200 * _PSI_BAR / 4.0, -200 * _PSI_BAR / 8.0, "bar"),
    ),
    Preset(
        "bar_35",
        "Transducer, 0.5 to 4.5 V for 0 to 35 bar",
        "cylinder_pressure",
        Line(35.0 / 4.0, -35.0 / 8.0, "bar"),
    ),
)


def preset(preset_id: str) -> Preset:
    """Raises DocumentError for one that there is not."""
    for one in PRESETS:
        if one.id == preset_id:
            return one
    raise DocumentError(f"There is no preset {preset_id!r}", place="preset")


def line_through(raw_1: float, value_1: float, raw_2: float, value_2: float, unit: str) -> Line:
    """The line through two readings that somebody knows. Raises DocumentError where they are the same."""
    if raw_1 == raw_2 or value_1 == value_2:
        raise DocumentError(
            "The two points of a line must differ, in what was read and in what it means",
            place="scale",
            remedy="Give one reading at rest and one at a known value.",
        )
    scale = (value_2 - value_1) / (raw_2 - raw_1)
    return Line(scale, value_1 - scale * raw_1, unit)
