"""A bench's runs together: what a reviewer reads off a whole folder of logs.

``runs`` gathers them and finds the like ones, ``repeats_table`` says how well those agree,
``equal_conditions`` compares motors where only the motor differs, ``nominal`` brings figures to
nominal voltage and reference air, ``ranking`` scores the motors.
"""
