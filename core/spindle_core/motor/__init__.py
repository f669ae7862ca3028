"""The motor as an object: what its code says, how it is wound, what it weighs, how hot it may get.

``kind`` says what of the record applies to a motor; ``stator_trend`` what its size lets one expect.
"""
