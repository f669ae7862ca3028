"""One recorded run: its samples, what is known of it, its stand and its zeros.

``trace`` are the samples as columns, ``facts`` the preamble, ``stand`` what the stand declares of
itself, ``tare`` the zeros before and after, ``duty`` what share of the supply the motor saw.
"""
