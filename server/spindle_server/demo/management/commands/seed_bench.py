"""``seed_bench``: a made-up record of a given size, into a database without motors."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from spindle_server.demo.large import SIZES, seed
from spindle_server.demo.timing import time_all
from spindle_server.motors.models import MotorModel
from spindle_server.verdict.models import Verdict


class Command(BaseCommand):
    """Seeds once; with ``--time`` says how long every answer takes."""

    help = "Fill a database without motors with a made-up record of a given size."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        """Size and timing."""
        parser.add_argument("--size", choices=sorted(SIZES), default="large")
        parser.add_argument("--time", action="store_true")
        parser.add_argument("--keep", type=Path, help="keep the times in this file")
        parser.add_argument("--against", type=Path, help="say what grew since these times")

    def handle(self, *args: Any, **options: Any) -> None:
        """Seed unless it was seeded; refuse a record that somebody keeps."""
        say = lambda text: self.stdout.write(f"  seed: {text}")  # noqa: E731
        seeded = MotorModel.objects.filter(maker__name__startswith="Seed maker")
        if MotorModel.objects.exists() and not seeded.exists():
            raise CommandError("This database holds motors already; seed a folder of its own.")
        if not seeded.exists():
            seed(options["size"], say)
        elif not Verdict.objects.exists():
            # What is made last is missing.
            raise CommandError("Seeding this folder broke off; seed another, or an empty one.")
        if options["time"]:
            time_all(say, keep=options["keep"], against=options["against"])
