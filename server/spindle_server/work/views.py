"""Long work: how far it is, and stopping it."""

from __future__ import annotations

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import generics, serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.work.models import LongWork
from spindle_server.work.services import stop_work


class LongWorkSerializer(serializers.ModelSerializer):
    """A piece of long work."""

    asked_by_name = serializers.SerializerMethodField()

    class Meta:
        model = LongWork
        fields = [
            "id",
            "title",
            "asked_by_name",
            "state",
            "done",
            "total",
            "unit",
            "said",
            "stop_asked",
            "asked_at",
            "begun_at",
            "ended_at",
        ]

    def get_asked_by_name(self, work: LongWork) -> str:
        """Who asked for it; empty where the house itself did."""
        return work.asked_by.shown_name if work.asked_by else ""


class LongWorkList(generics.ListAPIView):
    """Long work, the newest first."""

    queryset = LongWork.objects.select_related("asked_by")
    serializer_class = LongWorkSerializer


class LongWorkStop(APIView):
    """A piece of long work that is to stop."""

    @extend_schema(request=None, responses=LongWorkSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """At its next step; what is done stays."""
        work = stop_work(actor=actor_of(request), work=get_object_or_404(LongWork, pk=pk))
        return Response(LongWorkSerializer(work).data)
