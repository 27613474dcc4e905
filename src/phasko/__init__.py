"""Phasko: cam-to-crank phase measured with its uncertainty, and a call with the covers on."""

import os

# Each is read once, when its library is first used; whoever sets it himself is followed. Every matrix here is small:
# shared out among threads it takes longer, and much longer beside other work. Arrow's own pool keeps what its threads
# filled for as long as they live; the system's gives it back when asked.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
os.environ.setdefault("ARROW_DEFAULT_MEMORY_POOL", "system")

__version__ = "0.3.0"
__all__ = ["__version__"]
