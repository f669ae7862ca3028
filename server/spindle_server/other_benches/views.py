"""Other benches: their packs looked into, quoted, put aside; and held against this one."""

from __future__ import annotations

from django.http import FileResponse
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
from spindle_server.api.inputs import typed, typed_from
from spindle_server.motors.models import MotorModel
from spindle_server.other_benches import services
from spindle_server.other_benches.evidence import check_against, counted_packs
from spindle_server.other_benches.models import OtherBench, QuotedPack
from spindle_server.other_benches.opening import open_pack, quoted_path
from spindle_server.other_benches.selectors import benches, check_json, packs_of, quoted_of
from spindle_server.other_benches.serializers import (
    ChangePackSerializer,
    LookedSerializer,
    LookSerializer,
    OtherBenchDetailSerializer,
    OtherBenchSerializer,
    QuotedEvidenceSerializer,
    QuotedPackSerializer,
    QuotePackSerializer,
    looked,
)


class PackLook(APIView):
    """A pack looked into; stores nothing."""

    parser_classes = [MultiPartParser]

    @extend_schema(request=LookSerializer, responses=LookedSerializer)
    def post(self, request: Request) -> Response:
        """Whose it is, how it is graded, and what in it is known here."""
        file = typed(request, LookSerializer)["file"]
        return Response(LookedSerializer(looked(open_pack(file.name, file.read()))).data)


class PackQuote(APIView):
    """A pack kept."""

    parser_classes = [MultiPartParser]

    @extend_schema(request=QuotePackSerializer, responses={201: QuotedPackSerializer})
    def post(self, request: Request) -> Response:
        """As quoted evidence; every run is reduced here from its log."""
        values = typed(request, QuotePackSerializer)
        file = values["file"]
        row = services.quote_pack(
            actor=actor_of(request), name=file.name, data=file.read(), ours=values["ours"]
        )
        return Response(_pack(row), 201)


def _pack(row: QuotedPack) -> dict[str, object]:
    found = next(one for one in packs_of(row.bench) if one["pack"].pk == row.pk)
    counted = {row.pk} if found["counts"] else set()
    return dict(QuotedPackSerializer(found["pack"], context={"counted": counted}).data)


class PackDetail(APIView):
    """One pack that was quoted."""

    @extend_schema(responses=QuotedPackSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """What it is and what in it is ours."""
        return Response(_pack(get_object_or_404(QuotedPack, pk=pk)))

    @extend_schema(request=ChangePackSerializer, responses=QuotedPackSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Say anew what is ours; put it aside, or let it count again."""
        row = get_object_or_404(QuotedPack, pk=pk)
        values, base = typed_from(request, ChangePackSerializer)
        actor = actor_of(request)
        if "put_aside" in values:
            row = services.put_aside(actor=actor, pack=row, reason=values["put_aside"], base=base)
            base = row.version
        if "ours" in values:
            row = services.say_ours(actor=actor, pack=row, ours=values["ours"], base=base)
        return Response(_pack(row))


class PackFile(APIView):
    """The file of a pack."""

    @extend_schema(responses={(200, "application/zip"): OpenApiTypes.BINARY})
    def get(self, request: Request, pk: int) -> FileResponse:
        """Byte for byte, as it came."""
        row = get_object_or_404(QuotedPack, pk=pk)
        path = quoted_path(row.digest)
        if not path.exists():
            raise NotFound("The file of this pack is gone from the disk.")
        name = f"{row.slug}-edition-{row.edition}.zip"
        return FileResponse(path.open("rb"), as_attachment=True, filename=name)


class OtherBenches(generics.ListAPIView):
    """Benches that packs came from."""

    serializer_class = OtherBenchSerializer
    queryset = benches()


class OtherBenchDetail(APIView):
    """One other bench."""

    @extend_schema(responses=OtherBenchDetailSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Its packs, and the two benches held against each other."""
        return Response(_bench(pk))

    @extend_schema(request=OtherBenchSerializer, responses=OtherBenchDetailSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Note something on it."""
        row = get_object_or_404(OtherBench, pk=pk)
        values, base = typed_from(request, OtherBenchSerializer, row)
        services.change_bench(
            actor=actor_of(request), bench=row, note=values.get("note", row.note), base=base
        )
        return Response(_bench(pk))


def _bench(pk: int) -> dict[str, object]:
    row = get_object_or_404(benches(), pk=pk)
    context = {"counted": set(counted_packs(row).values_list("pk", flat=True))}
    packs = [one["pack"] for one in packs_of(row)]
    found = {"bench": row, "packs": packs, "check": check_json(check_against(row))}
    return dict(OtherBenchDetailSerializer(found, context=context).data)


class MotorQuoted(APIView):
    """What other benches say of a motor."""

    @extend_schema(responses=QuotedEvidenceSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """Pack by pack; none of it counts as measured here."""
        motor = get_object_or_404(MotorModel, pk=pk)
        return Response(QuotedEvidenceSerializer(quoted_of(motor), many=True).data)
