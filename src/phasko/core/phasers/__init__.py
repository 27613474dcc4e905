"""Phasers: when they were driven, how far and how fast their cams went, and where they came back to."""

from phasko.core.phasers.beside import recorded_beside
from phasko.core.phasers.command import CommandStep, PhaserCommands, driven_cams, phaser_commands
from phasko.core.phasers.result import phaser_results, sweep_words
from phasko.core.phasers.sweep import PhaserSweep, SweepState, commands_by_movement, measure_sweep, rest_until
from phasko.core.phasers.travel import Level, Travel
from phasko.core.phasers.view import SweepPicture, sweep_pictures

__all__ = [
    "CommandStep",
    "Level",
    "PhaserCommands",
    "PhaserSweep",
    "SweepPicture",
    "SweepState",
    "Travel",
    "commands_by_movement",
    "driven_cams",
    "measure_sweep",
    "phaser_commands",
    "phaser_results",
    "recorded_beside",
    "rest_until",
    "sweep_pictures",
    "sweep_words",
]
