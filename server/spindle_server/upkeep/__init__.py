"""Whether the installation is in order: its parts, room, backups, runs on their way, clocks."""
