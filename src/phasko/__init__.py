"""Phasko: cam-to-crank phase measured with its uncertainty, and a call with the covers on."""

import os

# Every matrix here is small: shared out among threads it takes longer, and much longer beside other work. The library
# reads this once, when NumPy is first imported; whoever sets it himself is followed.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

__version__ = "0.2.0"
__all__ = ["__version__"]
