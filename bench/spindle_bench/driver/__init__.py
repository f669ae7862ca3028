"""A stand on a serial port, offered over TCP like any other: ``spindle-serial-stand``.

The device speaks the stand's protocol to one partner; the driver lets agent, stop door and health
check all speak to it, each as if alone. It never keeps a device alive: heartbeats are passed on,
not made, so that a driver that dies or hangs is a silent owner, and the device cuts by itself.
"""
