"""Seeded trials that tests and benchmarks share: drawn engines, jobs and fleets with their truth, and a cache."""
