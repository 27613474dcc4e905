"""The fleet of a workshop's application: started from there, in a process of its own, and gone on with after a stop."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import threading
from contextlib import suppress
from pathlib import Path

from pydantic import BaseModel, ConfigDict

from phasko.core.errors import ConflictError
from phasko.fleet.folder import VIEW
from phasko.fleet.progress import Progress

__all__ = ["FleetDesk", "FleetState"]

_FOLDER = "fleet"
_EXIT_BAD = 1
"""Of the command: some could not be read, all others were."""


class FleetState(BaseModel):
    """Whether it is at it and how far; ``sources``: what is read; ``trouble``: why it ended before its time."""

    model_config = ConfigDict(frozen=True)
    running: bool
    done: int
    every: int
    bad: int
    words: str
    sources: list[str]
    made_at: str | None
    trouble: str


class FleetDesk:
    """Analyses the workshop in ``folder``, and further ones, into ``folder/fleet``."""

    def __init__(self, folder: Path, further: tuple[Path, ...] = ()) -> None:
        self.out = folder / _FOLDER
        self.sources = (folder, *further)
        self._lock = threading.Lock()
        self._process: subprocess.Popen[str] | None = None
        self._progress: Progress | None = None
        self._trouble = ""
        self._readers: list[threading.Thread] = []

    def start(self) -> None:
        """Begins, or goes on where it was stopped. Raises ConflictError while it is at it."""
        with self._lock:
            if self._running():
                raise ConflictError("The fleet is being analysed already", kept="It goes on")
            self._progress, self._trouble = None, ""
            command = [sys.executable, "-m", "phasko", "fleet", "analyse", *map(str, self.sources)]
            # A process of its own: neither its memory nor its end is the server's. Its group takes its workers along.
            process = subprocess.Popen(
                [*command, "--out", str(self.out), "--gently", "--json"],
                stdout=subprocess.PIPE,
                stderr=subprocess.PIPE,
                stdin=subprocess.DEVNULL,
                text=True,
                start_new_session=True,
            )
            self._process = process
            self._readers = [
                threading.Thread(target=self._follow, args=(process,), name="fleet", daemon=True),
                threading.Thread(target=self._mind, args=(process,), name="fleet-troubles", daemon=True),
            ]
            for reader in self._readers:
                reader.start()

    def stop(self) -> None:
        """Ends it; what was done is kept."""
        with self._lock:
            process = self._process
        if process is not None and process.poll() is None:
            with suppress(ProcessLookupError):
                os.killpg(process.pid, signal.SIGTERM)
            try:
                process.wait(10.0)
            except subprocess.TimeoutExpired:
                with suppress(ProcessLookupError):
                    os.killpg(process.pid, signal.SIGKILL)
                process.wait()
        for reader in self._readers:
            reader.join(10.0)

    close = stop

    def state(self) -> FleetState:
        """How it stands."""
        told, trouble = self._progress, self._trouble
        tables = self.out / "fleet.json"
        whole = tables.is_file() and (self.out / VIEW).is_file()
        made = json.loads(tables.read_text(encoding="utf-8")) if whole else {}
        running = self._running()
        ended = self._process is not None and not running
        failed = ended and self._process is not None and self._process.returncode not in (0, _EXIT_BAD, -signal.SIGTERM)
        return FleetState(
            running=running,
            done=told.done if told else 0,
            every=told.every if told else 0,
            bad=told.bad if told else 0,
            words=told.words if told else "",
            sources=[str(source) for source in self.sources],
            made_at=made.get("made_at"),
            trouble=trouble if failed else "",
        )

    def _running(self) -> bool:
        return self._process is not None and self._process.poll() is None

    def _follow(self, process: subprocess.Popen[str]) -> None:
        assert process.stdout is not None
        with process.stdout as lines:
            for line in lines:
                with suppress(ValueError, TypeError):
                    self._progress = Progress(**json.loads(line))
        process.wait()

    def _mind(self, process: subprocess.Popen[str]) -> None:
        assert process.stderr is not None
        with process.stderr as lines:
            for line in lines:
                if line.strip():
                    self._trouble = line.strip()[:500]
