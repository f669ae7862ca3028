"""Runs: list, detail, trace, review, files and import."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import chain
from pathlib import PurePath
from typing import Any

from django.http import HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import generics
from rest_framework.exceptions import NotFound
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_core.errors import CoreError
from spindle_core.formats.log_files import SUFFIXES
from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import asked, typed, typed_from
from spindle_server.api.pieces import PiecesResponse
from spindle_server.runs import selectors, services
from spindle_server.runs.as_core import MOST_AT_ONCE, rows_of_trace
from spindle_server.runs.drawn import drawn_trace
from spindle_server.runs.filters import RunFilter, in_order_of
from spindle_server.runs.models import Run, SourceFile
from spindle_server.runs.serializers import (
    ImportSerializer,
    LogFileSerializer,
    NoticedSerializer,
    ReviewSerializer,
    RunDetailSerializer,
    RunSerializer,
    TraceAskedSerializer,
    TraceSerializer,
    UnderstoodSerializer,
    shape_reduction,
)
from spindle_server.runs.stored_files import source_pieces
from spindle_server.runs.tasks import REBUILD, rebuild_stale
from spindle_server.work.services import ask_for
from spindle_server.work.views import LongWorkSerializer

MOST_TRACE_POINTS = 6000


class RunList(generics.ListAPIView):
    """Runs, newest first."""

    serializer_class = RunSerializer
    filterset_class = RunFilter

    queryset = Run.objects.all()

    def paginate_queryset(self, queryset: Any) -> Any:
        """One page: its numbers are found and ordered first, then its runs are read by number.

        Ordering fifty thousand rows with all that a list shows of each takes seconds.
        """
        order = self.request.query_params.get("order", "")
        found: Any = in_order_of(queryset, order)
        if found is None:
            found = queryset.values_list("pk", flat=True)
        numbers = super().paginate_queryset(found) or []
        by_number = {run.pk: run for run in selectors.runs().filter(pk__in=numbers)}
        return [by_number[number] for number in numbers if number in by_number]


def _run(pk: int) -> Run:
    return get_object_or_404(selectors.with_results().select_related("source_file"), pk=pk)


class RunDetail(APIView):
    """One run."""

    @extend_schema(responses=RunDetailSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """The run with its figures."""
        return Response(RunDetailSerializer(_run(pk)).data)

    @extend_schema(request=ReviewSerializer, responses=RunDetailSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Accept or reject it, from a version that was read."""
        values, base = typed_from(request, ReviewSerializer)
        services.review_run(
            actor=actor_of(request),
            run=_run(pk),
            review=values["review"],
            reason=values["review_reason"],
            base=base,
        )
        return Response(RunDetailSerializer(_run(pk)).data)


class RunNoticed(APIView):
    """What was noticed of one run."""

    @extend_schema(request=NoticedSerializer, responses=RunDetailSerializer)
    def put(self, request: Request, pk: int) -> Response:
        """Say it, from a version that was read."""
        values, base = typed_from(request, NoticedSerializer)
        services.note_noticed(actor=actor_of(request), run=_run(pk), base=base, **values)
        return Response(RunDetailSerializer(_run(pk)).data)


