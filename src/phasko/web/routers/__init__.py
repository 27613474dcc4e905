"""One router per noun."""

from phasko.web.routers import captures, cylinder, engines, jobs, looking, schemas, seal, session, standards

__all__ = ["captures", "cylinder", "engines", "jobs", "looking", "schemas", "seal", "session", "standards"]
