"""Names in the folder that a fleet's results go to."""

from __future__ import annotations

__all__ = ["ENGINES", "VIEW"]

ENGINES = "engines"
VIEW = "view.json"
