"""From measurements to the call: predict, compare, choose, and say what would make it surer."""

from phasko.core.call.verdict import call

__all__ = ["call"]
