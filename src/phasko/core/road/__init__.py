"""Breathing on the road, from a scan tool's log: peak load, volumetric efficiency, fuel trims beside them."""

from phasko.core.road.air import air_density_kg_m3, volumetric_efficiency
from phasko.core.road.drive import judge_road_test
from phasko.core.road.log import RoadColumn, RoadLog, road_log

__all__ = [
    "RoadColumn",
    "RoadLog",
    "air_density_kg_m3",
    "judge_road_test",
    "road_log",
    "volumetric_efficiency",
]
