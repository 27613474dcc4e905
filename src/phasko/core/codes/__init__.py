"""Trouble codes: their public titles, what they really say, what the lamp means, what misfire codes say together."""

from phasko.core.codes.explained import ExplainedCode, explain_codes
from phasko.core.codes.lamp import lamp_words
from phasko.core.codes.meaning import CodeMeaning, cam_of, code_meaning
from phasko.core.codes.misfires import MisfirePattern, misfire_pattern
from phasko.core.codes.pasted import PastedCodes, pasted_codes
from phasko.core.codes.titles import TITLES, code_title

__all__ = [
    "TITLES",
    "CodeMeaning",
    "ExplainedCode",
    "MisfirePattern",
    "PastedCodes",
    "cam_of",
    "code_meaning",
    "code_title",
    "explain_codes",
    "lamp_words",
    "misfire_pattern",
    "pasted_codes",
]
