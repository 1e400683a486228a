"""python -m benchmarks [rendering|stages|baking|large|judging|pressing|library|archive]"""

import sys

from benchmarks import archive, baking, judging, large, library, pressing, rendering, stages

PARTS = {
    "rendering": rendering.run,
    "stages": stages.run,
    "baking": baking.run,
    "large": large.run,
    "judging": judging.run,
    "pressing": pressing.run,
    "library": library.run,
    "archive": archive.run,
}
for name in sys.argv[1:] or PARTS:
    PARTS[name]()
