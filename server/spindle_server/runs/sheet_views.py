"""Typed readings."""

from __future__ import annotations

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import generics
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import typed, typed_from
from spindle_server.runs import later, sheets
from spindle_server.runs.filters import LaterCellFilter
from spindle_server.runs.models import LaterCell
from spindle_server.runs.selectors import runs
from spindle_server.runs.serializers import RunSerializer
from spindle_server.runs.sheet_serializers import (
    BlockLookSerializer,
    LaterCellSerializer,
    LookedAtSerializer,
    NewSheetSerializer,
    ReadLaterSerializer,
)


class SheetLook(APIView):
    """A sheet looked at while it is typed."""

    @extend_schema(request=LookedAtSerializer, responses=BlockLookSerializer(many=True))
    def post(self, request: Request) -> Response:
        """What each row means, and what is wrong with its cells; nothing is stored."""
        found = sheets.look(**typed(request, LookedAtSerializer))
        blocks = [{"rows": rows} for rows in found]
        return Response(BlockLookSerializer(blocks, many=True).data)


class SheetKeep(APIView):
    """A sheet kept as runs."""

    @extend_schema(request=NewSheetSerializer, responses={201: RunSerializer(many=True)})
    def post(self, request: Request) -> Response:
        """Keep it, a run a block: all of them, or none; the same block twice is refused."""
        made = sheets.keep_sheet(actor=actor_of(request), **typed(request, NewSheetSerializer))
        found = runs().in_bulk([run.pk for run in made])
        return Response(RunSerializer([found[run.pk] for run in made], many=True).data, 201)


class LaterCellList(generics.ListAPIView):
    """What is still owed from footage."""

    serializer_class = LaterCellSerializer

    queryset = later.still_owed()
    filterset_class = LaterCellFilter


class LaterCellDetail(APIView):
    """One cell that is read later."""

    @extend_schema(request=ReadLaterSerializer, responses=LaterCellSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Fill it in, or give it up with a reason, from a version that was read."""
        values, base = typed_from(request, ReadLaterSerializer)
        cell = get_object_or_404(LaterCell, pk=pk)
        later.read_later(actor=actor_of(request), cell=cell, base=base, **values)
        return Response(LaterCellSerializer(later.later_cells().get(pk=pk)).data)
