"""What many engines of one kind teach about their kind: where their edges are, how they are built, how they wear."""

from phasko.core.population.cams import CamPopulation, population_of
from phasko.core.population.estimate import Estimate
from phasko.core.population.index import IndexPopulation, index_of
from phasko.core.population.readings import KindReadings
from phasko.core.population.spread import Spread, spread_of

__all__ = [
    "CamPopulation",
    "Estimate",
    "IndexPopulation",
    "KindReadings",
    "Spread",
    "index_of",
    "population_of",
    "spread_of",
]
