"""python -m benchmarks [rendering|pressing]"""

import sys

from benchmarks import pressing, rendering

PARTS = {"rendering": rendering.run, "pressing": pressing.run}
for name in sys.argv[1:] or PARTS:
    PARTS[name]()
