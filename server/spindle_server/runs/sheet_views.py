"""Typed readings."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import typed
from spindle_server.runs import sheets
from spindle_server.runs.selectors import with_results
from spindle_server.runs.serializers import RunDetailSerializer
from spindle_server.runs.sheet_serializers import (
    LookedAtSerializer,
    NewSheetSerializer,
    RowLookSerializer,
)


class SheetLook(APIView):
    """A sheet looked at while it is typed."""

    @extend_schema(request=LookedAtSerializer, responses=RowLookSerializer(many=True))
    def post(self, request: Request) -> Response:
        """What each row means, and what is wrong with its cells; nothing is stored."""
        found = sheets.look(**typed(request, LookedAtSerializer))
        return Response(RowLookSerializer(found, many=True).data)


class SheetKeep(APIView):
    """A sheet kept as a run."""

    @extend_schema(request=NewSheetSerializer, responses={201: RunDetailSerializer})
    def post(self, request: Request) -> Response:
        """Keep it; the same sheet twice is refused."""
        run = sheets.keep_sheet(actor=actor_of(request), **typed(request, NewSheetSerializer))
        return Response(RunDetailSerializer(with_results().get(pk=run.pk)).data, 201)
