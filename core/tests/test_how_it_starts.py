"""How a process of ours starts: with one thread of linear algebra, unless somebody has said
otherwise, and without a package that takes half a second to be read."""

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


def test_what_takes_long_to_import_is_not_imported():
    ask = (
        "import sys, pkgutil, importlib, spindle_core\n"
        "for one in pkgutil.walk_packages(spindle_core.__path__, 'spindle_core.'):\n"
        "    if '__main__' not in one.name: importlib.import_module(one.name)\n"
        "print('scipy.stats' in sys.modules)"
    )
    done = subprocess.run([sys.executable, "-c", ask], capture_output=True, text=True, check=True)
    assert done.stdout == "False\n"
