"""The made-up bench of the demo: Gannet Yard Bench, its people, motors, propellers and runs.

Every name is invented. Runs come from the simulated stand with fixed seeds, through the same
engine a live run takes; ``world`` in the bench package holds the truth behind them.
"""
