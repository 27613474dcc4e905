"""What stands above the numbers: column names, units, and lines that tell the sample rate."""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import dataclass

from phasko.formats.csv.dialect import Dialect, comment_of, fields_of, is_number
from phasko.readers.time_names import SECONDS_OF, SUFFIX

__all__ = ["Header", "plain_names", "read_header", "time_unit_of"]

_HERTZ_OF = {"hz": 1.0, "khz": 1e3, "mhz": 1e6, "s/s": 1.0, "ks/s": 1e3, "ms/s": 1e6, "sps": 1.0, "ksps": 1e3}
_UNIT = re.compile(
    r"[(\[{]?\s*([munpkMµμ]?(V|A|Ω|Ohm|bar|Pa|s|sec|Hz|N|g|m|W|W/m)|psi|inHg|%|g/s|kg/h|lb/min|km/h|mph|°C?|degC|degF|C|F|rpm|1/min|-|"
    r"[Vv]olts?|[Aa]mps?|seconds?|min)\s*[)\]}]?$"
)
_NAMED_UNIT = re.compile(r"^(.*?)\s*[(\[{]\s*([^()\[\]{}]*)\s*[)\]}]$")
_PLAIN = re.compile(r"[^\W\d_][\w .()/%°#\[\]-]{0,119}")
_RATE = re.compile(r"(sampl\w*[ _-]*(rate|freq\w*)|abtastrate|\brate\b|\bfs\b|frequency)", re.IGNORECASE)
_INTERVAL = re.compile(r"(interval|increment|period|\bdt\b|delta[ _]?t|time ?base|time ?step|\bstep\b)", re.IGNORECASE)
_START = re.compile(r"(start[ _]?time|time[ _]?offset|trigger[ _]?offset|\bt0\b|x[ _]?zero)", re.IGNORECASE)
_VALUE = re.compile(r"([+-]?\d+(?:[.,]\d+)?(?:[eE][+-]?\d+)?)\s*([A-Za-zµμ/]+)?")
_WORDS = {"volts": "V", "volt": "V", "amps": "A", "amp": "A", "seconds": "s", "second": "s", "sec": "s", "Volt": "V"}


@dataclass(frozen=True, slots=True)
class Header:
    """Names (as many as the rows have fields), their units where told, and what is said about time."""

    names: tuple[str, ...]
    units: dict[str, str]
    named: bool
    repeated: tuple[str, ...]
    interval_s: float | None
    start_s: float | None
    description: str | None


def read_header(lines: list[str], dialect: Dialect) -> Header:
    """Understands the lines above the numbers, the nearest first."""
    above = lines[: dialect.first_row]
    interval, start = _time_base(above)
    rows = _rows_like_the_numbers(above, dialect)
    units: list[str] = []
    if rows and _are_units(rows[0]):
        units = [_bare_unit(field) for field in rows.pop(0)]
    names = rows.pop(0) if rows else [f"c{i + 1}" for i in range(dialect.fields)]
    named = len(names) == dialect.fields and any(not re.fullmatch(r"c\d+", name) for name in names)
    bare, found = [], {}
    for i, name in enumerate(names):
        plain, unit = _parted(name)
        unit = units[i] if i < len(units) and units[i] else unit
        plain = plain or f"c{i + 1}"
        bare.append(plain)
        if unit:
            found[plain] = unit
    repeated = tuple(name for name, times in Counter(bare).items() if times > 1)
    return Header(
        names=tuple(_unlike(bare)),
        units=found,
        named=named,
        repeated=repeated,
        interval_s=interval,
        start_s=start,
        description=_description(above),
    )


def plain_names(names: list[str]) -> dict[str, str]:
    """What each column is called in a text file: by its name, or by its number where the name would break the line, or
    where a spreadsheet would take it for something to work out (a name that begins with ``=``, ``+``, ``-`` or ``@``;
    OWASP, CSV injection)."""
    plain = {name: name for name in names if _PLAIN.fullmatch(name) and name != "time_s"}
    taken = set(plain.values())
    for place, name in enumerate(names, start=1):
        if name not in plain:
            numbered = (f"c{place}", *(f"c{place}_{k}" for k in range(2, len(names) + 3)))
            plain[name] = next(one for one in numbered if one not in taken)
            taken.add(plain[name])
    return plain


