"""The simulated instruments behind a socket: each connection is one scope or one scan tool on a car of its own."""

from __future__ import annotations

import hmac
import socket
import threading
import time
from typing import Any

import numpy as np
from pydantic import ValidationError

from phasko.bench.instruments.car import CarSheet, Looped, SimulatedCar
from phasko.bench.scan_tool import read_codes, read_live
from phasko.core.errors import DeviceError, PhaskoError
from phasko.devices import Link, LiveValues, ReadCode, ScopeAbout, ScopeSetup, StoredFrame

__all__ = ["serve_instruments"]

BLOCK_S = 0.04
ABOUT = ScopeAbout(
    name="Simulated scope, 8 channels, 12 bit",
    channels=8,
    rates_hz=[10_000.0, 20_000.0, 50_000.0, 100_000.0, 200_000.0],
    ranges_v=[0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0],
    bits=12,
)


def serve_instruments(door: socket.socket, token: str) -> None:
    """Answers every connection that knows the token, each in a thread of its own, until the socket is closed."""
    while True:
        try:
            own, _ = door.accept()
        except OSError:
            return
        threading.Thread(target=_serve, args=(Link(own), token), daemon=True).start()


def _serve(link: Link, token: str) -> None:
    try:
        hello, _ = link.receive(10.0)
        if hello.get("do") != "hello" or not hmac.compare_digest(str(hello.get("token")), token):
            link.send({"error": "This instrument belongs to another workshop"})
            return
        if hello.get("version") != 1:
            link.send({"error": "This instrument speaks version 1 only"})
            return
        link.send({"hello": 1})
        instrument = _ScanTool(link) if hello.get("as") == "scan_tool" else _Scope(link)
        while True:
            head, _ = link.receive()
            try:
                instrument.answer(head)
            except (PhaskoError, ValidationError) as error:
                link.send({"error": _words(error)})
    except DeviceError:
        # The workshop hung up.
        return
    finally:
        link.close()


def _words(error: PhaskoError | ValidationError) -> str:
    if isinstance(error, PhaskoError):
        return error.what
    first = error.errors()[0]
    return f"{'.'.join(str(part) for part in first['loc'])}: {first['msg']}"


class _OnACar:
    def __init__(self, link: Link) -> None:
        self.link = link
        self.car: SimulatedCar | None = None

    def put_on(self, told: Any) -> None:
        self.car = SimulatedCar(CarSheet.model_validate(told))
        self.link.send({"ok": True})

    def known_car(self) -> SimulatedCar:
        if self.car is None:
            raise DeviceError("The instrument is on no car")
        return self.car


class _Scope(_OnACar):
    def __init__(self, link: Link) -> None:
        super().__init__(link)
        self.setup: ScopeSetup | None = None
        self.looped: Looped | None = None
        self.stopping = threading.Event()

    def answer(self, head: dict[str, Any]) -> None:
        do = head.get("do")
        if do == "about":
            self.link.send({"about": ABOUT.model_dump(mode="json")})
        elif do == "car":
            self.put_on(head.get("car"))
        elif do == "arm":
            self.setup = ScopeSetup.model_validate(head.get("setup"))
            if self.setup.rate_hz > ABOUT.rates_hz[-1]:
                raise DeviceError(f"This scope samples no faster than {ABOUT.rates_hz[-1] / 1000:g} kS/s")
            self.looped = self._recorded()
            self.link.send({"rate_hz": self.setup.rate_hz})
        elif do == "start":
            if self.looped is None:
                raise DeviceError("It was not set up")
            self.stopping.clear()
            threading.Thread(target=self._stream, daemon=True).start()
        elif do == "turn":
            changed = head.get("changed") or {}
            self.known_car().sync_deg = float(changed.get("sync_deg", self.known_car().sync_deg))
            if self.looped is not None:
                self.looped = self._recorded()
        elif do == "stop":
            self.stopping.set()
        else:
            raise DeviceError(f"This scope does not know {do!r}")

    def _recorded(self) -> Looped:
        assert self.setup is not None
        return self.known_car().recorded([(c.signal, c.range_v) for c in self.setup.channels], self.setup.rate_hz)

    def _stream(self) -> None:
        """Blocks at the pace of the clock on the wall, until it is stopped or has recorded as long as it may."""
        setup, trouble = self.setup, self.known_car().sheet.trouble
        assert setup is not None
        rate = setup.rate_hz
        begun, sent, at, number = time.monotonic(), 0, 0, 0
        most = round(setup.most_s * rate)
        try:
            while not self.stopping.is_set() and sent < most:
                looped = self.looped
                assert looped is not None
                due = min(most, int((time.monotonic() - begun) * rate * (1.0 + trouble.clock_share)))
                count = min(due - sent, round(0.25 * rate))
                if count < round(0.5 * BLOCK_S * rate) and due < most:
                    time.sleep(BLOCK_S / 2)
                    continue
                places, at = _places(looped, at, count)
                number += 1
                if sent / rate > trouble.unplugged_at_s:
                    self.link.close()
                    return
                if trouble.late_every and number % trouble.late_every == 0:
                    time.sleep(trouble.late_s)
                if not (trouble.lose_every and number % trouble.lose_every == 0):
                    block = np.ascontiguousarray(looped.volts[:, places], dtype="<f4")
                    self.link.send({"block": {"first": sent, "count": count}}, block.tobytes())
                sent += count
            self.link.send({"end": {"samples": sent}})
        except DeviceError:
            return


