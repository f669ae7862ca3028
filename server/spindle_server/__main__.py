"""``python -m spindle_server COMMAND``: Django's management commands."""

import os
import sys

from django.core.management import execute_from_command_line

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "spindle_server.settings")
    execute_from_command_line([f"{sys.executable} -m spindle_server", *sys.argv[1:]])
