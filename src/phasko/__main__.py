"""``python -m phasko`` is the command line."""

import sys

from phasko.cli import main

sys.exit(main())
