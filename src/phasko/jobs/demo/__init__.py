"""The demo: jobs of the island motor pool, made by the bench through the same use cases as a user's work."""

from phasko.jobs.demo.filling import fill_demo

__all__ = ["fill_demo"]
