"""What a figure is: a value with its uncertainty, or absent with a reason.

``measured`` holds both; ``quantities`` names the recorded channels; ``instruments`` assumes an
accuracy where nobody declares one; ``repeats``, ``autocorrelation``, ``outliers`` and
``nonlinear_fit`` are the statistics every station uses; ``arrays`` names the array types.
"""
