"""What the agent has loaded before it serves, so that no run in here stops for it."""

import pytest

from spindle_core.figures import numerics


@pytest.fixture(autouse=True, scope="session")
def _loaded() -> None:
    numerics.load()
