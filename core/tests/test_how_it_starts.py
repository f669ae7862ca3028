"""How a process of ours starts: with one thread of linear algebra, unless somebody has said
otherwise, and without a package that takes half a second to be read."""

import ast
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


LOADED = "print(sorted(m for m in sys.modules if m in {wanted!r}))"
LATER = ("scipy.linalg", "scipy.ndimage", "scipy.optimize", "scipy.special")


def loaded_after(code, wanted):
    ask = f"import sys\n{code}\n{LOADED.format(wanted=wanted)}"
    done = subprocess.run([sys.executable, "-c", ask], capture_output=True, text=True, check=True)
    return ast.literal_eval(done.stdout)


def test_what_takes_long_to_import_is_not_imported():
    everything = (
        "import pkgutil, importlib, spindle_core\n"
        "for one in pkgutil.walk_packages(spindle_core.__path__, 'spindle_core.'):\n"
        "    if '__main__' not in one.name: importlib.import_module(one.name)"
    )
    assert loaded_after(everything, ("scipy.stats", *LATER)) == []


def test_it_is_there_from_the_start_for_who_asks():
    """A bench that stopped for a third of a second in mid-run would be cut."""
    loads = "from spindle_core.figures import numerics\nnumerics.load()"
    assert loaded_after(loads, LATER) == list(LATER)
    # That is all that any of it fetches.
    uses = (
        "from spindle_core.figures import numerics as n\nimport numpy as np\n"
        "n.root(lambda x: x - 1, 0, 3, within=1e-6)\n"
        "n.running_median(np.arange(9.0), 3)\n"
        "n.least_of(lambda x: x * x, -1, 1)\n"
        "n.least_squares(lambda x: x, np.ones(2), bounds=(-2, 2))\n"
        "n.t_quantile(3, 0.9), n.t_below(3, 1)\n"
        "n.chi_square_above(3, 1), n.gamma_quantile(3, 0.5)\n"
        "n.forward_substituted(np.ones((2, 3)), np.ones(3))"
    )
    fetched = (
        f"{loads}\nbefore = set(sys.modules)\n{uses}\n"
        "assert not [m for m in set(sys.modules) - before if m.startswith('scipy')]"
    )
    assert loaded_after(fetched, LATER) == list(LATER)
