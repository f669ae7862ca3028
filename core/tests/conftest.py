"""Makes the synthetic runs beside the tests importable; takes the clock out of the properties."""

import sys
from pathlib import Path

from hypothesis import settings

sys.path.insert(0, str(Path(__file__).parent))

# A slow moment of the machine is no failure of a property.
settings.register_profile("spindle", deadline=None)
settings.load_profile("spindle")
