"""An engine profile looked at by itself: its drawing, what it leaves open, and what changed between two versions."""

from phasko.core.profile.changes import ProfileChange, profile_changes
from phasko.core.profile.drawing import EngineDrawing, engine_drawing
from phasko.core.profile.open_points import OpenPoint, open_points

__all__ = ["EngineDrawing", "OpenPoint", "ProfileChange", "engine_drawing", "open_points", "profile_changes"]
