"""Every number the judgement rests on, in one table: value, unit, meaning, where it comes from.

``docs/numbers.md`` is generated from it. "(cp)" is common practice without a published source; "(house)" is our own
choice, with the reason in its meaning. A number that decides what is said about an engine stands here; a number of
arithmetic, or of how a loop ends, stands where it is used.
"""

from __future__ import annotations

import hashlib

from phasko.core.numbers.breathing import *  # noqa: F403
from phasko.core.numbers.call import *  # noqa: F403
from phasko.core.numbers.compression import *  # noqa: F403
from phasko.core.numbers.cylinder import *  # noqa: F403
from phasko.core.numbers.entry import Entry
from phasko.core.numbers.evidence import *  # noqa: F403
from phasko.core.numbers.explanations import *  # noqa: F403
from phasko.core.numbers.hookup import *  # noqa: F403
from phasko.core.numbers.ignition import *  # noqa: F403
from phasko.core.numbers.looks import *  # noqa: F403
from phasko.core.numbers.looks import LOOK_CHANCES
from phasko.core.numbers.phasers import *  # noqa: F403
from phasko.core.numbers.priors import *  # noqa: F403
from phasko.core.numbers.records import *  # noqa: F403
from phasko.core.numbers.road import *  # noqa: F403
from phasko.core.numbers.signals import *  # noqa: F403
from phasko.core.numbers.standards import *  # noqa: F403

NUMBERS_VERSION = "2026-11"


def table() -> dict[str, Entry]:
    """All entries by name; grouped ones get a running number, those of looks their answer."""
    found: dict[str, Entry] = {}
    for name, item in globals().items():
        if isinstance(item, Entry):
            found[name] = item
        elif isinstance(item, tuple) and item and all(isinstance(part, Entry) for part in item):
            found.update({f"{name}[{i}]": part for i, part in enumerate(item)})
    for answer, (shown, otherwise) in LOOK_CHANCES.items():
        found |= {f"LOOK_CHANCES[{answer}] shown": shown, f"LOOK_CHANCES[{answer}] otherwise": otherwise}
    return found


def digest() -> str:
    """Hash over all values, so that a result that rests on other numbers is known as stale."""
    return hashlib.sha256(repr([(name, entry.value) for name, entry in table().items()]).encode()).hexdigest()
