"""Numbers of runs in the demo: eighteen without a propeller come first, as they were made."""

SABLE = 19
DRIFT = 25
FOUR = 28
LITE = 35
LOST_SPEED = 36
