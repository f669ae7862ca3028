"""The rules and the computation of Taut Spindle.

Pure functions over NumPy arrays: no web framework, no clock, no hidden randomness. File input
and output live in :mod:`spindle_core.formats` only. The rooms, each above the next:

====================  ===================================================================
``cli``               ``spindle-core``, and its benchmarks
``formats``           logs in and out, other people's logs, results and reports as files
``publish``           statements that keep their figures; a whole bench as a report
``match``             a craft: mass, thrust, hover, minutes, and which motor for it
``rank``              scores, how sure their places are, and what is beaten
``intake``            claims, the parcel, propellers and screws that fit, peers
``compare``           runs read under equal conditions, and what may be said of them
``identification``    constants of motors and propellers from several runs
``reduction``         from a trace to figures, a module per kind of run
``run``               one recorded run: trace, facts, stand, zeros
``teardown``          the vocabulary of teardown observations, and what follows from them
``motor``             the motor as an object: code, winding, mass, leads, heat it may take
``model``             the physics: air, propeller, operating point, supply, heat, flight
``figures``           values with uncertainty, absent values, channels, statistics
``errors``            what can go wrong, each with a code and a sentence
====================  ===================================================================
"""

import os

# Matrices are small here: the threads of the linear algebra (two for each process of ours) wait for
# each other in loops that burn the processor, ten to thirty times what the work itself takes.
# Whoever has said otherwise, or has loaded NumPy before, keeps it.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

__version__ = "0.4.7"
