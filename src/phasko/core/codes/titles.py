"""The public titles of trouble codes, in the wording of SAE J2012 and ISO 15031-6.

The wording is from memory, not read off the printed standard. Codes that the maker defines (second character 1, and a
part of those with 3) have no public title, and none is guessed.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping

__all__ = ["TITLES", "code_title", "is_makers_own"]

_FAULTS = ("Circuit", "Circuit Range/Performance", "Circuit Low", "Circuit High", "Circuit Intermittent")


def _families() -> Iterator[tuple[int, str]]:
    """Titles of the powertrain codes that come in rows, by their number."""
    for first, shaft, bank in ((10, "A", 1), (13, "B", 1), (20, "A", 2), (23, "B", 2)):
        yield first, f'"{shaft}" Camshaft Position Actuator Circuit/Open (Bank {bank})'
        cam = f'"{shaft}" Camshaft Position'
        yield first + 1, f"{cam} - Timing Over-Advanced or System Performance (Bank {bank})"
        yield first + 2, f"{cam} - Timing Over-Retarded (Bank {bank})"
    for number in range(16, 20):
        bank, sensor = (number - 16) // 2 + 1, "AB"[number % 2]
        yield number, f"Crankshaft Position - Camshaft Position Correlation (Bank {bank} Sensor {sensor})"
    for cylinder in range(1, 13):
        yield 300 + cylinder, f"Cylinder {cylinder} Misfire Detected"
    for first, sensor in (
        (335, 'Crankshaft Position Sensor "A" {} '),
        (340, 'Camshaft Position Sensor "A" {} (Bank 1 or Single Sensor)'),
        (345, 'Camshaft Position Sensor "A" {} (Bank 2)'),
        (365, 'Camshaft Position Sensor "B" {} (Bank 1)'),
        (385, 'Crankshaft Position Sensor "B" {} '),
        (390, 'Camshaft Position Sensor "B" {} (Bank 2)'),
    ):
        for i, fault in enumerate(_FAULTS):
            yield first + i, sensor.format(fault).strip()
    for i, coil in enumerate("ABCDEFGHIJKL"):
        yield 351 + i, f'Ignition Coil "{coil}" Primary/Secondary Circuit'
    for first, signal in ((370, "A"), (375, "B")):
        name = f'Timing Reference High Resolution Signal "{signal}"'
        for i, fault in enumerate(
            ("", " Too Many Pulses", " Too Few Pulses", " Intermittent/Erratic Pulses", " No Pulses")
        ):
            yield first + i, name + fault
    for bank in (1, 2):
        yield 168 + 3 * bank, f"System Too Lean (Bank {bank})"
        yield 169 + 3 * bank, f"System Too Rich (Bank {bank})"
        yield 410 + 10 * bank, f"Catalyst System Efficiency Below Threshold (Bank {bank})"


_SINGLE: Mapping[str, str] = {
    "P0008": "Engine Position System Performance (Bank 1)",
    "P0009": "Engine Position System Performance (Bank 2)",
    "P000A": '"A" Camshaft Position Slow Response (Bank 1)',
    "P000B": '"B" Camshaft Position Slow Response (Bank 1)',
    "P000C": '"A" Camshaft Position Slow Response (Bank 2)',
    "P000D": '"B" Camshaft Position Slow Response (Bank 2)',
    "P0101": 'Mass or Volume Air Flow Sensor "A" Circuit Range/Performance',
    "P0106": "Manifold Absolute Pressure/Barometric Pressure Sensor Circuit Range/Performance",
    "P0117": 'Engine Coolant Temperature Sensor "A" Circuit Low',
    "P0118": 'Engine Coolant Temperature Sensor "A" Circuit High',
    "P0299": 'Turbocharger/Supercharger "A" Underboost Condition',
    "P0300": "Random/Multiple Cylinder Misfire Detected",
    "P0313": "Misfire Detected with Low Fuel",
    "P0314": "Single Cylinder Misfire (Cylinder Not Specified)",
    "P0315": "Crankshaft Position System Variation Not Learned",
    "P0316": "Engine Misfire Detected on Startup (First 1000 Revolutions)",
    "P0317": "Rough Road Hardware Not Present",
    "P0318": 'Rough Road Sensor "A" Signal Circuit',
    "P0319": 'Rough Road Sensor "B" Signal Circuit',
    "P0320": "Ignition/Distributor Engine Speed Input Circuit",
    "P0321": "Ignition/Distributor Engine Speed Input Circuit Range/Performance",
    "P0322": "Ignition/Distributor Engine Speed Input Circuit No Signal",
    "P0323": "Ignition/Distributor Engine Speed Input Circuit Intermittent",
    "P0350": "Ignition Coil Primary/Secondary Circuit",
    "P0380": 'Glow Plug/Heater Circuit "A"',
    "P0381": "Glow Plug/Heater Indicator Circuit",
    "P0382": 'Glow Plug/Heater Circuit "B"',
    "P0383": "Glow Plug Control Module Control Circuit Low",
    "P0384": "Glow Plug Control Module Control Circuit High",
    "P0520": 'Engine Oil Pressure Sensor/Switch "A" Circuit',
    "P0521": 'Engine Oil Pressure Sensor/Switch "A" Circuit Range/Performance',
    "P0524": "Engine Oil Pressure Too Low",
    "P0562": "System Voltage Low",
    "P0563": "System Voltage High",
    "P0606": "Control Module Processor",
    "P0685": "ECM/PCM Power Relay Control Circuit/Open",
    "U0100": 'Lost Communication With ECM/PCM "A"',
}

TITLES: Mapping[str, str] = dict(sorted({**{f"P{n:04d}": title for n, title in _families()}, **_SINGLE}.items()))
"""Every public title that ships, by its code."""


def is_makers_own(code: str) -> bool:
    """Whether the maker, not the standard, defines what the code says: the second character is 1; of powertrain codes
    also P30 to P33 (SAE J2012, from memory)."""
    name = code.strip().upper()
    return bool(re.match(r"[PCBU]1|[CB]2|P3[0-3]", name))


def code_title(code: str) -> str | None:
    """The public title; ``None`` where none ships, or the maker alone knows it."""
    return TITLES.get(code.strip().upper()[:5])
