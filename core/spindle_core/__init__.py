"""The rules and the computation of Taut Spindle.

Pure functions over NumPy arrays: no web framework, no clock, no hidden randomness. File input
and output live in :mod:`spindle_core.formats` only. Where to find what:

=====================  ==========================================================
``quantities``         names, units and plausible ranges of recorded channels
``measured``           values with uncertainty; absent values with a reason
``size_code``          size codes and their basis
``air``                air density and the speed of sound
``operating_point``    motor + propeller + supply solved for their steady state
``trace``              one recorded run as columns
``reduction``          from a trace to figures (``steps``; the other kinds have a place)
``reading``            curves read at equal thrust, power or throttle
``comparison``         deltas between readings and what may be said of them
``teardown``           the vocabulary of teardown observations
``formats``            bench logs in and out, results as JSON
=====================  ==========================================================
"""

__version__ = "0.2.0"
