"""One router per noun."""

from phasko.web.routers import captures, engines, jobs, looking, schemas, seal, session

__all__ = ["captures", "engines", "jobs", "looking", "schemas", "seal", "session"]
