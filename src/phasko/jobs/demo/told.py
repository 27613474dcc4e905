"""What is told of every vehicle of the demo beside its complaint: symptoms, when, distance, history."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

__all__ = ["ENDINGS", "TOLD", "WORKSHOP"]

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
    "Post car 5": {
        "complaint": {"symptoms": ["no_start"], "when": ["after_standing"], "distance_km": 131_000, "lamp": "on"},
        "hook_up": {"insulation": "not_pierced"},
        "costs": {"labour_per_hour": 70, "currency": "crowns"},
    },
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
    "Harbour pick-up 7": {
        "complaint": {"symptoms": ["no_start"], "distance_km": 93_000, "lamp": "on"},
        "replaced": [{"part": "cam_sensor", "when": "after_symptom", "effect": "none", "by": "the slipway crew"}],
        "ordered": [{"part": "cam_sensor", "text": "third cam sensor"}],
        "for_owner": "The hand brake does not hold on the slipway.",
        "costs": {"labour_per_hour": 70, "currency": "crowns"},
    },
    "Beach tractor 2": {
        "complaint": {"symptoms": ["rough_idle"], "when": ["after_repair"], "since": "Easter", "distance_km": 31_000},
        "replaced": [{"part": "distributor", "when": "before_symptom", "effect": "changed", "by": "the life guards"}],
    },
}
"""By vehicle, as parts of the job document."""


ENDINGS: Mapping[str, dict[str, Any]] = {
    "Post car 5": {
        "repair": {
            "opened": True,
            "as_expected": True,
            "found": [
                {
                    "fault": "chain_jumped",
                    "cams": ["B1I", "B1E"],
                    "text": "guide broken, both cam marks one sprocket tooth early, valves tight",
                }
            ],
            "replaced": [{"part": "drive", "text": "chain, guides, tensioner"}],
            "hours": 6.5,
            "done_at": "2026-10-14T15:00:00+00:00",
            "codes_cleared_at": "2026-10-14T15:30:00+00:00",
            "driven_km": 45,
            "returned": [],
            "symptom": "gone",
        },
        "cause": "confirmed",
        "note": "Drove the whole island round before it went back to the post office.",
    },
}
"""How a story ended, by vehicle: its repair, the cause, and a note."""

WORKSHOP = {"name": "Ollery Island Motor Pool", "address": "Harbour workshop, Slip Lane 3, Ollery"}
