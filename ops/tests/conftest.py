"""A private database server of a test."""

import pytest

from spindle_ops.instance import Instance, free_port
from spindle_ops.mariadb import Database


@pytest.fixture
def instance(tmp_path):
    made = Instance("demo", tmp_path / "demo", free_port(), demo=True)
    made.prepare()
    return made


@pytest.fixture
def database(instance):
    server = Database(instance, durable=False)
    yield server
    server.stop()
