"""Which is better under equal conditions, and is it real?

``measured_run`` is a run with its figures. ``curve`` reads it between its points, ``delta`` holds
two readings against each other, ``table`` reads a run under equal conditions, ``subjects`` holds
runs, repeats, samples and models against each other, ``like_with_like`` asks whether they may
be compared at all. ``repeats_table`` and ``groups`` say what repeats and whole benches agree on,
``equal_conditions`` compares motors where only the motor differs, ``nominal`` brings figures to
nominal voltage and reference air, ``factor_table`` takes motors × propellers apart.
"""
