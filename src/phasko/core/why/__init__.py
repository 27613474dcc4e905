"""Why a number is what it is: formula, parts, source, and the cycles it came from."""

from phasko.core.why.answer import Part, SoMuch, Why
from phasko.core.why.compose import whys

__all__ = ["Part", "SoMuch", "Why", "whys"]
