"""Snapshots: everybody on the bench reads, editors freeze."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema, extend_schema_field
from rest_framework import generics, serializers
from rest_framework.request import Request
from rest_framework.response import Response

from spindle_server.accounts.models import Role
from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import typed
from spindle_server.compare.asking import AskedComparison
from spindle_server.compare.serializers import AskedComparisonSerializer, ComparisonSerializer
from spindle_server.publish import services
from spindle_server.publish.first_format import as_now
from spindle_server.publish.models import Snapshot


class SnapshotSerializer(serializers.ModelSerializer):
    """A frozen comparison."""

    frozen_by_name = serializers.CharField(source="frozen_by.shown_name", read_only=True)
    content = serializers.SerializerMethodField()

    class Meta:
        model = Snapshot
        fields = ["id", "title", "frozen_at", "frozen_by_name", "content"]

    @extend_schema_field(ComparisonSerializer)
    def get_content(self, snapshot: Snapshot) -> dict[str, Any]:
        """As it was frozen; never made anew."""
        return as_now(snapshot.content)


class FreezeSerializer(AskedComparisonSerializer):
    """What to freeze: a comparison as it is asked for, under a title."""

    title = serializers.CharField(max_length=120)


class SnapshotList(generics.ListAPIView):
    """Frozen comparisons, newest first."""

    write_role = Role.EDITOR
    queryset = Snapshot.objects.select_related("frozen_by")
    serializer_class = SnapshotSerializer

    @extend_schema(request=FreezeSerializer, responses={201: SnapshotSerializer})
    def post(self, request: Request) -> Response:
        """Freeze a comparison; editors only."""
        values = typed(request, FreezeSerializer)
        title = values.pop("title")
        asked = AskedComparison(**values)
        snapshot = services.freeze_comparison(actor=actor_of(request), title=title, asked=asked)
        return Response(SnapshotSerializer(snapshot).data, 201)
