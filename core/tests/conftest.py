"""Makes the synthetic runs beside the tests importable."""

import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent))
