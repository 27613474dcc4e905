"""Cars with a hidden fault for practice: what is wrong, what the owner tells, and what a look at it would show."""

from phasko.bench.blind.answers import Answered, answer_of
from phasko.bench.blind.car import BlindCar, Herring
from phasko.bench.blind.draw import drawn_car
from phasko.bench.blind.faults import ABLE, fault_of
from phasko.bench.blind.sized import Sized, hidden_of, is_able

__all__ = [
    "ABLE",
    "Answered",
    "BlindCar",
    "Herring",
    "Sized",
    "answer_of",
    "drawn_car",
    "fault_of",
    "hidden_of",
    "is_able",
]
