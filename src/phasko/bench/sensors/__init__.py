"""Simulated sensors: from what the engine does to the voltage on a wire. One module per kind."""
