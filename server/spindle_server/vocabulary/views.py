"""The one vocabulary."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.vocabulary.serializers import WordsSerializer
from spindle_server.vocabulary.words import vocabulary


class Words(APIView):
    """Quantities, kinds of run, limits, the checklist and the words of every choice."""

    @extend_schema(responses=WordsSerializer)
    def get(self, request: Request) -> Response:
        """The same for everybody, until the next version."""
        return Response(WordsSerializer(vocabulary()).data)
