"""Cars with a hidden fault for practice: what is wrong, what the owner tells, and what a look at it would show."""

from phasko.bench.blind.answers import Answered, answer_of
from phasko.bench.blind.car import BlindCar, Herring
from phasko.bench.blind.draw import drawn_car
from phasko.bench.blind.faults import ABLE, fault_of, is_able

__all__ = ["ABLE", "Answered", "BlindCar", "Herring", "answer_of", "drawn_car", "fault_of", "is_able"]
