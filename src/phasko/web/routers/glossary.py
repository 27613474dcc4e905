"""The words of the trade, each with its drawing."""

from __future__ import annotations

from functools import cache

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict

from phasko.core.glossary import TERMS
from phasko.report.glossary import drawing_of

router = APIRouter(prefix="/api", tags=["glossary"])


class Word(BaseModel):
    """One word: what it means, what else one should know, the stations where it is met, and its drawing (SVG)."""

    model_config = ConfigDict(frozen=True)
    id: str
    name: str
    meaning: str
    more: str
    stations: list[str]
    drawing: str


@router.get("/glossary")
def get_glossary() -> list[Word]:
    return _words()


@cache
def _words() -> list[Word]:
    return [
        Word(id=t.id, name=t.name, meaning=t.meaning, more=t.more, stations=list(t.stations), drawing=drawing_of(t))
        for t in TERMS
    ]
