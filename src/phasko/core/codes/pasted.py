"""Codes out of text that was pasted from any scan tool: one code a line, with its status and freeze frame beside it."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass

from phasko.core.documents.job import Code, CodeStatus, FreezeFrame, Lamp

__all__ = ["PastedCodes", "pasted_codes"]


@dataclass(frozen=True, slots=True)
class PastedCodes:
    """What a pasted text held: its codes, the lamp and the distance where it names them, and the lines of which
    nothing was taken."""

    codes: tuple[Code, ...]
    lamp: Lamp | None
    distance_km: float | None
    left: tuple[str, ...]


_CODE = re.compile(
    r"(?<![0-9A-Z])([PCBU][0-3][0-9A-F]{3})(?:[-: ]([0-9A-F]{2})(?![0-9A-Z]))?(?![0-9A-Z])", re.IGNORECASE
)
_STATUS: tuple[tuple[str, CodeStatus], ...] = (
    (r"not (current|present|active)|past|histor|passive|sporadic|intermittent", "history"),
    (r"pending|unconfirmed|maturing", "pending"),
    (r"current|present|active", "current"),
    (r"stored|confirmed|permanent|memory", "stored"),
)
_NUMBER = r"\s*[:=]?\s*(-?\d+(?:[.,]\d+)?)"
_FRAME: Mapping[str, re.Pattern[str]] = {
    "rpm": re.compile(rf"(?:engine speed|rpm){_NUMBER}|(?<![\d.,])(\d+(?:[.,]\d+)?)\s*(?:rpm|1/min)", re.IGNORECASE),
    "speed_kmh": re.compile(
        rf"(?:vehicle speed|road speed){_NUMBER}|(?<![\d.,])(\d+(?:[.,]\d+)?)\s*km/h", re.IGNORECASE
    ),
    "coolant_c": re.compile(r"(?:coolant|engine temperature|ect)[^\d\n-]{0,24}(-?\d+(?:[.,]\d+)?)", re.IGNORECASE),
    "load_percent": re.compile(r"load[^\d\n-]{0,16}(\d+(?:[.,]\d+)?)", re.IGNORECASE),
    "battery_v": re.compile(r"(?:battery|system voltage|module voltage)[^\d\n-]{0,16}(\d+(?:[.,]\d+)?)", re.IGNORECASE),
    "distance_km": re.compile(r"(?<![\d.,])(\d{2,7})\s*km(?!/)", re.IGNORECASE),
}
_DISTANCE = re.compile(r"(?:odometer|mileage)[^\d\n]{0,16}(\d{1,7})\s*(?:km)?", re.IGNORECASE)
_LAMP = re.compile(r"\b(?:mil|lamp|check engine)\b[^\n]{0,24}\b(on|off|flashing|blinking)\b", re.IGNORECASE)


def pasted_codes(text: str) -> PastedCodes:
    """Every code in a text, each once; what stands on the lines below a code and is no code belongs to it as its freeze
    frame. A status counts on the code's own line, else in the heading above."""
    codes: dict[str, Code] = {}
    left: list[str] = []
    heading: CodeStatus = "stored"
    last: str | None = None
    distance: float | None = None
    lamp: Lamp | None = None
    for line in (one.strip() for one in text.splitlines()):
        on_line = _codes_of(line, heading)
        for code in on_line:
            codes[code.code] = _with_frame(code, codes[code.code].freeze_frame if code.code in codes else None)
            last = code.code
        if on_line:
            continue
        read = _read_line(line)
        lamp = read.lamp or lamp
        if read.distance_km is not None:
            distance = read.distance_km
        elif last is not None and read.frame is not None:
            codes[last] = _with_frame(codes[last], read.frame)
        elif read.status is not None:
            heading, last = read.status, None
        elif line and read.lamp is None:
            left.append(line)
    return PastedCodes(tuple(codes.values()), lamp, distance, tuple(left))


@dataclass(frozen=True, slots=True)
class _Line:
    """What a line without a code says."""

    lamp: Lamp | None
    distance_km: float | None
    status: CodeStatus | None
    frame: FreezeFrame | None


def _read_line(line: str) -> _Line:
    lamp, ran = _LAMP.search(line), _DISTANCE.search(line)
    return _Line(
        lamp=_lamp(lamp.group(1)) if lamp else None,
        distance_km=float(ran.group(1)) if ran else None,
        status=_status(line),
        frame=_frame(line),
    )


def _codes_of(line: str, heading: CodeStatus) -> list[Code]:
    found = _CODE.findall(line)
    if not found:
        return []
    beside = _CODE.sub(" ", line)
    status = _status(beside) or heading
    names = [code.upper() + (f"-{kind.upper()}" if kind else "") for code, kind in found]
    return [Code(code=name, status=status, freeze_frame=_frame(beside)) for name in names]


def _with_frame(code: Code, frame: FreezeFrame | None) -> Code:
    """With a freeze frame's values added to those that the code has."""
    own = code.freeze_frame
    if own is None or frame is None:
        return code.model_copy(update={"freeze_frame": own or frame})
    return code.model_copy(update={"freeze_frame": own.model_copy(update=frame.model_dump(exclude_none=True))})


def _status(line: str) -> CodeStatus | None:
    return next((status for pattern, status in _STATUS if re.search(pattern, line, re.IGNORECASE)), None)


def _frame(line: str) -> FreezeFrame | None:
    values = {}
    for name, pattern in _FRAME.items():
        found = pattern.search(line)
        if found is not None:
            values[name] = float(next(g for g in found.groups() if g is not None).replace(",", "."))
    known = {name: value for name, value in values.items() if _possible(name, value)}
    return FreezeFrame.model_validate(known) if known else None


_POSSIBLE = {
    "rpm": (0, 20_000),
    "speed_kmh": (0, 500),
    "coolant_c": (-60, 200),
    "load_percent": (0, 255),
    "battery_v": (0, 60),
    "distance_km": (0, 1_000_000),
}


def _possible(name: str, value: float) -> bool:
    low, high = _POSSIBLE[name]
    return low <= value <= high


def _lamp(word: str) -> Lamp:
    return "flashing" if word.lower() in ("flashing", "blinking") else ("on" if word.lower() == "on" else "off")
