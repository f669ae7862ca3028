"""Campaigns and their matrix."""

from __future__ import annotations

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics
from rest_framework.exceptions import NotFound
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import typed, typed_from
from spindle_server.plan import selectors, services
from spindle_server.plan.models import Campaign
from spindle_server.plan.serializers import (
    CampaignSerializer,
    ChangedCampaignSerializer,
    MatrixSerializer,
    NewCampaignSerializer,
)


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


class CampaignMatrix(APIView):
    """The matrix of a campaign."""

    @extend_schema(
        parameters=[OpenApiParameter("supply", int, description="One of its supplies.")],
        responses=MatrixSerializer,
    )
    def get(self, request: Request, pk: int) -> Response:
        """Every cell on one supply, the first where none is named, and the run to make next."""
        campaign = get_object_or_404(selectors.campaigns(), pk=pk)
        supplies = list(campaign.supplies.all())
        wanted = request.query_params.get("supply", "")
        supply = next((one for one in supplies if str(one.pk) == wanted), None)
        if supply is None and (wanted or not supplies):
            raise NotFound("The campaign does not name this supply.")
        found = selectors.matrix_of(campaign, supply or supplies[0])
        return Response(MatrixSerializer(found).data)
