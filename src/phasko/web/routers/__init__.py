"""One router per noun."""

from phasko.web.routers import captures, engines, jobs, schemas, session

__all__ = ["captures", "engines", "jobs", "schemas", "session"]
