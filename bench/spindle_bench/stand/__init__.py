"""The simulated stand: a physical model of motor, propeller, supply and sensors.

It speaks the same line protocol as a real stand's driver would and can fail on request.
"""
