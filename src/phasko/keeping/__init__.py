"""Keeping a workshop: copies of its file, and whether all of it is whole."""

from phasko.keeping.backup import back_up, restore
from phasko.keeping.checking import Finding, check_workshop

__all__ = ["Finding", "back_up", "check_workshop", "restore"]
