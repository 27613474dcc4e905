"""Sets a hand-over as a page of HTML that needs nothing else: fonts, pictures and photos are inside."""

from __future__ import annotations

import base64
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cache
from pathlib import Path
from typing import Literal

from jinja2 import Environment, FileSystemLoader, StrictUndefined
from markupsafe import Markup

from phasko.core.documents.repair_results import ChangeResult
from phasko.core.handover import HandOver
from phasko.core.words import odds_words

__all__ = ["PAGES", "Page", "Paper", "Pictures", "hand_over_html"]

Page = Literal["full", "owner", "first"]
Paper = Literal["A4", "letter"]
PAGES: Mapping[Page, str] = {"full": "hand_over.html", "owner": "owner.html", "first": "first_word.html"}
_HERE = Path(__file__).parent
_FAMILY = "'Hand-over', 'Hand-over Greek', 'Hand-over Cyrillic', 'Hand-over Hebrew', 'Hand-over Arabic', sans-serif"
_FONTS: tuple[tuple[str, int, str, str], ...] = (
    ("Hand-over", 400, "atkinson-latin-400.woff2", "U+0000-00FF, U+2000-206F, U+20AC, U+2122, U+2212"),
    ("Hand-over", 700, "atkinson-latin-700.woff2", "U+0000-00FF, U+2000-206F, U+20AC, U+2122, U+2212"),
    ("Hand-over", 400, "atkinson-latin-ext-400.woff2", "U+0100-02BA, U+1E00-1EFF"),
    ("Hand-over", 700, "atkinson-latin-ext-700.woff2", "U+0100-02BA, U+1E00-1EFF"),
    ("Hand-over Greek", 400, "noto-sans-greek-400.woff2", "U+0370-03FF"),
    ("Hand-over Cyrillic", 400, "noto-sans-cyrillic-400.woff2", "U+0400-045F, U+0490-0491"),
    ("Hand-over Hebrew", 400, "noto-sans-hebrew-400.woff2", "U+0590-05FF, U+FB1D-FB4F"),
    ("Hand-over Arabic", 400, "noto-sans-arabic-400.woff2", "U+0600-06FF, U+0750-077F, U+FB50-FDFF, U+FE70-FEFC"),
)
_FIRST_WORD_SIZE = "190mm 238mm; margin: 9mm"


@dataclass(frozen=True, slots=True, eq=False)
class Pictures:
    """What is drawn or photographed: SVG, the caption under the turn strip, and photos as data addresses by number."""

    turn: str = ""
    caption: str = ""
    marks: str = ""
    seen_marks: str = ""
    before_after: str = ""
    photos: Mapping[int, str] = field(default_factory=dict)


def hand_over_html(document: HandOver, pictures: Pictures, page: Page = "full", paper: Paper = "A4") -> str:
    """One whole HTML document. Everything that a person wrote is escaped; only our own drawings are markup."""
    shown = {
        "turn": Markup(pictures.turn),
        "caption": pictures.caption,
        "marks": Markup(pictures.marks),
        "seen_marks": Markup(pictures.seen_marks),
        "before_after": Markup(pictures.before_after),
        "photos": {one.id: pictures.photos.get(one.id, "") for one in document.photos},
    }
    style = (
        _environment().get_template("style.css").render(number=f"{document.head.number:04d}", family=Markup(_FAMILY))
    )
    if page != "full":
        # A message and the owner's page are single pages: they carry no numbers.
        style += "\n@page { @top-right { content: none } @bottom-left { content: none } }"
    size = _FIRST_WORD_SIZE if page == "first" else paper
    return (
        _environment()
        .get_template(PAGES[page])
        .render(
            doc=document,
            pictures=shown,
            title=f"{document.head.vehicle[:80]}: {document.headline}",
            fonts=Markup(_fonts()),
            style=Markup(style),
            paper=Markup(size),
        )
    )


@cache
def _environment() -> Environment:
    made = Environment(
        loader=FileSystemLoader(_HERE / "pages"),
        autoescape=True,
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
    )
    made.filters |= {
        "thousands": lambda value: f"{value:,.0f}".replace(",", " "),
        "shortened": _shortened,
        "stem": lambda name: name.removesuffix(".capture.json"),
        "weight": odds_words,
        "change": _change,
        "change_u95": _change_u95,
    }
    return made


def _shortened(text: str, most: int) -> str:
    return text if len(text) <= most else f"{text[: most - 1].rstrip()}…"


def _digits(one: ChangeResult) -> int:
    if one.u95 is None or one.u95 >= 3.0:
        return 0
    return 1 if one.u95 >= 0.095 else 2


def _change(one: ChangeResult) -> str:
    if one.by is None:
        return ""
    size = f"{one.by:+.{_digits(one)}f}"
    size = size if float(size) else size[1:]
    return f"{size} {one.unit}".replace(" °", "°").replace("-", "−")


def _change_u95(one: ChangeResult) -> str:
    return "" if one.u95 is None else f"{one.u95:.{_digits(one)}f} {one.unit}".replace(" °", "°")


@cache
def _fonts() -> str:
    rules = []
    for family, weight, name, letters in _FONTS:
        data = base64.b64encode((_HERE / "fonts" / name).read_bytes()).decode()
        rules.append(
            f"@font-face {{ font-family: '{family}'; font-weight: {weight}; unicode-range: {letters}; "
            f"src: url(data:font/woff2;base64,{data}) format('woff2'); }}"
        )
    return "\n".join(rules)
