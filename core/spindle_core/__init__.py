"""The rules and the computation of Taut Spindle.

Pure functions over NumPy arrays: no web framework, no clock, no hidden randomness. File input
and output live in :mod:`spindle_core.formats` only. Where to find what:

=========================  ==============================================================
``quantities``             names, units and plausible ranges of recorded channels
``measured``               values with uncertainty; absent values with a reason
``run_facts``, ``stand``   what is known of a run, and what its stand declares
``trace``                  one recorded run as columns
``reduction``              from a trace to figures, a module per kind of run
``identification``         motors and propellers from several runs
``operating_point``        motor + propeller + supply solved for their steady state
``supply``, ``in_flight``  limits, packs, and what flight changes
``correction``             figures at nominal voltage and in reference air
``reading``                curves read at equal thrust, power or throttle
``comparison``             deltas between readings and what may be said of them
``cohort``                 a folder of runs: repeats, comparison, ranking
``scoring``, ``match``     judgement, and craft
``size_code`` and others   the motor as an object: winding, leads, screws, fit, heat, claims
``teardown``               the vocabulary of teardown observations
``formats``                logs in and out, other people's logs, results as JSON
``cli``                    ``spindle-core``
=========================  ==============================================================
"""

__version__ = "0.3.0"
