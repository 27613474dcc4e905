"""What a code is about: which signal, cam, phaser or cylinder."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Literal

from phasko.core.documents.engine import Cam, EngineProfile

__all__ = ["About", "CodeMeaning", "cam_of", "code_meaning"]

About = Literal[
    "correlation",
    "crank_sensor",
    "cam_sensor",
    "phaser",
    "solenoid",
    "misfire",
    "misfire_random",
    "coil",
    "not_learned",
]
_Shaft = Literal["intake", "exhaust"]


@dataclass(frozen=True, slots=True)
class CodeMeaning:
    """What a public code is about: ``about`` which bank's which shaft's cam, or which cylinder."""

    about: About
    bank: int | None = None
    shaft: _Shaft | None = None
    cylinder: int | None = None


def _cams() -> Iterator[tuple[str, About, int, _Shaft]]:
    """Codes about one cam: code, about, bank, shaft. Public titles of SAE J2012: cam A is the intake or left, cam B the
    exhaust or right one; from memory."""
    shafts: tuple[_Shaft, _Shaft] = ("intake", "exhaust")
    for number in range(16, 20):
        yield f"P00{number}", "correlation", 1 + (number > 17), shafts[number % 2]
    for first, slow, bank, shaft in (
        (10, "P000A", 1, shafts[0]),
        (13, "P000B", 1, shafts[1]),
        (20, "P000C", 2, shafts[0]),
        (23, "P000D", 2, shafts[1]),
    ):
        yield f"P00{first}", "solenoid", bank, shaft
        for code in (f"P00{first + 1}", f"P00{first + 2}", slow):
            yield code, "phaser", bank, shaft
    for first, bank, shaft in ((340, 1, shafts[0]), (345, 2, shafts[0]), (365, 1, shafts[1]), (390, 2, shafts[1])):
        for number in range(first, first + 5):
            yield f"P0{number}", "cam_sensor", bank, shaft


_CAMS: Mapping[str, CodeMeaning] = {code: CodeMeaning(about, bank, shaft) for code, about, bank, shaft in _cams()}

_OTHERS: tuple[tuple[str, About], ...] = (
    (r"P033[5-9]|P038[5-9]|P032[0-3]|P037\d", "crank_sensor"),
    (r"P000[89]", "correlation"),
    (r"P0300|P0316|P0314|P0313", "misfire_random"),
    (r"P03(5\d|6[0-2])", "coil"),
    (r"P0315", "not_learned"),
)


def code_meaning(code: str) -> CodeMeaning | None:
    """What a code says about timing, signals or cylinders; ``None`` for all others (SAE J2012, from memory)."""
    name = code.strip().upper()[:5]
    if name in _CAMS:
        return _CAMS[name]
    if re.fullmatch(r"P03(0[1-9]|1[0-2])", name):
        return CodeMeaning("misfire", cylinder=int(name[3:]))
    for pattern, about in _OTHERS:
        if re.fullmatch(pattern, name):
            return CodeMeaning(about, bank={"P0008": 1, "P0009": 2}.get(name))
    return None


def cam_of(meaning: CodeMeaning, profile: EngineProfile) -> Cam | None:
    """The cam of this engine that the code is about; ``None`` where it names none, or this engine has none such."""
    if meaning.shaft is None:
        return None
    return next((c for c in profile.cams if c.bank == meaning.bank and c.shaft in (meaning.shaft, "single")), None)
