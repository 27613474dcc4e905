"""An engine profile looked at by itself: its drawing, what it leaves open, and what changed between two versions."""

from phasko.core.engine.drawing import EngineDrawing, engine_drawing
from phasko.core.engine.open_points import OpenPoint, open_points
from phasko.core.engine.profile_changes import ProfileChange, profile_changes

__all__ = ["EngineDrawing", "OpenPoint", "ProfileChange", "engine_drawing", "open_points", "profile_changes"]
