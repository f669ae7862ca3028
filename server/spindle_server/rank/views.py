"""Rankings."""

from __future__ import annotations

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_core.rank.scoring import PRESETS, moves
from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import VERSION, asked, asked_version, typed
from spindle_server.papers import table_csv
from spindle_server.rank import services
from spindle_server.rank.mass_money import mass_and_money, mass_rows
from spindle_server.rank.models import KeptRanking, OwnWeights
from spindle_server.rank.selectors import as_content, kept_rankings, ranking, snapshot_of
from spindle_server.rank.serializers import (
    AskedMassSerializer,
    AskedRankingSerializer,
    KeptRankingSerializer,
    MassAndMoneySerializer,
    MovesSerializer,
    NewKeptRankingSerializer,
    NewWeightsSerializer,
    OwnWeightsSerializer,
    RankingSerializer,
    WeightListSerializer,
    asked_from,
)


class Ranking(APIView):
    """A cohort scored."""

    @extend_schema(parameters=[AskedRankingSerializer], responses=RankingSerializer)
    def get(self, request: Request) -> Response:
        """Scores, how sure the places are, who is beaten, and what would settle it."""
        found = ranking(asked_from(asked(request, AskedRankingSerializer)))
        return Response(RankingSerializer(found).data)


class Weights(APIView):
    """Weights to begin from."""

    @extend_schema(responses=WeightListSerializer)
    def get(self, request: Request) -> Response:
        """Of the uses, and those that somebody keeps."""
        presets = [
            {"use": use, "weights": {one.name: one.weight for one in criteria}}
            for use, criteria in PRESETS.items()
        ]
        own = OwnWeights.objects.select_related("made_by")
        return Response(WeightListSerializer({"presets": presets, "own": own}).data)

    @extend_schema(request=NewWeightsSerializer, responses={201: OwnWeightsSerializer})
    def post(self, request: Request) -> Response:
        """Keep weights by name."""
        row = services.keep_weights(actor=actor_of(request), **typed(request, NewWeightsSerializer))
        return Response(OwnWeightsSerializer(row).data, 201)


class OwnWeightsDetail(APIView):
    """Weights kept by name."""

    @extend_schema(parameters=[VERSION], responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Drop them, read at a version."""
        kept = get_object_or_404(OwnWeights, pk=pk)
        services.drop_weights(actor=actor_of(request), kept=kept, base=asked_version(request))
        return Response(status=204)


class KeptRankings(APIView):
    """Rankings as they stood."""

    @extend_schema(responses=KeptRankingSerializer(many=True))
    def get(self, request: Request) -> Response:
        """The newest first."""
        return Response(KeptRankingSerializer(kept_rankings(), many=True).data)

    @extend_schema(request=NewKeptRankingSerializer, responses={201: KeptRankingSerializer})
    def post(self, request: Request) -> Response:
        """Keep the ranking as it stands."""
        values = typed(request, NewKeptRankingSerializer)
        said = AskedRankingSerializer(values["asked"]).data
        row = services.keep_ranking(
            actor=actor_of(request),
            title=values["title"],
            asked=asked_from(values["asked"]),
            said={name: str(value) for name, value in said.items() if value not in (None, "")},
        )
        return Response(KeptRankingSerializer(row).data, 201)


class KeptRankingMoves(APIView):
    """Who moved since a kept ranking."""

    @extend_schema(parameters=[AskedRankingSerializer], responses=MovesSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """From the kept ranking to what is asked for now, with the reasons."""
        kept = get_object_or_404(KeptRanking, pk=pk)
        now = as_content(ranking(asked_from(asked(request, AskedRankingSerializer))))
        moved = moves(snapshot_of(kept.content), snapshot_of(now)) if now["motors"] else []
        found = {
            "title": kept.title,
            "kept_at": kept.kept_at,
            "moved": moved,
            "stayed": len(now["motors"]) - len(moved),
        }
        return Response(MovesSerializer(found).data)


class MassAndMoney(APIView):
    """What each motor weighs and costs, and what that buys."""

    @extend_schema(parameters=[AskedMassSerializer], responses=MassAndMoneySerializer)
    def get(self, request: Request) -> Response:
        """Every motor, against a baseline where one is named."""
        found = mass_and_money(**asked(request, AskedMassSerializer))
        return Response(MassAndMoneySerializer(found).data)


class MassAndMoneyFile(APIView):
    """The same as CSV."""

    @extend_schema(
        parameters=[AskedMassSerializer], responses={(200, "text/csv"): OpenApiTypes.BINARY}
    )
    def get(self, request: Request) -> HttpResponse:
        """A row per motor."""
        found = mass_and_money(**asked(request, AskedMassSerializer))
        text = table_csv(mass_rows(found))
        response = HttpResponse(text, content_type="text/csv; charset=utf-8")
        response["Content-Disposition"] = 'attachment; filename="mass-and-money.csv"'
        return response
