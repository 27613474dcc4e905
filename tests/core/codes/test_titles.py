"""The public titles, against the wording of SAE J2012 / ISO 15031-6 as it is remembered (from memory, no print)."""

from __future__ import annotations

import pytest

from phasko.core.codes import TITLES, code_title


@pytest.mark.parametrize(
    ("code", "title"),
    [
        ("P0010", '"A" Camshaft Position Actuator Circuit/Open (Bank 1)'),
        ("P0014", '"B" Camshaft Position - Timing Over-Advanced or System Performance (Bank 1)'),
        ("P0016", "Crankshaft Position - Camshaft Position Correlation (Bank 1 Sensor A)"),
        ("P0019", "Crankshaft Position - Camshaft Position Correlation (Bank 2 Sensor B)"),
        ("P0022", '"A" Camshaft Position - Timing Over-Retarded (Bank 2)'),
        ("P0025", '"B" Camshaft Position - Timing Over-Retarded (Bank 2)'),
        ("P0300", "Random/Multiple Cylinder Misfire Detected"),
        ("P0312", "Cylinder 12 Misfire Detected"),
        ("P0315", "Crankshaft Position System Variation Not Learned"),
        ("P0320", "Ignition/Distributor Engine Speed Input Circuit"),
        ("P0335", 'Crankshaft Position Sensor "A" Circuit'),
        ("P0339", 'Crankshaft Position Sensor "A" Circuit Intermittent'),
        ("P0340", 'Camshaft Position Sensor "A" Circuit (Bank 1 or Single Sensor)'),
        ("P0346", 'Camshaft Position Sensor "A" Circuit Range/Performance (Bank 2)'),
        ("P0368", 'Camshaft Position Sensor "B" Circuit High (Bank 1)'),
        ("P0371", 'Timing Reference High Resolution Signal "A" Too Many Pulses'),
        ("P0387", 'Crankshaft Position Sensor "B" Circuit Low'),
        ("P0394", 'Camshaft Position Sensor "B" Circuit Intermittent (Bank 2)'),
    ],
)
def test_a_title_reads_as_the_standard_has_it(code: str, title: str) -> None:
    assert code_title(code) == title


def test_every_code_of_the_job_has_a_title() -> None:
    wanted = [*range(10, 26), *range(300, 313), *range(315, 321), *range(335, 350), *range(365, 395)]
    assert [n for n in wanted if f"P{n:04d}" not in TITLES] == []


@pytest.mark.parametrize("code", ["P1" + "000", "P3123", "B1234", "U1000", "P9999"])
def test_a_makers_own_code_is_never_guessed(code: str) -> None:
    assert code_title(code) is None
