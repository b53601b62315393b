"""Times and memory, side by side in one run: `make bench`. Never a test: machines differ, ratios less."""

import os

# One thread for both sides, as each serving process has: set here, since it counts only before numpy first comes, with
# whichever part. A second thread does nothing but wait for the first, and is counted as the processor's time.
for _name in ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS", "MKL_NUM_THREADS"):
    os.environ[_name] = "1"
