"""Hand-over and proof: one document from which every page, message and picture is made."""

from phasko.core.handover.compose import hand_over
from phasko.core.handover.document import HandOver, Head, PhotoLine
from phasko.core.handover.facts import Facts
from phasko.core.handover.fault_words import FAULT_SHORT, FAULT_WORDS
from phasko.core.handover.first_word import first_text
from phasko.core.handover.parts import PART_WORDS

__all__ = [
    "FAULT_SHORT",
    "FAULT_WORDS",
    "PART_WORDS",
    "Facts",
    "HandOver",
    "Head",
    "PhotoLine",
    "first_text",
    "hand_over",
]
