"""Afterwards: flights, letters, follow-ups, tables of them; erasing a name."""

from __future__ import annotations

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.models import Role
from spindle_server.accounts.permissions import actor_of
from spindle_server.afterwards import selectors, services
from spindle_server.afterwards.models import Flight, FollowUp, Letter
from spindle_server.afterwards.serializers import (
    AfterwardsSerializer,
    AskedAfterwardsSerializer,
    ErasedSerializer,
    EraseSerializer,
    FlightSerializer,
    FlownSerializer,
    FollowUpSerializer,
    FollowUpStateSerializer,
    LetterSerializer,
    LookedTableSerializer,
    LookTableSerializer,
    NotedTableSerializer,
    NoteTableSerializer,
    WaitingSerializer,
)
from spindle_server.afterwards.tables import FIELDS, note_table, open_table
from spindle_server.api.inputs import asked, typed, typed_from, whole
from spindle_server.match.models import Craft
from spindle_server.motors.models import MotorModel
from spindle_server.plan.models import Campaign

FIRST_ROWS = 5


class MotorAfterwards(APIView):
    """A motor after the bench."""

    @extend_schema(parameters=[AskedAfterwardsSerializer], responses=AfterwardsSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Hours, what befell it, wear, flights, letters, follow-ups."""
        motor = get_object_or_404(MotorModel, pk=pk)
        found = selectors.afterwards_of(motor, **asked(request, AskedAfterwardsSerializer))
        return Response(AfterwardsSerializer(found).data)


class CraftFlown(APIView):
    """What the flights of a craft say."""

    @extend_schema(responses=FlownSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Their error, the school that fits, what differs in one thing."""
        return Response(FlownSerializer(selectors.flown_of(get_object_or_404(Craft, pk=pk))).data)


class Flights(generics.ListAPIView):
    """Flights, the newest first."""

    serializer_class = FlightSerializer
    queryset = selectors.flights()

    @extend_schema(parameters=[OpenApiParameter("craft", int)])
    def get(self, request: Request, *args: object, **kwargs: object) -> Response:
        """All, or those of a craft."""
        return super().get(request, *args, **kwargs)

    def get_queryset(self) -> QuerySet[Flight]:
        """Of the craft that is asked for."""
        rows = selectors.flights()
        craft = self.request.query_params.get("craft", "")
        # What is no number of a craft is none of any.
        return rows.filter(craft=whole(craft)) if craft else rows

    @extend_schema(request=FlightSerializer, responses={201: FlightSerializer})
    def post(self, request: Request) -> Response:
        """Note one; craft, day and minutes suffice."""
        values = typed(request, FlightSerializer)
        values.pop("version", None)
        row = services.note_flight(actor=actor_of(request), **values)
        return Response(_flight(row.pk), 201)


def _flight(pk: int) -> dict[str, object]:
    return dict(FlightSerializer(selectors.flights().get(pk=pk)).data)


class FlightDetail(APIView):
    """One flight."""

    @extend_schema(request=FlightSerializer, responses=FlightSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change what was noted, or strike it out."""
        row = get_object_or_404(Flight, pk=pk)
        values, base = typed_from(request, FlightSerializer, row)
        services.change_flight(actor=actor_of(request), flight=row, base=base, **values)
        return Response(_flight(pk))


class Letters(generics.ListAPIView):
    """Letters, the newest first."""

    serializer_class = LetterSerializer
    queryset = selectors.letters()

    @extend_schema(request=LetterSerializer, responses={201: LetterSerializer})
    def post(self, request: Request) -> Response:
        """Note one."""
        values = typed(request, LetterSerializer)
        values.pop("version", None)
        answer = values.pop("answer", "")
        row = services.note_letter(actor=actor_of(request), **values)
        if answer:
            row = services.change_letter(
                actor=actor_of(request), letter=row, base=row.version, answer=answer
            )
        return Response(LetterSerializer(selectors.letters().get(pk=row.pk)).data, 201)


class CampaignRequests(APIView):
    """What readers ask of a campaign."""

    @extend_schema(responses=LetterSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """Open requests that led to it, and those about its motors that led nowhere yet."""
        campaign = get_object_or_404(Campaign, pk=pk)
        rows = selectors.open_requests(campaign)
        return Response(LetterSerializer(rows, many=True).data)


class LetterDetail(APIView):
    """One letter."""

    @extend_schema(responses=LetterSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """What it says and how it stands."""
        return Response(LetterSerializer(get_object_or_404(selectors.letters(), pk=pk)).data)

    @extend_schema(request=LetterSerializer, responses=LetterSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change or answer it, or link it to a plan."""
        row = get_object_or_404(Letter, pk=pk)
        values, base = typed_from(request, LetterSerializer, row)
        services.change_letter(actor=actor_of(request), letter=row, base=base, **values)
        return Response(LetterSerializer(selectors.letters().get(pk=pk)).data)


class FollowUps(APIView):
    """Follow-ups."""

    @extend_schema(responses=FollowUpStateSerializer(many=True))
    def get(self, request: Request) -> Response:
        """Those that wait, what is due first."""
        rows = FollowUp.objects.filter(done_on__isnull=True)
        return Response(FollowUpStateSerializer(selectors.follow_ups(rows), many=True).data)

    @extend_schema(request=FollowUpSerializer, responses={201: FollowUpStateSerializer})
    def post(self, request: Request) -> Response:
        """Have one wait for its trigger."""
        values = typed(request, FollowUpSerializer)
        for name in ("version", "done"):
            values.pop(name, None)
        row = services.note_follow_up(actor=actor_of(request), **values)
        return Response(_follow_up(row.pk), 201)


def _follow_up(pk: int) -> dict[str, object]:
    (found,) = selectors.follow_ups(FollowUp.objects.filter(pk=pk))
    return dict(FollowUpStateSerializer(found).data)


class FollowUpDetail(APIView):
    """One follow-up."""

    @extend_schema(request=FollowUpSerializer, responses=FollowUpStateSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Say that it is done, or that it is not; change its words."""
        row = get_object_or_404(FollowUp, pk=pk)
        values, base = typed_from(request, FollowUpSerializer, row)
        values.pop("motor", None)
        services.change_follow_up(actor=actor_of(request), follow_up=row, base=base, **values)
        return Response(_follow_up(pk))


class Waiting(APIView):
    """What came due, and what nobody answered."""

    @extend_schema(responses=WaitingSerializer)
    def get(self, request: Request) -> Response:
        """For the Board."""
        return Response(WaitingSerializer(selectors.for_the_board()).data)


class TableLook(APIView):
    """A table looked at; stores nothing."""

    parser_classes = [MultiPartParser]

    @extend_schema(request=LookTableSerializer, responses=LookedTableSerializer)
    def post(self, request: Request) -> Response:
        """Its heads, its first rows, what its columns seem to hold."""
        values = typed(request, LookTableSerializer)
        file, of = values["file"], values["of"]
        table = open_table(of, file.name, file.read())
        found = {
            "heads": table.heads,
            "first": table.rows[:FIRST_ROWS],
            "rows": len(table.rows),
            "proposed": table.proposed,
            "choices": [
                {"name": one.name, "title": one.label, "needed": one.needed} for one in FIELDS[of]
            ],
        }
        return Response(LookedTableSerializer(found).data)


class TableNote(APIView):
    """A table noted."""

    parser_classes = [MultiPartParser]

    @extend_schema(request=NoteTableSerializer, responses={201: NotedTableSerializer})
    def post(self, request: Request) -> Response:
        """Every row, or none."""
        values = typed(request, NoteTableSerializer)
        file = values["file"]
        noted = note_table(
            actor=actor_of(request),
            of=values["of"],
            name=file.name,
            data=file.read(),
            mapping=values["columns"],
        )
        return Response({"noted": noted}, 201)


class Erasing(APIView):
    """A name taken off the record."""

    write_role = Role.ADMINISTRATOR

    @extend_schema(request=EraseSerializer, responses=ErasedSerializer)
    def post(self, request: Request) -> Response:
        """Off every letter and flight; the records stay."""
        name = typed(request, EraseSerializer)["name"]
        changed, mentioned = services.erase_person(actor=actor_of(request), name=name)
        return Response({"changed": changed, "mentioned": mentioned})
