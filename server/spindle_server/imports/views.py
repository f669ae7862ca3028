"""Other people's files."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import generics
from rest_framework.exceptions import NotFound, ValidationError
from rest_framework.parsers import BaseParser, MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import VERSION, asked_version, typed
from spindle_server.errors import ServiceError
from spindle_server.imports import large, services
from spindle_server.imports.inbox import (
    inbox_path,
    is_large,
    read_inbox_file,
    telling_part,
    waiting,
)
from spindle_server.imports.models import InboxFile, KnownMapping, LargeFile
from spindle_server.imports.opening import open_file, open_large
from spindle_server.imports.serializers import (
    InboxFileSerializer,
    KnownMappingSerializer,
    LargeAskSerializer,
    LargeFileSerializer,
    LargeOpenSerializer,
    OpenedSerializer,
    OpenSerializer,
    StoreSerializer,
)
from spindle_server.runs.selectors import runs
from spindle_server.runs.serializers import RunSerializer
from spindle_server.runs.stored_files import PART_BYTES


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


class LargeOpen(APIView):
    """A large file looked at by a part of it; stores nothing."""

    parser_classes = [MultiPartParser]

    @extend_schema(request=LargeOpenSerializer, responses=OpenedSerializer)
    def post(self, request: Request) -> Response:
        """What its columns were taken for, and the run in it."""
        values = typed(request, LargeOpenSerializer)
        row, part = values["inbox"], values["part"]
        if row is not None:
            path = inbox_path(row)
            if path is None:
                raise NotFound(f"{row.name} is no longer in the inbox as it was.")
            name, size, data = row.name, row.size, telling_part(path)
        elif part is None or values["size"] is None:
            raise ValidationError({"part": ["Send a part of the file, and its size."]})
        else:
            name, size, data = values["name"] or part.name, values["size"], part.read()
        found = open_large(name=name, size=size, part=data, mapping=values["mapping"])
        return Response(OpenedSerializer(found).data)


class LargeFileList(generics.ListAPIView):
    """Large files that are not stored yet, the newest first."""

    serializer_class = LargeFileSerializer
    queryset = large.large_files().exclude(state="stored")

    @extend_schema(request=LargeAskSerializer, responses={201: LargeFileSerializer})
    def post(self, request: Request) -> Response:
        """Announce one; the same again goes on where it stopped."""
        file = large.announce(actor=actor_of(request), **typed(request, LargeAskSerializer))
        return Response(LargeFileSerializer(large.large_files().get(pk=file.pk)).data, 201)


class LargeFileDetail(APIView):
    """One large file."""

    @extend_schema(responses=LargeFileSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """What has come of it, what is made of it."""
        return Response(LargeFileSerializer(get_object_or_404(large.large_files(), pk=pk)).data)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Drop what came of it; what was stored of it as a run stays."""
        large.drop_large(actor=actor_of(request), file=get_object_or_404(LargeFile, pk=pk))
        return Response(status=204)


class PartParser(BaseParser):
    """The bytes of one part, as they are."""

    media_type = "application/octet-stream"

    def parse(self, stream: Any, media_type: Any = None, parser_context: Any = None) -> Any:
        """No more than a part may have, and a byte by which it is seen to be too much."""
        return stream.read(PART_BYTES + 1)


class LargeFilePart(APIView):
    """One part of a large file."""

    parser_classes = [PartParser]

    @extend_schema(request={"application/octet-stream": OpenApiTypes.BINARY}, responses={204: None})
    def put(self, request: Request, pk: int, index: int) -> Response:
        """Take it; the same again changes nothing."""
        file = get_object_or_404(LargeFile, pk=pk)
        data = request.data if isinstance(request.data, bytes) else b""
        large.take_part(actor=actor_of(request), file=file, index=index, data=data)
        return Response(status=204)


class LargeFileStore(APIView):
    """A large file that is to become a run."""

    @extend_schema(request=None, responses={202: LargeFileSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """As long work."""
        file = large.store_as_run(actor=actor_of(request), file=get_object_or_404(LargeFile, pk=pk))
        return Response(LargeFileSerializer(large.large_files().get(pk=file.pk)).data, 202)


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
        """Byte for byte, as it was noticed; a large one stays where it lies."""
        row = get_object_or_404(InboxFile, pk=pk)
        if is_large(row.size):
            raise ServiceError(f"{row.name} is read from where it lies.", code="large")
        data = read_inbox_file(row)
        if data is None:
            raise NotFound(f"{row.name} is no longer in the inbox as it was.")
        response = HttpResponse(data, content_type="application/octet-stream")
        response["Content-Disposition"] = 'attachment; filename="log"'
        return response
