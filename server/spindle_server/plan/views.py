"""Campaigns and their matrix."""

from __future__ import annotations

from typing import Any

from django.db.models import QuerySet
from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import asked, typed, typed_from
from spindle_server.api.kept_answers import kept_answer
from spindle_server.plan import selectors, services
from spindle_server.plan.models import Campaign
from spindle_server.plan.run_sheets import sheet_csv, sheet_of, sheet_pdf
from spindle_server.plan.selectors import next_on_the_bench
from spindle_server.plan.serializers import (
    AskedSheetSerializer,
    CampaignSerializer,
    ChangedCampaignSerializer,
    MatrixSerializer,
    NewCampaignSerializer,
    NextOnTheBenchSerializer,
    RunSheetSerializer,
)
from spindle_server.plan.supplies import supply_of


class CampaignList(generics.ListAPIView):
    """Campaigns, the open ones first."""

    serializer_class = CampaignSerializer

    def get_queryset(self) -> QuerySet[Campaign]:
        """With what they name."""
        return selectors.campaigns()

    @extend_schema(request=NewCampaignSerializer, responses={201: CampaignSerializer})
    def post(self, request: Request) -> Response:
        """Begin one."""
        values = typed(request, NewCampaignSerializer)
        campaign = services.begin_campaign(actor=actor_of(request), **values)
        return Response(CampaignSerializer(campaign).data, 201)


class CampaignDetail(APIView):
    """One campaign."""

    @extend_schema(request=ChangedCampaignSerializer, responses=CampaignSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change what it asks or names, or close it, from a version that was read."""
        campaign = get_object_or_404(selectors.campaigns(), pk=pk)
        values, base = typed_from(request, ChangedCampaignSerializer, campaign)
        row = services.change_campaign(
            actor=actor_of(request), campaign=campaign, base=base, **values
        )
        return Response(CampaignSerializer(row).data)


def _sheet(request: Request, pk: int) -> dict[str, Any]:
    campaign = get_object_or_404(selectors.campaigns(), pk=pk)
    values = asked(request, AskedSheetSerializer)
    supply = supply_of(campaign, str(values["supply"] or ""))
    return sheet_of(campaign, supply, values["drift"])


class RunSheet(APIView):
    """The run sheet of a campaign."""

    @extend_schema(parameters=[AskedSheetSerializer], responses=RunSheetSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """What is still to run on one supply, in the order of a day."""
        return Response(RunSheetSerializer(_sheet(request, pk)).data)


class RunSheetFile(APIView):
    """The run sheet of a campaign as a file."""

    @extend_schema(
        parameters=[AskedSheetSerializer], responses={(200, "text/csv"): OpenApiTypes.BINARY}
    )
    def get(self, request: Request, pk: int) -> HttpResponse:
        """As CSV, to be ticked."""
        text = sheet_csv(_sheet(request, pk))
        response = HttpResponse(text, content_type="text/csv; charset=utf-8")
        response["Content-Disposition"] = 'attachment; filename="run-sheet.csv"'
        return response


class RunSheetPage(APIView):
    """The run sheet of a campaign to print."""

    @extend_schema(
        parameters=[AskedSheetSerializer], responses={(200, "application/pdf"): OpenApiTypes.BINARY}
    )
    def get(self, request: Request, pk: int) -> HttpResponse:
        """As PDF, to be ticked with a pen."""
        response = HttpResponse(sheet_pdf(_sheet(request, pk)), content_type="application/pdf")
        response["Content-Disposition"] = 'attachment; filename="run-sheet.pdf"'
        return response


class NextOnTheBench(APIView):
    """What to run next."""

    @extend_schema(responses=NextOnTheBenchSerializer)
    def get(self, request: Request) -> Response:
        """Of the newest open campaign on its first supply; null where no campaign is open."""
        return Response(NextOnTheBenchSerializer({"found": next_on_the_bench()}).data)


class CampaignMatrix(APIView):
    """The matrix of a campaign."""

    @extend_schema(
        parameters=[OpenApiParameter("supply", int, description="One of its supplies.")],
        responses=MatrixSerializer,
    )
    def get(self, request: Request, pk: int) -> Response:
        """Every cell on one supply, the first where none is named, and the run to make next."""
        campaign = get_object_or_404(selectors.campaigns(), pk=pk)
        supply = supply_of(campaign, request.query_params.get("supply", ""))
        rests = selectors.matrix_rests(campaign, supply)
        return kept_answer(
            "matrix", rests, MatrixSerializer, lambda: selectors.matrix_of(campaign, supply)
        )
