"""Which passphrases are good enough for a server that others can reach."""

from __future__ import annotations

import re
from pathlib import Path

from phasko.core.errors import RefusedError

__all__ = ["LEAST_LENGTH", "LONGEST_LENGTH", "check_passphrase"]

LEAST_LENGTH = 12
LONGEST_LENGTH = 128
_LEAST_DIFFERENT = 5
_COMMON = Path(__file__).with_name("common_passphrases.txt")
_LEET = str.maketrans("0134578@$!", "oleastbasi")
"""Digits and signs that people put for letters."""
_ROWS = ("qwertyuiop", "asdfghjkl", "zxcvbnm", "1234567890", "abcdefghijklmnopqrstuvwxyz")


def check_passphrase(passphrase: str) -> None:
    """Raises RefusedError, with the reason, for one that is short, common, or no more than a pattern (the advice of
    NIST SP 800-63B, section 5.1.1.2: length and a list of common ones, no rules about kinds of characters)."""
    if len(passphrase) < LEAST_LENGTH:
        raise RefusedError(f"A passphrase needs at least {LEAST_LENGTH} characters", remedy="Four words are good.")
    if len(passphrase) > LONGEST_LENGTH:
        raise RefusedError(f"A passphrase has at most {LONGEST_LENGTH} characters", remedy="Four words are good.")
    if len(set(passphrase.lower())) < _LEAST_DIFFERENT:
        raise RefusedError("This passphrase repeats a few characters", remedy="Four words are good.")
    if _is_common(passphrase):
        raise RefusedError("This passphrase is among those tried first", remedy="Four words are good.")


def _is_common(passphrase: str) -> bool:
    lower = passphrase.lower()
    known = set(_COMMON.read_text(encoding="utf-8").split("\n")) - {""}
    forms = {lower, re.sub(r"[\s._-]", "", lower)}
    forms |= {form.translate(_LEET) for form in forms}
    bare = {re.sub(r"[\d!?.#*$]+$|^[\d!?.#*$]+", "", form) for form in forms}
    if any(form in known for form in forms | bare):
        return True
    # What is left when rows of keys, runs of digits and common words are taken out says how much there is to guess.
    left = min((_without_patterns(form, known) for form in forms), key=len)
    return len(left) < _LEAST_DIFFERENT


def _without_patterns(text: str, known: set[str]) -> str:
    for word in sorted((word for word in known if len(word) >= 4), key=len, reverse=True):
        text = text.replace(word, "")
    for row in (*_ROWS, *(row[::-1] for row in _ROWS)):
        for size in range(len(row), 3, -1):
            for start in range(len(row) - size + 1):
                text = text.replace(row[start : start + size], "")
    return re.sub(r"(\d)\1{2,}|(?:19|20)\d\d", "", text)
