"""The bench: the stand port, its simulated stand, run profiles and the agent that runs them.

==============  ==================================================================
``protocol``    the line protocol between agent and stand (docs/stand-protocol.md)
``stand``       the simulated stand: a physical model behind that protocol
``profiles``    what a run commands, as segments of throttle; no input or output
``limits``      what ends a run at once
``engine``      the state table; owns the run, makes it safe, confirms by read-back
``spool``       every sample on disk first
``delivery``    from the spool to the run store, once, also after a crash
``rehearsal``   a whole run in virtual time: engine and simulated stand, no sockets
``agent``       the process around the engine: sockets, clock, frames
==============  ==================================================================
"""

__version__ = "0.1.0"
