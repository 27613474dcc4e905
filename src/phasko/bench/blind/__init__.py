"""Cars with a hidden fault for practice: what is wrong, what the owner tells, and what a look at it would show."""

from phasko.bench.blind.answers import Answered, answer_of
from phasko.bench.blind.by_hand import ByHand, Nuisances, car_by_hand, profile_by_hand
from phasko.bench.blind.car import BlindCar, Herring
from phasko.bench.blind.cycle import Cycle, Turning, cycle_by_hand
from phasko.bench.blind.draw import drawn_car
from phasko.bench.blind.faults import ABLE, fault_of
from phasko.bench.blind.sized import Sized, hidden_of, is_able
from phasko.bench.blind.sliders import NUISANCES, FaultSliders, Slider, sliders_of

__all__ = [
    "ABLE",
    "NUISANCES",
    "Answered",
    "BlindCar",
    "ByHand",
    "Cycle",
    "FaultSliders",
    "Herring",
    "Nuisances",
    "Sized",
    "Slider",
    "Turning",
    "answer_of",
    "car_by_hand",
    "cycle_by_hand",
    "drawn_car",
    "fault_of",
    "hidden_of",
    "is_able",
    "profile_by_hand",
    "sliders_of",
]
