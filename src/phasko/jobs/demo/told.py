"""What is told of every vehicle of the demo beside its complaint: symptoms, when, distance, history."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

__all__ = ["TOLD"]

TOLD: Mapping[str, dict[str, Any]] = {
    "Library buses 3 to 6, on service days": {"complaint": {"symptoms": ["none"]}},
    "Library bus 7": {
        "complaint": {"symptoms": ["hard_start"], "when": ["cold"], "distance_km": 141_000, "since": "two winters"}
    },
    "Snow blower 1": {"complaint": {"symptoms": ["rough_idle"], "when": ["idle", "hot"], "distance_km": 38_000}},
    "Ferry shuttle 1": {"complaint": {"symptoms": ["lack_of_power"], "when": ["hot"], "distance_km": 77_000}},
    "Lighthouse jeep 1": {
        "complaint": {"symptoms": ["misfire"], "when": ["load"], "distance_km": 96_000},
        "replaced": [{"part": "coil", "when": "after_symptom", "effect": "none", "by": "the keeper"}],
    },
    "Milk lorry 2": {
        "complaint": {"symptoms": ["lack_of_power"], "when": ["after_repair"], "distance_km": 118_000},
        "replaced": [{"part": "crank_pulley", "when": "before_symptom", "effect": "changed", "at": "117 900 km"}],
    },
    "Library bus 2": {"complaint": {"symptoms": ["none"], "distance_km": 64_000}},
    "Post car 5, after repair": {"complaint": {"symptoms": ["none"], "distance_km": 131_020}},
    "Post car 5": {"complaint": {"symptoms": ["no_start"], "distance_km": 131_000, "lamp": "on"}},
    "Grader 2": {"complaint": {"symptoms": ["stalls"], "when": ["intermittent"], "distance_km": 9_400}},
    "Quarry crane 1": {"complaint": {"symptoms": ["rough_idle"], "when": ["idle"], "distance_km": 52_000}},
    "Fire engine 1": {"complaint": {"symptoms": ["lack_of_power"], "when": ["after_standing"], "distance_km": 12_300}},
    "Ferry tender 2": {"complaint": {"symptoms": ["hard_start"], "when": ["after_repair"], "since": "the boatyard"}},
    "Mail van 3": {
        "complaint": {"symptoms": ["hard_start"], "when": ["after_repair"], "distance_km": 58_700},
        "replaced": [{"part": "crank_pulley", "when": "before_symptom", "effect": "changed"}],
    },
    "Snow plough 1": {"complaint": {"symptoms": ["rough_idle"], "when": ["idle"], "distance_km": 84_000}},
    "Ambulance 1": {
        "complaint": {"symptoms": ["lack_of_power"], "when": ["after_repair"], "distance_km": 73_500},
        "replaced": [{"part": "cam", "when": "before_symptom", "effect": "changed", "by": "another workshop"}],
    },
    "School van 4": {"complaint": {"symptoms": ["lack_of_power"], "when": ["cold"], "distance_km": 148_000}},
    "Harbour pick-up 7": {"complaint": {"symptoms": ["no_start"], "distance_km": 93_000, "lamp": "on"}},
    "Beach tractor 2": {
        "complaint": {"symptoms": ["rough_idle"], "when": ["after_repair"], "since": "Easter", "distance_km": 31_000},
        "replaced": [{"part": "distributor", "when": "before_symptom", "effect": "changed", "by": "the life guards"}],
    },
}
"""By vehicle, as parts of the job document."""
