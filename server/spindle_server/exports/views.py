"""Archives of runs."""

from __future__ import annotations

from django.http.response import HttpResponseBase
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics
from rest_framework.exceptions import NotFound, ValidationError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import typed
from spindle_server.api.pieces import PiecesResponse
from spindle_server.exports import services
from spindle_server.exports.models import RunExport
from spindle_server.exports.serializers import NewExportSerializer, RunExportSerializer
from spindle_server.runs.filters import RunFilter
from spindle_server.runs.models import Run
from spindle_server.runs.stored_files import pieces_of

SHOWN = RunExport.objects.select_related("work", "stored", "asked_by")


class RunExportList(generics.ListAPIView):
    """Archives of runs, the newest first."""

    queryset = SHOWN.all()
    serializer_class = RunExportSerializer

    @extend_schema(
        parameters=[OpenApiParameter(name, str) for name in RunFilter.base_filters],
        request=NewExportSerializer,
        responses={202: RunExportSerializer},
    )
    def post(self, request: Request) -> Response:
        """Ask for one: of the runs that are named, else of all that the filters find."""
        values = typed(request, NewExportSerializer)
        named = values["runs"]
        runs = _found(request) if named is None else services.all_found(named)
        export = services.ask_for_export(
            actor=actor_of(request), runs=runs, with_logs=values["with_logs"]
        )
        return Response(RunExportSerializer(SHOWN.get(pk=export.pk)).data, 202)


def _found(request: Request) -> list[int]:
    """Numbers of the runs that the filters of the list find, the newest first."""
    found = RunFilter(request.query_params, queryset=Run.objects.all(), request=request)
    if not found.is_valid():
        raise ValidationError(found.errors)
    return list(found.qs.values_list("pk", flat=True)[: services.MOST_RUNS + 1])


class RunExportDetail(APIView):
    """One archive."""

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Let it go before its time; the runs stay."""
        export = get_object_or_404(SHOWN, pk=pk)
        services.drop_export(actor=actor_of(request), export=export)
        return Response(status=204)


class RunExportFile(APIView):
    """An archive as a file."""

    @extend_schema(responses={(200, "application/zip"): OpenApiTypes.BINARY})
    def get(self, request: Request, pk: int) -> HttpResponseBase:
        """Sent on part by part; it is never here whole."""
        export = get_object_or_404(SHOWN, pk=pk)
        if export.stored is None or not export.whole:
            raise NotFound("This archive is not made yet, or was stopped.")
        response = PiecesResponse(pieces_of(export.stored), content_type="application/zip")
        response["Content-Disposition"] = f'attachment; filename="runs-{pk}.zip"'
        response["Content-Length"] = str(export.stored.size)
        return response
