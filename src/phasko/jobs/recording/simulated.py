"""The simulated instruments, started in a process of their own when they are first needed."""

from __future__ import annotations

import json
import secrets
import subprocess
import sys
import threading
import weakref
from dataclasses import dataclass
from typing import Any, TypeVar

from phasko.core.documents import EngineProfile
from phasko.core.errors import DeviceError
from phasko.devices import RemoteScanTool, RemoteScope, connect

__all__ = ["Doing", "Instruments", "car_sheet"]


class Instruments:
    """One process for all recordings; it ends with the server, killed or not, and is started again when it is gone."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._process: subprocess.Popen[str] | None = None
        self._ended: weakref.finalize[[subprocess.Popen[str]], Instruments] | None = None
        self._port = 0
        self._token = ""

    def scope(self, car: dict[str, Any]) -> RemoteScope:
        """A scope on that car. Raises DeviceError."""
        scope = RemoteScope(connect(self._found(), self._token, "scope"))
        return _on(scope, car)

    def scan_tool(self, car: dict[str, Any]) -> RemoteScanTool:
        """A scan tool on that car. Raises DeviceError."""
        tool = RemoteScanTool(connect(self._found(), self._token, "scan_tool"))
        return _on(tool, car)

    def _found(self) -> int:
        with self._lock:
            if self._process is None or self._process.poll() is not None:
                self._start()
            return self._port

    def _start(self) -> None:
        if self._ended is not None:
            self._ended()
        self._token = secrets.token_hex(16)
        process = subprocess.Popen(
            [sys.executable, "-m", "phasko.bench.instruments"],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            text=True,
        )
        assert process.stdin is not None and process.stdout is not None
        try:
            process.stdin.write(f"{self._token}\n")
            process.stdin.flush()
            self._port = int(json.loads(process.stdout.readline())["port"])
        except (OSError, ValueError, KeyError) as error:
            process.kill()
            raise DeviceError(
                "The simulated instruments do not start", kept="Nothing was recorded", remedy="Start the server again."
            ) from error
        self._process = process
        # Who forgets to close it leaves no process behind.
        self._ended = weakref.finalize(self, _end, process)

    def close(self) -> None:
        """Ends the process; every stream ends as if its cable were pulled."""
        with self._lock:
            if self._ended is not None:
                self._ended()
            self._process = self._ended = None


def _end(process: subprocess.Popen[str]) -> None:
    """It ends by itself once its input is closed; nobody waits for long."""
    assert process.stdin is not None and process.stdout is not None
    process.stdin.close()
    process.terminate()
    try:
        process.wait(10.0)
    except subprocess.TimeoutExpired:
        process.kill()
        process.wait()
    process.stdout.close()


_Instrument = TypeVar("_Instrument", RemoteScope, RemoteScanTool)


def _on(instrument: _Instrument, car: dict[str, Any]) -> _Instrument:
    """On that car; let go again where it cannot be."""
    try:
        instrument.put_on(car)
    except DeviceError:
        instrument.close()
        raise
    return instrument


@dataclass(frozen=True, slots=True)
class Doing:
    """What is done with the car while it is recorded: how it ``turns``, how warm it is, what was said of its phasers,
    and which of them are ``driven``."""

    turns: str
    temperature: str | None = None
    phasers: str = "unknown"
    driven: tuple[str, ...] = ()


def car_sheet(profile: EngineProfile, kept: str, doing: Doing, seed: int) -> dict[str, Any]:
    """The car that is put before the instruments: what is kept of it with the job (JSON; empty: a sound engine of this
    kind), as it is recorded now. Of a car that is kept ``as_said`` nothing was done that was not said."""
    told: dict[str, Any] = json.loads(kept) if kept else {"seed": seed}
    as_said = told.pop("as_said", False)
    document = profile.model_dump(mode="json", by_alias=True, exclude_none=True)
    sheet = {**told, "engine": document, "turns": doing.turns, "driven": doing.driven}
    if doing.temperature in ("cold", "hot"):
        sheet["temperature"] = doing.temperature
    if as_said and doing.phasers not in ("unplugged", "parked"):
        sheet["phasers_connected"] = True
    return sheet
