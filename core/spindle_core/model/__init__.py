"""The physics: air, propellers, motors on supplies, heat, and what flight changes.

Plain numbers in, plain numbers out, each symbol and its unit in the docstring; what may carry an
uncertainty says so.
"""
