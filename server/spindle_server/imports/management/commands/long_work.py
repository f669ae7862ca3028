"""``long_work``: the process that does long work and watches the inbox."""

from __future__ import annotations

import threading
from typing import Any

from django.core.management.base import BaseCommand
from django.utils.crypto import get_random_string
from django_tasks_db.management.commands.db_worker import Worker

from spindle_server.imports.half_stored import undo_the_lost
from spindle_server.imports.inbox import watch_forever
from spindle_server.work.doing import bound_memory, name_the_lost
from spindle_server.work.services import go_on


class Command(BaseCommand):
    """Runs until SIGTERM."""

    help = "Do long work, one piece after the other, and watch the inbox."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: Any) -> None:
        """For tests: end once nothing waits."""
        parser.add_argument("--batch", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        """Run."""
        bound_memory()
        if titles := name_the_lost():
            self.stdout.write(f"{len(titles)} pieces of work were lost when their process ended.")
            self.stdout.write(f"{len(go_on(titles))} of them go on.")
        if lost := undo_the_lost():
            self.stdout.write(f"{lost} large files were not stored when their process ended.")
        stop = threading.Event()
        if not options["batch"]:
            threading.Thread(target=watch_forever, args=(stop,), daemon=True).start()
        worker = Worker(
            queue_names=["*"],
            interval=1.0,
            batch=options["batch"],
            backend_name="default",
            startup_delay=False,
            max_tasks=None,
            worker_id=get_random_string(32),
            excluded_queue_names=[],
        )
        if not options["batch"]:
            worker.configure_signals()
        try:
            worker.run()
        finally:
            stop.set()
