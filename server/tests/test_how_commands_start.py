"""What a person waits for at a start."""

import pytest
from django.apps import apps
from django.core.management import find_commands, load_command_class

OWN = [
    (one.name, name)
    for one in apps.get_app_configs()
    if one.name.startswith("spindle_server.")
    for name in find_commands(f"{one.path}/management")
]


@pytest.mark.parametrize(("app", "name"), OWN, ids=[name for _, name in OWN])
def test_a_command_reads_no_view_before_its_work(app, name):
    """Django's checks of the code are a step of the tests: asked at each start they take longer
    than most of what is started."""
    assert load_command_class(app, name).requires_system_checks == []


def test_the_commands_of_a_start_are_among_them():
    names = {name for _, name in OWN}
    assert {"prepare_database", "reduce_stale", "identify_stale", "first_start"} <= names
