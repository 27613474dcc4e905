"""The engines of the invented island motor pool, as profile documents beside this file."""

from __future__ import annotations

from functools import cache
from importlib import resources

from phasko.core.documents import EngineProfile, parse_document

__all__ = ["pool_engine", "pool_engines"]


@cache
def pool_engines() -> tuple[str, ...]:
    """Names of the profiles that ship with the bench, sorted."""
    files = resources.files(__name__).iterdir()
    return tuple(sorted(file.name.removesuffix(".json") for file in files if file.name.endswith(".json")))


@cache
def pool_engine(name: str) -> EngineProfile:
    """The profile of that name."""
    file = f"{name}.json"
    return parse_document((resources.files(__name__) / file).read_bytes(), EngineProfile, file)
