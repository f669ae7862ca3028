"""Makes the synthetic runs beside the tests importable; fixes the examples of the properties.

A slow moment of the machine is no failure of a property, and a test that passed yesterday on
the same code passes today: the examples are always the same ones. To look for new ones:
`pytest --hypothesis-profile=search core/tests`.
"""

import sys
from pathlib import Path

from hypothesis import settings

sys.path.insert(0, str(Path(__file__).parent))

settings.register_profile("spindle", deadline=None, derandomize=True)
settings.register_profile("search", deadline=None, max_examples=1000)
settings.load_profile("spindle")
