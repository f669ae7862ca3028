"""Other people's files."""

from __future__ import annotations

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import generics
from rest_framework.exceptions import NotFound
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import VERSION, asked_version, typed
from spindle_server.imports import services
from spindle_server.imports.inbox import read_inbox_file, waiting
from spindle_server.imports.models import InboxFile, KnownMapping
from spindle_server.imports.opening import open_file
from spindle_server.imports.serializers import (
    InboxFileSerializer,
    KnownMappingSerializer,
    OpenedSerializer,
    OpenSerializer,
    StoreSerializer,
)
from spindle_server.runs.selectors import runs
from spindle_server.runs.serializers import RunSerializer


class FileOpen(APIView):
    """A file looked at; stores nothing."""

    parser_classes = [MultiPartParser]

    @extend_schema(request=OpenSerializer, responses=OpenedSerializer)
    def post(self, request: Request) -> Response:
        """What its columns were taken for, and the runs in it."""
        values = typed(request, OpenSerializer)
        file = values["file"]
        found = open_file(name=file.name, data=file.read(), mapping=values["mapping"])
        return Response(OpenedSerializer(found).data)


class FileStore(APIView):
    """A file stored as runs."""

    parser_classes = [MultiPartParser]

    @extend_schema(request=StoreSerializer, responses={201: RunSerializer(many=True)})
    def post(self, request: Request) -> Response:
        """Store all of its runs, or none; the same file twice is refused."""
        values = typed(request, StoreSerializer)
        file = values.pop("file")
        made = services.store_file(
            actor=actor_of(request), name=file.name, data=file.read(), **values
        )
        found = runs().in_bulk([run.pk for run in made])
        return Response(RunSerializer([found[run.pk] for run in made], many=True).data, 201)


class KnownMappingList(generics.ListAPIView):
    """Mappings that were kept."""

    queryset = KnownMapping.objects.all()
    serializer_class = KnownMappingSerializer


class KnownMappingDetail(APIView):
    """One mapping that was kept."""

    @extend_schema(parameters=[VERSION], responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Forget it; what was read by it stays."""
        row = get_object_or_404(KnownMapping, pk=pk)
        services.drop_mapping(actor=actor_of(request), pk=row.pk, base=asked_version(request))
        return Response(status=204)


class InboxList(generics.ListAPIView):
    """What waits in the inbox, the newest first."""

    serializer_class = InboxFileSerializer
    queryset = waiting()


class InboxDetail(APIView):
    """One file of the inbox."""

    @extend_schema(request=InboxFileSerializer, responses=InboxFileSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Put it aside, or back."""
        row = get_object_or_404(InboxFile, pk=pk)
        values = typed(request, InboxFileSerializer)
        services.put_aside(
            actor=actor_of(request), row=row, aside=values.get("put_aside", row.put_aside)
        )
        return Response(InboxFileSerializer(row).data)


class InboxContent(APIView):
    """What stands in one file of the inbox."""

    @extend_schema(responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def get(self, request: Request, pk: int) -> HttpResponse:
        """Byte for byte, as it was noticed."""
        row = get_object_or_404(InboxFile, pk=pk)
        data = read_inbox_file(row)
        if data is None:
            raise NotFound(f"{row.name} is no longer in the inbox as it was.")
        response = HttpResponse(data, content_type="application/octet-stream")
        response["Content-Disposition"] = 'attachment; filename="log"'
        return response
