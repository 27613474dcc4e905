"""What a technician sees, hears and reads without the scope, and how much each of it weighs."""

from phasko.core.looks.look import Look, check_look
from phasko.core.looks.questions import QUESTIONS, Answer, Question, Speaks, asked_of, question
from phasko.core.looks.told import gauge_limit_bar, look_results, look_words, told_answer, weight_words

__all__ = [
    "QUESTIONS",
    "Answer",
    "Look",
    "Question",
    "Speaks",
    "asked_of",
    "check_look",
    "gauge_limit_bar",
    "look_results",
    "look_words",
    "question",
    "told_answer",
    "weight_words",
]
