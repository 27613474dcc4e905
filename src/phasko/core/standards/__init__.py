"""What a measurement is compared with, side by side, and what the offsets say of the timing drive."""

from phasko.core.standards.chain import chain_of, elongation_of
from phasko.core.standards.conditions import conditions_of, happened_then
from phasko.core.standards.figures import FigurePlace, figure_place, figure_words
from phasko.core.standards.proposal import Proposal, proposed_profile, refined_profile
from phasko.core.standards.slack import slack_of
from phasko.core.standards.table import standards_of, standards_said
from phasko.core.standards.together import moved_together

__all__ = [
    "FigurePlace",
    "Proposal",
    "chain_of",
    "conditions_of",
    "elongation_of",
    "figure_place",
    "figure_words",
    "happened_then",
    "moved_together",
    "proposed_profile",
    "refined_profile",
    "slack_of",
    "standards_of",
    "standards_said",
]
