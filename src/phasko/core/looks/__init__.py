"""What a technician sees, hears and reads without the scope, and how much each of it weighs."""

from phasko.core.looks.look import Look, check_look
from phasko.core.looks.questions import QUESTIONS, Answer, Question, question
from phasko.core.looks.weight import (
    log_chance_of_looks,
    look_reasons,
    look_results,
    looks_speak_for,
    second_kind_log_odds,
    told_answer,
    weight_words,
)

__all__ = [
    "QUESTIONS",
    "Answer",
    "Look",
    "Question",
    "check_look",
    "log_chance_of_looks",
    "look_reasons",
    "look_results",
    "looks_speak_for",
    "question",
    "second_kind_log_odds",
    "told_answer",
    "weight_words",
]
