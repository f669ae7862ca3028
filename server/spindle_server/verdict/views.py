"""Verdicts."""

from __future__ import annotations

from typing import Any

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import generics
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import asked, typed, typed_from
from spindle_server.api.kept_answers import kept_answer
from spindle_server.compare.models import SavedComparison
from spindle_server.errors import ServiceError
from spindle_server.motors.models import MotorModel
from spindle_server.rank.models import KeptRanking
from spindle_server.verdict import services
from spindle_server.verdict.looking import Looking
from spindle_server.verdict.models import QuotedFigure, Verdict
from spindle_server.verdict.proposing import proposed, rests_on
from spindle_server.verdict.selectors import (
    figure_json,
    notes_json,
    paragraph_json,
    proposals_json,
    quotable_json,
    state_of,
    verdict_json,
    verdicts,
)
from spindle_server.verdict.serializers import (
    AdoptedSerializer,
    AdoptSerializer,
    AskedProposalsSerializer,
    ChangedVerdictSerializer,
    NewVerdictSerializer,
    ProposalsSerializer,
    QuotableSerializer,
    QuoteSerializer,
    SpeakingNotesSerializer,
    StandingSerializer,
    VerdictFigureSerializer,
    VerdictSerializer,
    VerdictStateSerializer,
    quote_from,
)


class VerdictList(generics.ListAPIView):
    """Verdicts, the one changed last first."""

    serializer_class = VerdictStateSerializer

    def get_queryset(self) -> Any:
        """With their figures."""
        return verdicts()

    def list(self, request: Request, *args: Any, **kwargs: Any) -> Response:
        """How each stands."""
        page = self.paginate_queryset(self.get_queryset()) or []
        rows = VerdictStateSerializer([state_of(row) for row in page], many=True)
        return self.get_paginated_response(rows.data)

    @extend_schema(request=NewVerdictSerializer, responses={201: VerdictSerializer})
    def post(self, request: Request) -> Response:
        """Begin one, or get the one there is."""
        values = typed(request, NewVerdictSerializer)
        motor, comparison = values.get("motor"), values.get("comparison")
        kept = values.get("ranking")
        row = services.begin_verdict(
            actor=actor_of(request),
            motor=None if motor is None else get_object_or_404(MotorModel, pk=motor),
            comparison=None
            if comparison is None
            else get_object_or_404(SavedComparison, pk=comparison),
            ranking=None if kept is None else get_object_or_404(KeptRanking, pk=kept),
        )
        return Response(VerdictSerializer(verdict_json(_row(row.pk))).data, 201)


def _row(pk: int) -> Verdict:
    return get_object_or_404(verdicts(), pk=pk)


class VerdictDetail(APIView):
    """One verdict."""

    @extend_schema(responses=VerdictSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Prose, figures as they were and are, disclosure, grade, what stands in the way."""
        return Response(VerdictSerializer(verdict_json(_row(pk))).data)

    @extend_schema(request=ChangedVerdictSerializer, responses=VerdictSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change the sentence, sections or the disclosure."""
        row = _row(pk)
        values, base = typed_from(request, ChangedVerdictSerializer)
        services.change_verdict(actor=actor_of(request), verdict=row, values=values, base=base)
        return Response(VerdictSerializer(verdict_json(_row(pk))).data)


class VerdictProposals(APIView):
    """What may be said."""

    @extend_schema(parameters=[AskedProposalsSerializer], responses=ProposalsSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Statements with their evidence, the weakest first."""
        row = _row(pk)
        against = asked(request, AskedProposalsSerializer)["against"]
        found = proposed(row, against, Looking(row))
        return Response(ProposalsSerializer(proposals_json(row, found)).data)


class VerdictAdoption(APIView):
    """Take a proposed statement."""

    @extend_schema(request=AdoptSerializer, responses={201: AdoptedSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """As a paragraph whose figures stand in it by reference."""
        row = _row(pk)
        values = typed(request, AdoptSerializer)
        looking = Looking(row)
        found = proposed(row, values["against"], looking).statements
        statement = next((one for one in found if one.key == values["key"]), None)
        if statement is None:
            raise ServiceError(
                "The data no longer say that; look at what is proposed now.", code="not_proposed"
            )
        quotes = list(statement.rests_on)
        taken = services.adopt(actor=actor_of(request), verdict=row, quotes=quotes, looking=looking)
        pairs = list(zip(quotes, taken, strict=True))
        body = {
            "paragraph": paragraph_json(statement, {quote: one.pk for quote, one in pairs}),
            "figures": [
                figure_json(one, statement.rests_on[quote], stale=False) for quote, one in pairs
            ],
        }
        return Response(AdoptedSerializer(body).data, 201)


class VerdictFigures(APIView):
    """Figures that can stand in the prose."""

    @extend_schema(parameters=[AskedProposalsSerializer], responses=QuotableSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """What can be inserted."""
        row = _row(pk)
        against = asked(request, AskedProposalsSerializer)["against"]
        return kept_answer(
            "quotable",
            rests_on(row, against),
            QuotableSerializer,
            lambda: quotable_json(row, against, Looking(row)),
            many=True,
        )

    @extend_schema(request=QuoteSerializer, responses={201: VerdictFigureSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Take a figure into the verdict as it is now."""
        row = _row(pk)
        quote = quote_from(typed(request, QuoteSerializer))
        taken = services.quote_figure(actor=actor_of(request), verdict=row, quote=quote)
        return Response(_figure(taken), 201)


def _figure(row: QuotedFigure) -> dict[str, Any]:
    now = Looking(row.verdict).one(row.quote)
    return VerdictFigureSerializer(figure_json(row, now, stale=False)).data


class VerdictFigure(APIView):
    """One figure of a verdict."""

    @extend_schema(request=StandingSerializer, responses=VerdictFigureSerializer)
    def patch(self, request: Request, pk: int, figure_pk: int) -> Response:
        """Stand by it as it is now; with a word, let it stand as it was."""
        row = get_object_or_404(QuotedFigure, verdict=pk, pk=figure_pk)
        word = typed(request, StandingSerializer).get("word")
        if word is None:
            row = services.stand_by(actor=actor_of(request), figure=row)
        else:
            row = services.leave_standing(actor=actor_of(request), figure=row, word=word)
        return Response(_figure(row))


class SpeakingNotes(APIView):
    """The verdict as it is spoken."""

    @extend_schema(responses=SpeakingNotesSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Lines in order, and how long each section takes."""
        return Response(SpeakingNotesSerializer(notes_json(_row(pk))).data)
