"""The workshop's one SQLite file: jobs, engines, captures with their samples, results."""

from phasko.store.database import Database

__all__ = ["Database"]
