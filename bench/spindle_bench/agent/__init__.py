"""The bench agent: the process around the engine.

``process``  sockets, clock and threads around one engine
``link``     the connection to the stand
``control``  the local socket through which the web part asks and watches
``frames``   what is shown, ten to thirty times a second
"""
