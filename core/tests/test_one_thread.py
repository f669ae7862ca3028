"""Linear algebra takes one thread, unless somebody has said otherwise."""

import os
import subprocess
import sys

import pytest

ASK = """
import spindle_core.model.thermal_network, numpy
big = numpy.ones((600, 600))
big @ big
print(len(__import__("os").listdir("/proc/self/task")))
"""


@pytest.mark.skipif((os.cpu_count() or 1) < 2, reason="one processor has one thread anyway")
@pytest.mark.parametrize(("said", "alone"), [(None, True), ("2", False)])
def test_small_matrices_have_no_threads_that_wait_for_each_other(said, alone):
    environment = {k: v for k, v in os.environ.items() if k != "OPENBLAS_NUM_THREADS"}
    if said is not None:
        environment["OPENBLAS_NUM_THREADS"] = said
    done = subprocess.run(
        [sys.executable, "-c", ASK], env=environment, capture_output=True, text=True, check=True
    )
    assert (int(done.stdout) == 1) is alone
