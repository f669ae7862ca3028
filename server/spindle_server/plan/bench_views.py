"""From the plan to the bench: what is passed over, what can run meanwhile, the sheet in use."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import typed
from spindle_server.plan import day_sheets, overrides, selectors
from spindle_server.plan.models import DaySheet, Override
from spindle_server.plan.serializers import (
    ChangedOverrideSerializer,
    DaySheetSerializer,
    MeanwhileSerializer,
    NewOverrideSerializer,
    OverrideSerializer,
    PutAwaySerializer,
    SheetAtBenchSerializer,
    TakeSheetSerializer,
    TickedStepSerializer,
)
from spindle_server.plan.supplies import supply_of


class Meanwhile(APIView):
    """What can be run while a pack charges or rests."""

    @extend_schema(
        parameters=[OpenApiParameter("supply", int, description="One of its supplies.")],
        responses=MeanwhileSerializer,
    )
    def get(self, request: Request, pk: int) -> Response:
        """Why the supply has to wait, the first where none is named, and what to run meanwhile."""
        campaign = get_object_or_404(selectors.campaigns(), pk=pk)
        supply = supply_of(campaign, request.query_params.get("supply", ""))
        return Response(MeanwhileSerializer(selectors.meanwhile(campaign, supply)).data)


class OverrideList(APIView):
    """What was decided against the proposals of a campaign."""

    @extend_schema(responses=OverrideSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """The newest first."""
        campaign = get_object_or_404(selectors.campaigns(), pk=pk)
        rows = overrides.overrides_of(campaign)
        return Response(OverrideSerializer(rows, many=True).data)

    @extend_schema(request=NewOverrideSerializer, responses={201: OverrideSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Pass over a proposed run."""
        campaign = get_object_or_404(selectors.campaigns(), pk=pk)
        values = typed(request, NewOverrideSerializer)
        row = overrides.override(actor=actor_of(request), campaign=campaign, **values)
        return Response(OverrideSerializer(row).data, 201)


class OverrideDetail(APIView):
    """One decision."""

    @extend_schema(request=ChangedOverrideSerializer, responses=OverrideSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Take it back, or let it stand again."""
        row = get_object_or_404(Override, pk=pk)
        values = typed(request, ChangedOverrideSerializer)
        base = values.pop("version", None)
        changed = overrides.change_override(actor=actor_of(request), row=row, base=base, **values)
        return Response(OverrideSerializer(changed).data)


def _shown(sheet: DaySheet) -> dict[str, Any]:
    return dict(DaySheetSerializer(day_sheets.sheet_json(sheet)).data)


class SheetAtBench(APIView):
    """The run sheet at the bench."""

    @extend_schema(responses=SheetAtBenchSerializer)
    def get(self, request: Request) -> Response:
        """What is done of it and what comes next."""
        sheet = day_sheets.sheet_in_use()
        found = None if sheet is None else day_sheets.sheet_json(sheet)
        return Response(SheetAtBenchSerializer({"found": found}).data)


class TakeSheet(APIView):
    """Taking a run sheet to the bench."""

    @extend_schema(request=TakeSheetSerializer, responses={201: DaySheetSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """What is still to run, as it stands now; the sheet that was there is put away."""
        campaign = get_object_or_404(selectors.campaigns(), pk=pk)
        values = typed(request, TakeSheetSerializer)
        supply = supply_of(campaign, str(values["supply"] or ""))
        sheet = day_sheets.take_sheet(
            actor=actor_of(request), campaign=campaign, supply=supply, drift=values["drift"]
        )
        return Response(_shown(sheet), 201)


class SheetSteps(APIView):
    """The steps of a sheet at the bench."""

    @extend_schema(request=TickedStepSerializer, responses=DaySheetSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """Tick one, or take its tick away."""
        sheet = get_object_or_404(DaySheet, pk=pk)
        row = day_sheets.tick_step(
            actor=actor_of(request), sheet=sheet, **typed(request, TickedStepSerializer)
        )
        return Response(_shown(row))


class SheetAway(APIView):
    """Putting a sheet away."""

    @extend_schema(request=PutAwaySerializer, responses=DaySheetSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """It is done with; it stays in the record."""
        sheet = get_object_or_404(DaySheet, pk=pk)
        base = typed(request, PutAwaySerializer)["version"]
        row = day_sheets.put_away(actor=actor_of(request), sheet=sheet, base=base)
        return Response(_shown(row))