def time_unit_of(name: str, units: dict[str, str]) -> float:
    """Seconds of one unit of a time column: from its unit, or the end of its name; else it is in seconds."""
    unit = units.get(name, "").lower()
    if unit in SECONDS_OF:
        return SECONDS_OF[unit]
    plain = name.lower()
    words = {"usec": 1e-6, "usecs": 1e-6, "microseconds": 1e-6, "milliseconds": 1e-3, "ms": 1e-3, "us": 1e-6}
    if plain in words:
        return words[plain]
    ending = SUFFIX.match(name)
    return SECONDS_OF.get(ending.group(2).lower(), 1.0) if ending else 1.0


def _rows_like_the_numbers(above: list[str], dialect: Dialect) -> list[list[str]]:
    """Up to two lines right above the numbers (blank ones between) with as many fields, comments' marks taken off."""
    rows: list[list[str]] = []
    for line in reversed(above):
        said = comment_of(line)
        text = line if said is None else said
        if not text.strip(" \t\r\n" + dialect.delimiter):
            continue
        fields = fields_of(text, dialect.delimiter)
        while len(fields) > dialect.fields and not fields[-1]:
            fields.pop()
        if len(fields) == dialect.fields - 1:
            fields.append("")
        if len(fields) != dialect.fields or all(is_number(f, dialect.decimal) for f in fields):
            break
        rows.append(fields)
        if len(rows) == 2:
            break
    return rows


def _are_units(fields: list[str]) -> bool:
    filled = [field for field in fields if field]
    return bool(filled) and all(_UNIT.match(field) for field in filled)


def _bare_unit(field: str) -> str:
    bare = field.strip("()[]{} ")
    return "" if bare == "-" else _WORDS.get(bare, _WORDS.get(bare.lower(), bare))


def _parted(name: str) -> tuple[str, str]:
    """(name, unit) of ``Crank (V)``."""
    found = _NAMED_UNIT.match(name)
    if found and _UNIT.match(found.group(2)):
        return found.group(1).strip(), _bare_unit(found.group(2))
    return name.strip(), ""


def _unlike(names: list[str]) -> list[str]:
    """The same names; one that comes again gets a number."""
    seen: dict[str, int] = {}
    found = []
    for name in names:
        seen[name] = seen.get(name, 0) + 1
        found.append(name if seen[name] == 1 else f"{name} {seen[name]}")
    return found


def _time_base(above: list[str]) -> tuple[float | None, float | None]:
    """(interval, start) in s that lines of the preamble tell."""
    interval = start = None
    for line in above:
        text = comment_of(line) or line
        for about in (_INTERVAL, _RATE, _START):
            word = about.search(text)
            told = _VALUE.search(text, word.end()) if word else None
            if word is None or told is None or "\t" in text[: word.start()].strip():
                continue
            value = float(told.group(1).replace(",", "."))
            unit = (told.group(2) or _unit_in_words(text)).strip()
            if about is _RATE and value > 0 and interval is None:
                interval = 1.0 / (value * _HERTZ_OF.get(unit.lower(), 1.0))
            elif about is _INTERVAL and value > 0:
                per_hertz = _HERTZ_OF.get(unit.lower())
                interval = 1.0 / (value * per_hertz) if per_hertz else value * SECONDS_OF.get(unit.lower(), 1.0)
            elif about is _START:
                start = value * SECONDS_OF.get(unit.lower(), 1.0)
            break
    return interval, start


def _unit_in_words(text: str) -> str:
    """A unit in brackets before the value: ``Sample interval [us]: 10``."""
    found = re.search(r"[(\[]\s*([A-Za-zµμ/]+)\s*[)\]]", text)
    return found.group(1) if found else ""


def _description(above: list[str]) -> str | None:
    """The capture description that an earlier export wrote on a comment line."""
    for line in above:
        said = comment_of(line)
        if said is not None and said.startswith("phasko.capture "):
            return said.removeprefix("phasko.capture ").strip()
    return None