class RunReduction(APIView):
    """The figures of one run."""

    @extend_schema(request=None, responses={200: RunDetailSerializer, 202: RunDetailSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Rebuild them with the core as it is now; of a long run as long work."""
        if rows_of_trace(_run(pk)) > MOST_AT_ONCE:
            ask_for(actor=actor_of(request), title=REBUILD, task=rebuild_stale)
            return Response(RunDetailSerializer(_run(pk)).data, 202)
        reduction = services.rereduce(actor=actor_of(request), run=_run(pk))
        if reduction.error:
            raise CoreError(reduction.error, code="reduction")
        return Response(RunDetailSerializer(_run(pk)).data)


class RunsRebuild(APIView):
    """The figures of all runs."""

    @extend_schema(request=None, responses={202: LongWorkSerializer})
    def post(self, request: Request) -> Response:
        """Make those again that are out of date, as long work."""
        work = ask_for(actor=actor_of(request), title=REBUILD, task=rebuild_stale)
        return Response(LongWorkSerializer(work).data, 202)


class RunTrace(APIView):
    """The trace of one run, thinned for drawing."""

    @extend_schema(parameters=[TraceAskedSerializer], responses=TraceSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Minimum and maximum per bucket; no peak is lost."""
        wanted = asked(request, TraceAskedSerializer)
        most = min(max(wanted["points"], 100), MOST_TRACE_POINTS)
        trace = drawn_trace(_run(pk), most, wanted["from_s"], wanted["until_s"])
        return Response(TraceSerializer(trace).data)


def _download(
    content: str | Iterator[bytes], name: str, kind: str = "text/csv; charset=utf-8"
) -> HttpResponseBase:
    """A file; what comes in pieces is sent on as it comes, and is never here whole."""
    pieces = iter([content.encode()]) if isinstance(content, str) else content
    first, second = next(pieces, b""), next(pieces, None)
    response: HttpResponseBase = (
        HttpResponse(first, content_type=kind)
        if second is None
        else PiecesResponse(chain([first, second], pieces), content_type=kind)
    )
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


class RunLogFile(APIView):
    """Every sample of a run."""

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.BINARY})
    def get(self, request: Request, pk: int) -> HttpResponseBase:
        """As a bench log."""
        return _download(selectors.bench_log_pieces(_run(pk)), f"run-{pk}-bench-log.csv")


class RunPointsFile(APIView):
    """The points of a run."""

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.BINARY})
    def get(self, request: Request, pk: int) -> HttpResponseBase:
        """As CSV, with a u column beside each figure."""
        return _download(selectors.points_as_csv(_run(pk)), f"run-{pk}-points.csv")


class RunSourceFile(APIView):
    """The file an imported run came from."""

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.BINARY})
    def get(self, request: Request, pk: int) -> HttpResponseBase:
        """Byte for byte."""
        source = SourceFile.objects.select_related("stored").filter(run_id=pk).first()
        if source is None:
            raise NotFound("This run was not imported from a file.")
        suffix = PurePath(source.name).suffix.lower()
        content = source_pieces(source)
        if suffix not in SUFFIXES or suffix == ".csv":
            return _download(content, f"run-{pk}-source.csv")
        return _download(content, f"run-{pk}-source{suffix}", "application/octet-stream")


class ImportPreview(APIView):
    """What an uploaded log says; stores nothing."""

    parser_classes = [MultiPartParser]

    @extend_schema(request=LogFileSerializer, responses=UnderstoodSerializer)
    def post(self, request: Request) -> Response:
        """Read, reduce and show."""
        values = typed(request, LogFileSerializer)
        file = values["file"]
        log, reduction = services.understand_log(name=file.name, data=file.read())
        duration = float(log.time_s[-1] - log.time_s[0])
        understood: dict[str, Any] = {
            "file_name": file.name,
            "kind": log.kind,
            "header": [{"key": k, "value": v} for k, v in log.header.items()],
            "columns": selectors.understood_columns(log),
            "carried_columns": list(log.extra),
            "row_count": log.time_s.size,
            "duration_s": duration,
            "rate_hz": (log.time_s.size - 1) / duration if duration > 0 else None,
            "result": shape_reduction(reduction),
            **selectors.proposals(log),
        }
        return Response(UnderstoodSerializer(understood).data)


class ImportConfirm(APIView):
    """Store an uploaded log as a run."""

    parser_classes = [MultiPartParser]

    @extend_schema(request=ImportSerializer, responses={201: RunDetailSerializer})
    def post(self, request: Request) -> Response:
        """Store; the same file twice is refused."""
        values = typed(request, ImportSerializer)
        file = values.pop("file")
        run = services.import_log(
            actor=actor_of(request), name=file.name, data=file.read(), **values
        )
        return Response(RunDetailSerializer(_run(run.pk)).data, 201)
