"""Craft and what suits them."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import asked, typed, typed_from
from spindle_server.api.kept_answers import kept_answer
from spindle_server.match import selectors, services
from spindle_server.match.closer import closer_look
from spindle_server.match.files import page_of, table_of
from spindle_server.match.kept import match_now, rests_on
from spindle_server.match.models import Craft
from spindle_server.match.serializers import (
    AskedCloserSerializer,
    CloserLookSerializer,
    CraftChangeSerializer,
    CraftMatchSerializer,
    CraftSerializer,
    CraftWriteSerializer,
)
from spindle_server.papers import table_csv, table_xlsx

XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


class CraftList(APIView):
    """Craft."""

    @extend_schema(responses=CraftSerializer(many=True))
    def get(self, request: Request) -> Response:
        """Those in use first."""
        return Response(CraftSerializer(selectors.craft_list(), many=True).data)

    @extend_schema(request=CraftWriteSerializer, responses={201: CraftSerializer})
    def post(self, request: Request) -> Response:
        """Keep a craft."""
        row = services.add_craft(actor=actor_of(request), **typed(request, CraftWriteSerializer))
        return Response(CraftSerializer(row).data, 201)


class CraftDetail(APIView):
    """One craft."""

    @extend_schema(request=CraftChangeSerializer, responses=CraftSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change it from a version that was read."""
        craft = get_object_or_404(Craft, pk=pk)
        values, base = typed_from(request, CraftChangeSerializer, craft)
        row = services.change_craft(actor=actor_of(request), craft=craft, base=base, **values)
        return Response(CraftSerializer(row).data)


def _craft(pk: int) -> Craft:
    rows = Craft.objects.select_related(
        "carries_motor__maker", "carries_propeller__maker", "lower_propeller__maker"
    )
    return get_object_or_404(rows, pk=pk)


def _match(pk: int) -> tuple[Craft, dict[str, Any]]:
    craft = _craft(pk)
    return craft, match_now(craft)


class CraftMatch(APIView):
    """What suits a craft."""

    @extend_schema(responses=CraftMatchSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Every motor on every propeller, three picks, and why the rest fell out."""
        return Response(_match(pk)[1])


def _file(content: str | bytes, kind: str, name: str) -> HttpResponse:
    response = HttpResponse(content, content_type=kind)
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


class MatchTable(APIView):
    """What suits a craft, as CSV."""

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.BINARY})
    def get(self, request: Request, pk: int) -> HttpResponse:
        """A row per candidate, each figure with its u."""
        return _file(table_csv(table_of(_match(pk)[1])), "text/csv; charset=utf-8", "match.csv")


class MatchWorkbook(APIView):
    """What suits a craft, as a workbook."""

    @extend_schema(responses={(200, XLSX): OpenApiTypes.BINARY})
    def get(self, request: Request, pk: int) -> HttpResponse:
        """A row per candidate, each figure with its u."""
        return _file(table_xlsx("match", table_of(_match(pk)[1])), XLSX, "match.xlsx")


class MatchPage(APIView):
    """What suits a craft, on one page."""

    @extend_schema(responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: Request, pk: int) -> HttpResponse:
        """As PDF: the picks, the upgrade, the table and what was assumed."""
        return _file(page_of(*_match(pk)), "application/pdf", "match.pdf")


class CloserLook(APIView):
    """One combination on a craft."""

    @extend_schema(parameters=[AskedCloserSerializer], responses=CloserLookSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """In flight, on another battery, and which other craft it suits."""
        craft = _craft(pk)
        said = {"cells": None, **asked(request, AskedCloserSerializer)}
        return kept_answer(
            "closer",
            (rests_on(craft), sorted(said.items())),
            CloserLookSerializer,
            lambda: closer_look(craft, **said),
        )
