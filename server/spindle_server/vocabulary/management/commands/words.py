"""``words``: the vocabulary as JSON, for the tests of the front end."""

import json
from typing import Any

from django.core.management.base import BaseCommand

from spindle_server.vocabulary.serializers import WordsSerializer
from spindle_server.vocabulary.words import vocabulary


class Command(BaseCommand):
    """Prints what the address of the vocabulary answers."""

    help = "Print the vocabulary that pages are given."
    requires_system_checks: list[str] = []

    def handle(self, *args: Any, **options: Any) -> None:
        """Print it."""
        words = WordsSerializer(vocabulary()).data
        self.stdout.write(json.dumps(words, ensure_ascii=False, indent=1))
