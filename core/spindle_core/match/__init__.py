"""Which motor, propeller, ESC and pack for a craft: mass, thrust, hover, minutes, picks."""
