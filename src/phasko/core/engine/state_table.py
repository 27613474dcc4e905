"""Many states side by side: where cams, valves and cylinders stand in each of them, as columns."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from phasko.core.arrays import Bools, Floats
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.filling import compression_left_each, serving_cams
from phasko.core.engine.state import ALWAYS, Condition, EngineState

__all__ = ["StateTable"]


@dataclass(frozen=True, slots=True, eq=False)
class StateTable:
    """States of one engine, one a row. Every answer is an array over the states; what was asked once is kept."""

    profile: EngineProfile
    states: tuple[EngineState, ...]
    _kept: dict[tuple[object, ...], Floats] = field(default_factory=dict)

    def __len__(self) -> int:
        return len(self.states)

    def number(self, name: str) -> Floats:
        """A field of the states that is one number each, by its name, of shape (states,) in that field's unit."""
        return self._once(("number", name), lambda: np.array([getattr(s, name) for s in self.states], dtype=float))

    def cam_number(self, name: str, cam: str) -> Floats:
        """What a field that is told by cam says of one cam, 0 where nothing, of shape (states,) in that field's
        unit."""
        return self._once(
            ("cam", name, cam), lambda: np.array([getattr(s, name).get(cam, 0.0) for s in self.states], dtype=float)
        )

    def where(self, name: str) -> Bools:
        """Where a field says anything at all, of shape (states,), unitless."""
        return self._once(("where", name), lambda: np.array([bool(getattr(s, name)) for s in self.states])) > 0

    def valves(self, cam: str, condition: Condition = ALWAYS) -> Floats:
        """How late a cam's valves are against the pistons (deg), of shape (states,)."""
        held = self.cam_number("valves_deg", cam) + self.number("sprocket_deg") + self.number("hub_deg")
        return np.asarray(held + self.coming_and_going(cam, condition)[:, 0])

    def readings(self, cam: str, condition: Condition = ALWAYS) -> Floats:
        """How late a cam's signal reads against the crank's (deg), of shape (states,)."""
        signal = self.cam_number("cam_signals_deg", cam) + self.number("readings_deg")
        wheel = self.number("hub_deg") + self.number("crank_wheel_deg")
        return np.asarray(self.valves(cam, condition) + signal - wheel)

    def coming_and_going(self, cam: str, condition: Condition) -> Floats:
        """Mean and standard deviation of what a phaser or a slack tensioner adds to a cam (deg), of shape
        (states, 2)."""

        def found() -> Floats:
            made = np.zeros((len(self.states), 2))
            for row in np.flatnonzero(self.where("phaser_deg") | self.where("slack_deg")).tolist():
                made[row] = self.states[row].coming_and_going_deg(cam, condition)
            return made

        return self._once(("comes", cam, condition), found)

    def pressed(self, condition: Condition = ALWAYS) -> Floats:
        """Peak of every cylinder over that of a healthy one, of shape (states, cylinders) in firing order (unitless).
        Cams that stand let some cylinders compress and others not; where it is not said which, the middle is what is
        least wrong."""
        return self._once(("pressed", condition), lambda: self._pressed(condition))

    def _pressed(self, condition: Condition) -> Floats:
        order, bank_of = self.profile.firing_order, self.profile.bank_of
        made = np.empty((len(self.states), len(order)))
        in_time = np.zeros(len(self.states))
        valves = {cam.id: self.valves(cam.id, condition) for cam in self.profile.cams}
        for bank in sorted(set(bank_of.values())):
            late = [in_time if cam is None else valves[cam] for cam in serving_cams(self.profile, bank)]
            left = compression_left_each(self.profile, late[0], late[1])
            made[:, [i for i, c in enumerate(order) if bank_of[c] == bank]] = left[:, None]
        turn = np.array([state.cams_turn for state in self.states], dtype=bool)
        made[~turn] = np.where(self.where("seal") & (self.number("unknown_seal_sd") == 0.0), 1.0, 0.5)[~turn, None]
        made[turn] *= self.number("seal_of_all")[turn, None]
        for row in np.flatnonzero(self.where("seal") & (turn | (self.number("unknown_seal_sd") == 0.0))).tolist():
            made[row] *= [self.states[row].seal.get(c, 1.0) for c in order]
        for row in np.flatnonzero(self.where("still") & turn).tolist():
            made[row] *= [0.0 if self.states[row].still.get(c) == "intake" else 1.0 for c in order]
        return made

    def _once(self, key: tuple[object, ...], work: Callable[[], Floats]) -> Floats:
        if key not in self._kept:
            self._kept[key] = work()
        return self._kept[key]
