"""python -m benchmarks [rendering|stages|large|judging|pressing]"""

import sys

from benchmarks import judging, large, pressing, rendering, stages

PARTS = {"rendering": rendering.run, "stages": stages.run, "large": large.run, "judging": judging.run, "pressing": pressing.run}
for name in sys.argv[1:] or PARTS:
    PARTS[name]()