def _places(looped: Looped, at: int, count: int) -> tuple[np.ndarray, int]:
    """Which samples come next, and where one is then; past the end the loop is played again."""
    first, last = looped.loop
    running = at + np.arange(count)
    places = np.where(running < last, running, first + (running - last) % max(1, last - first))
    after = int(running[-1]) + 1 if count else at
    return places, after if after < last else first + (after - last) % max(1, last - first)


class _ScanTool(_OnACar):
    def __init__(self, link: Link) -> None:
        super().__init__(link)
        self.cleared = False
        self.begun_s = 0.0
        self.driven: dict[str, float] = {}

    def answer(self, head: dict[str, Any]) -> None:
        do = head.get("do")
        if do == "car":
            self.put_on(head.get("car"))
        elif do == "codes":
            self.link.send({"codes": [] if self.cleared else self._codes()})
        elif do == "clear":
            self.cleared = True
            self.link.send({"ok": True})
        elif do == "live":
            run = self.known_car().run
            if not self.begun_s:
                self.begun_s = time.monotonic()
            # It runs on at the pace of the clock, from its first third on.
            last = float(run.times_s[-1])
            live = read_live(run, 0.3 * last + (time.monotonic() - self.begun_s) % (0.6 * last))
            values = LiveValues(
                rpm=live.rpm,
                coolant_c=88.0 if self.known_car().sheet.temperature == "hot" else 14.0,
                manifold_bar=live.manifold_bar,
                battery_v=live.battery_v,
                synchronised=live.synchronised,
                cam_deg=dict(live.cam_deg),
            )
            self.link.send({"live": values.model_dump(mode="json")})
        elif do == "drive":
            cam = str(head.get("cam"))
            found = self.known_car().sheet.engine.cam(cam)
            if found is None or found.phaser is None:
                raise DeviceError(f"This car has no phaser on {cam!r}")
            self.driven[cam] = float(head.get("share", 0.0))
            self.link.send({"ok": True})
        else:
            raise DeviceError(f"This scan tool does not know {do!r}")

    def _codes(self) -> list[dict[str, Any]]:
        found = []
        hot = self.known_car().sheet.temperature == "hot"
        for one in read_codes(self.known_car().run):
            frame = StoredFrame(
                rpm=round(one.freeze_frame.rpm),
                coolant_c=88.0 if hot else 14.0,
                battery_v=round(one.freeze_frame.battery_v, 1),
                load_percent=round(100.0 * min(1.0, one.freeze_frame.manifold_bar), 1),
                speed_kmh=0.0,
            )
            found.append(ReadCode(code=one.code, status=one.status, freeze_frame=frame).model_dump(mode="json"))
        return found
