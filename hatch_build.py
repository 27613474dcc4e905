"""Puts the built front end into the wheel, so that who installs the wheel needs no Node."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

from hatchling.builders.hooks.plugin.interface import BuildHookInterface

sys.path.insert(0, str(Path(__file__).resolve().parent / "scripts"))

import front_end


class FrontEndHook(BuildHookInterface):
    """Builds what is stale; an editable installation is left alone, its page is built by scripts/prepare.sh."""

    def dependencies(self) -> list[str]:
        """What the build needs besides: a Node, where the machine has none that fits."""
        return [] if front_end.node_fits() else [front_end.NODE_PACKAGE]

    def initialize(self, version: str, build_data: dict[str, Any]) -> None:
        if version != "editable":
            front_end.build()
            build_data["artifacts"].append("src/phasko/web/static")
