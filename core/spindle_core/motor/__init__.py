"""The motor as an object: what its code says, how it is wound, what it weighs, how hot it may get.

``stator_trend`` says what a stator of its size lets one expect.
"""
