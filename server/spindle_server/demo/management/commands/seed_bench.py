"""``seed_bench``: a made-up record of a given size, into a database without motors."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from spindle_server.demo.large import SIZES, seed
from spindle_server.demo.timing import time_endpoints
from spindle_server.motors.models import MotorModel


class Command(BaseCommand):
    """Seeds once; with ``--time`` says how long lists and files take."""

    help = "Fill a database without motors with a made-up record of a given size."

    def add_arguments(self, parser: CommandParser) -> None:
        """Size and timing."""
        parser.add_argument("--size", choices=sorted(SIZES), default="large")
        parser.add_argument("--time", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        """Seed unless it was seeded; refuse a record that somebody keeps."""
        say = lambda text: self.stdout.write(f"  seed: {text}")  # noqa: E731
        seeded = MotorModel.objects.filter(maker__name__startswith="Seed maker")
        if MotorModel.objects.exists() and not seeded.exists():
            raise CommandError("This database holds motors already; seed a folder of its own.")
        if not seeded.exists():
            seed(options["size"], say)
        if options["time"]:
            time_endpoints(say)
