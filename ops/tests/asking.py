"""Asking a private database server."""

import os
import subprocess


def query(instance, text):
    command = [
        "mariadb",
        f"--socket={instance.database_socket}",
        "--user=spindle",
        "-N",
        "-e",
        text,
        "spindle",
    ]
    environment = {**os.environ, "MYSQL_PWD": instance.secrets()["database"]}
    done = subprocess.run(command, env=environment, capture_output=True, text=True, check=True)
    return done.stdout.strip()
