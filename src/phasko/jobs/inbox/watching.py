"""A folder that is watched, such as the one a scope exports to: whatever capture appears there comes into the inbox."""

from __future__ import annotations

import hashlib
import json
import logging
import os
import shutil
import threading
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path

from phasko.core.errors import PhaskoError, RefusedError
from phasko.formats import FORMATS
from phasko.jobs.inbox.waiting import inbox_folder
from phasko.store import Database
from phasko.store.audit import note

__all__ = ["Watching", "check_watched"]

EVERY_S = 2.0
_TAKEN = "watched.json"
_CAPTURE_ENDING = ".capture.json"
_MOST_FILES = 20_000
"""In one folder; more is somebody's whole disk."""
_LOG = logging.getLogger("phasko")


def check_watched(folders: Sequence[Path], workshop: Path) -> None:
    """Raises RefusedError for one that is the workshop's own folder, or within it."""
    for folder in folders:
        if folder.resolve().is_relative_to(workshop.resolve()) or workshop.resolve().is_relative_to(folder.resolve()):
            raise RefusedError(
                "That folder is the workshop's own", place=str(folder), remedy="Give the folder that the scope fills."
            )


@dataclass
class Watching:
    """Looks into the folders every two seconds, on a thread of its own. ``troubles``: by folder, why it cannot be read
    at the moment."""

    database: Database
    folders: tuple[Path, ...]
    troubles: dict[Path, str] = field(default_factory=dict)
    _seen: dict[Path, str] = field(default_factory=dict)
    _ended: threading.Event = field(default_factory=threading.Event)
    _thread: threading.Thread | None = None

    def start(self) -> None:
        """From now on, until it is closed."""
        self._thread = threading.Thread(target=self._watch, name="watching", daemon=True)
        self._thread.start()

    def close(self) -> None:
        """Ends it; a copy on its way is finished first."""
        self._ended.set()
        if self._thread is not None:
            self._thread.join()

    def _watch(self) -> None:
        while not self._ended.wait(EVERY_S):
            self.look()

    def look(self) -> list[str]:
        """Looks once. Takes every file that has not changed since the last look, and tells their names in the inbox."""
        taken: list[str] = []
        for folder in self.folders:
            try:
                taken += self._look_into(folder)
                self.troubles.pop(folder, None)
            except (OSError, PhaskoError) as error:
                # A share that is away comes back; the first time is worth a line.
                said = (error.strerror or str(error)) if isinstance(error, OSError) else error.what
                if folder not in self.troubles:
                    _LOG.warning("watched folder cannot be read: %s", said)
                self.troubles[folder] = said
        return taken

    def _look_into(self, folder: Path) -> list[str]:
        if not folder.is_dir():
            raise RefusedError("it is not there")
        known = self._taken()
        stamps = {path: _stamp(path) for path in _files(folder)}
        # A file that still grows is left until it stands still.
        still = [path for path, stamp in stamps.items() if self._seen.get(path) == stamp]
        self._seen = {path: stamp for path, stamp in self._seen.items() if not path.is_relative_to(folder)} | stamps
        fresh = [path for path in still if known.get(str(path)) != stamps[path]]
        taken = [name for path in fresh if (name := self._take(path)) is not None]
        if fresh:
            self._remember(known | {str(path): stamps[path] for path in fresh})
        if taken:
            with self.database.by("watched folder").transaction() as session:
                note(session, "arrived", f"{len(taken)} in the inbox")
        return taken

    def _take(self, path: Path) -> str | None:
        """Copies one with its description; ``None`` where the very same lies in the inbox already."""
        inbox = inbox_folder(self.database)
        name, there = _name_in(inbox, path)
        beside, described = _description_of(path), _description_of(inbox / name)
        with_words = beside.is_file() and not beside.is_symlink() and not described.exists()
        if with_words:
            _written(described, _named(beside.read_bytes(), path.name, name))
        if there:
            return name if with_words else None
        begun = inbox / f".{name}.begun"
        shutil.copyfile(path, begun)
        begun.replace(inbox / name)
        return name

    def _taken(self) -> dict[str, str]:
        with suppress(OSError, ValueError):
            held = json.loads((self.database.path.parent / _TAKEN).read_text(encoding="utf-8"))
            if isinstance(held, dict):
                return {str(path): str(stamp) for path, stamp in held.items()}
        return {}

    def _remember(self, taken: dict[str, str]) -> None:
        """What was taken once is not taken again, even after it was removed from the inbox."""
        text = json.dumps({path: stamp for path, stamp in taken.items() if Path(path).exists()}, indent=0)
        _written(self.database.path.parent / _TAKEN, text.encode())


def _files(folder: Path) -> list[Path]:
    """Data files in it and below, without links: those would show what lies elsewhere. Raises RefusedError for too
    many."""
    suffixes = {suffix for known in FORMATS for suffix in known.suffixes}
    found = []
    for path in folder.rglob("*"):
        if path.suffix.lower() in suffixes:
            if path.is_file() and not path.is_symlink() and not path.name.startswith("."):
                found.append(path)
            if len(found) > _MOST_FILES:
                raise RefusedError(f"more than {_MOST_FILES} files lie in it")
    return found


def _stamp(path: Path) -> str:
    """The file and its description as they stand: one that comes later is taken later."""
    return " ".join(
        f"{seen.st_size} {seen.st_mtime_ns}" for seen in (_seen(path), _seen(_description_of(path))) if seen
    )


def _seen(path: Path) -> os.stat_result | None:
    try:
        return path.stat()
    except FileNotFoundError:
        return None


def _name_in(inbox: Path, path: Path) -> tuple[str, bool]:
    """A name that nothing else has there, and whether the same bytes have it already."""
    name, number = path.name, 1
    while (held := inbox / name).exists():
        if held.stat().st_size == path.stat().st_size and _digest(held) == _digest(path):
            return name, True
        number += 1
        name = f"{path.stem}-{number}{path.suffix}"
    return name, False


def _digest(path: Path) -> bytes:
    with path.open("rb") as opened:
        return hashlib.file_digest(opened, "sha256").digest()


def _named(description: bytes, was: str, name: str) -> bytes:
    """The description with the data file's new name; as it is where it cannot be read: the import says why."""
    try:
        said = json.loads(description)
    except ValueError:
        return description
    if not isinstance(said, dict) or Path(str(said.get("data", ""))).name != was or was == name:
        return description
    return json.dumps(said | {"data": name}).encode()


def _written(path: Path, content: bytes) -> None:
    begun = path.with_name(f".{path.name}.begun")
    begun.write_bytes(content)
    begun.replace(path)


def _description_of(path: Path) -> Path:
    return path.with_name(f"{path.stem}{_CAPTURE_ENDING}")
