"""The bench: state, arm, start, stop, reset and the event stream."""

from __future__ import annotations

import asyncio
import json
from collections.abc import AsyncIterator

from asgiref.sync import sync_to_async
from django.conf import settings
from django.db import InterfaceError, OperationalError, close_old_connections
from django.http import HttpRequest, HttpResponseBase, JsonResponse, StreamingHttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_bench.agent.control import watch
from spindle_bench.errors import UnreachableError
from spindle_bench.look_around import Mounted
from spindle_server.accounts.models import Role, User
from spindle_server.accounts.permissions import SET_UP_FIRST, actor_of
from spindle_server.accounts.second_factor import DUE
from spindle_server.accounts.sessions import still_open
from spindle_server.api.errors import DATABASE_AWAY, error_body
from spindle_server.api.inputs import asked, asked_version, typed
from spindle_server.bench import services
from spindle_server.bench.checklists import asked_of
from spindle_server.bench.models import SavedProfile, SavedSequence
from spindle_server.bench.repeats import repeats_state
from spindle_server.bench.saved_profiles import (
    drop_profile,
    drop_sequence,
    save_profile,
    save_sequence,
)
from spindle_server.bench.serializers import (
    MOUNTED,
    ArmSerializer,
    AskedChecklistSerializer,
    AskedRepeatsSerializer,
    BoundsSerializer,
    ChecklistSerializer,
    CourseSerializer,
    DoorPassSerializer,
    DrivenSerializer,
    FrameSerializer,
    GearAskedSerializer,
    HandSerializer,
    InHandSerializer,
    NewSavedProfileSerializer,
    NewSavedSequenceSerializer,
    ProfileSerializer,
    RepeatsSerializer,
    RetrySerializer,
    SavedProfileSerializer,
    SavedSequenceSerializer,
    StartSerializer,
)
from spindle_server.rig.bench_day import day_on
from spindle_server.rig.gear_limits import gear_limits
from spindle_server.runs.models import Run

AWAY_PAUSE_S = 1.0
SESSION_EVERY_S = 10.0
"""How often a stream looks whether who watches may still watch."""


class BenchState(APIView):
    """The bench now."""

    @extend_schema(responses=FrameSerializer)
    def get(self, request: Request) -> Response:
        """One frame."""
        return Response(FrameSerializer(services.command("status")).data)


class BenchInHand(APIView):
    """The run in hand."""

    @extend_schema(responses=InHandSerializer)
    def get(self, request: Request) -> Response:
        """What is expected along it; frames carry the rest."""
        return Response(InHandSerializer(services.in_hand()).data)


class BenchArm(APIView):
    """Arming."""

    answers_once = False

    @extend_schema(request=ArmSerializer, responses=FrameSerializer)
    def post(self, request: Request) -> Response:
        """Mount, tare and arm; refused unless what is asked of the checklist is confirmed."""
        values = typed(request, ArmSerializer)
        checklist = values.pop("checklist")
        frame = services.arm_run(actor=actor_of(request), checklist=checklist, **values)
        return Response(FrameSerializer(frame).data)


class BenchChecklist(APIView):
    """The look around before a run."""

    @extend_schema(parameters=[AskedChecklistSerializer], responses=ChecklistSerializer)
    def get(self, request: Request) -> Response:
        """What has to be confirmed, and why that much."""
        values = asked(request, AskedChecklistSerializer)
        found = asked_of(
            actor_of(request),
            Mounted(**{name: values[name] for name in MOUNTED}),
            limits_off=values["off"],
            page_grace_s=values["page_grace_s"],
            guard_off=not values["guarded"],
            by_hand=values["by_hand"],
        )
        return Response(ChecklistSerializer(found).data)


class BenchProfile(APIView):
    """A profile before it is armed."""

    answers_once = False

    @extend_schema(request=ProfileSerializer, responses=CourseSerializer)
    def post(self, request: Request) -> Response:
        """What it commands and how long that takes; stores nothing."""
        course = services.course_of(typed(request, ProfileSerializer))
        return Response(CourseSerializer(course).data)


class BenchRepeats(APIView):
    """Repeats as they are made."""

    @extend_schema(parameters=[AskedRepeatsSerializer], responses=RepeatsSerializer)
    def get(self, request: Request) -> Response:
        """Whether a run and those of the day that repeat it agree, and what to do next."""
        values = asked(request, AskedRepeatsSerializer)
        run = get_object_or_404(Run.objects.select_related("stand"), uid=values["run"])
        return Response(RepeatsSerializer(repeats_state(run, values["wanted"])).data)


class SavedProfiles(APIView):
    """Profiles that are kept by name."""

    @extend_schema(responses=SavedProfileSerializer(many=True))
    def get(self, request: Request) -> Response:
        """All of them, by name."""
        rows = SavedProfile.objects.select_related("made_by")
        return Response(SavedProfileSerializer(rows, many=True).data)

    @extend_schema(request=NewSavedProfileSerializer, responses={201: SavedProfileSerializer})
    def post(self, request: Request) -> Response:
        """Keep one."""
        values = typed(request, NewSavedProfileSerializer)
        row = save_profile(actor=actor_of(request), **values)
        return Response(SavedProfileSerializer(row).data, 201)


class SavedProfileDetail(APIView):
    """One of them."""

    @extend_schema(
        parameters=[OpenApiParameter("version", int, description="The version that was read.")],
        responses={204: None},
    )
    def delete(self, request: Request, pk: int) -> Response:
        """Drop it; runs keep the profile that they were made with."""
        saved = get_object_or_404(SavedProfile, pk=pk)
        drop_profile(actor=actor_of(request), saved=saved, base=asked_version(request))
        return Response(status=204)


class SavedSequences(APIView):
    """Sequences that are kept by name."""

    @extend_schema(responses=SavedSequenceSerializer(many=True))
    def get(self, request: Request) -> Response:
        """All of them, by name."""
        rows = SavedSequence.objects.select_related("made_by")
        return Response(SavedSequenceSerializer(rows, many=True).data)

    @extend_schema(request=NewSavedSequenceSerializer, responses={201: SavedSequenceSerializer})
    def post(self, request: Request) -> Response:
        """Keep one."""
        values = typed(request, NewSavedSequenceSerializer)
        row = save_sequence(actor=actor_of(request), **values)
        return Response(SavedSequenceSerializer(row).data, 201)


class SavedSequenceDetail(APIView):
    """One of them."""

    @extend_schema(
        parameters=[OpenApiParameter("version", int, description="The version that was read.")],
        responses={204: None},
    )
    def delete(self, request: Request, pk: int) -> Response:
        """Drop it; runs keep the profile that they were made with."""
        saved = get_object_or_404(SavedSequence, pk=pk)
        drop_sequence(actor=actor_of(request), saved=saved, base=asked_version(request))
        return Response(status=204)


class BenchStart(APIView):
    """Starting."""

    answers_once = False

    @extend_schema(request=StartSerializer, responses=FrameSerializer)
    def post(self, request: Request) -> Response:
        """Start the armed run; only who armed it may, and only that run."""
        values = typed(request, StartSerializer)
        frame = services.start(actor=actor_of(request), run_id=str(values["run_id"]))
        return Response(FrameSerializer(frame).data)


class BenchStop(APIView):
    """Stopping: the one act that a reader may do."""

    answers_once = False
    before_second = True
    write_role = Role.READER

    @extend_schema(request=None, responses=FrameSerializer)
    def post(self, request: Request) -> Response:
        """Cut the throttle and disarm, in every state."""
        frame = services.stop(actor=actor_of(request))
        return Response(FrameSerializer(frame).data)


class BenchReset(APIView):
    """After a fault."""

    answers_once = False

    @extend_schema(request=None, responses=FrameSerializer)
    def post(self, request: Request) -> Response:
        """Back to idle once the stand reports itself safe."""
        return Response(FrameSerializer(services.command("reset")).data)


class BenchHand(APIView):
    """The simulated transmitter."""

    answers_once = False

    @extend_schema(request=HandSerializer, responses=FrameSerializer)
    def post(self, request: Request) -> Response:
        """Move it, while a run by hand is recorded on a simulated stand."""
        values = typed(request, HandSerializer)
        return Response(FrameSerializer(services.command("hand", **values)).data)


class BenchDriven(APIView):
    """Which stand is driven."""

    answers_once = False

    @extend_schema(request=DrivenSerializer, responses=FrameSerializer)
    def post(self, request: Request) -> Response:
        """Drive another of the known stands; refused unless the bench is at rest."""
        words = typed(request, DrivenSerializer)["stand"]
        return Response(FrameSerializer(services.command("stand", words=words)).data)


class GearLimits(APIView):
    """What the gear allows."""

    @extend_schema(parameters=[GearAskedSerializer], responses=BoundsSerializer(many=True))
    def get(self, request: Request) -> Response:
        """The limits of motor, ESC, supply and instruments, the binding one of each first. Where
        no ESC is named, that of the bench day counts."""
        values = asked(request, GearAskedSerializer)
        if values["esc"] is None:
            day = day_on(timezone.localdate())
            values["esc"] = day.esc if day else None
        found = gear_limits(**values)
        return Response(BoundsSerializer(found, many=True).data)


class BenchDoor(APIView):
    """The stop door."""

    @extend_schema(responses=DoorPassSerializer)
    def get(self, request: Request) -> Response:
        """This page's pass; a page asks for a new one every few minutes."""
        return Response(DoorPassSerializer(services.door_pass(actor=actor_of(request))).data)


class BenchRetry(APIView):
    """Runs that were set aside."""

    answers_once = False

    @extend_schema(request=RetrySerializer, responses=FrameSerializer)
    def post(self, request: Request) -> Response:
        """Try to bring one to the record again."""
        values = typed(request, RetrySerializer)
        frame = services.command("retry", run_id=values["run_id"])
        return Response(FrameSerializer(frame).data)


async def bench_stream(request: HttpRequest) -> HttpResponseBase:
    """Frames as server-sent events, for everybody who is logged in."""
    try:
        user = await request.auser()
    except (OperationalError, InterfaceError):
        return JsonResponse(error_body("database_away", DATABASE_AWAY), status=503)
    if not isinstance(user, User) or not user.is_active:
        message = "Log in to watch the bench."
        return JsonResponse(error_body("not_authenticated", message), status=401)
    if await request.session.aget(DUE):
        return JsonResponse(error_body("second_factor_due", SET_UP_FIRST), status=403)
    # The look-up above opened a connection that the stream would hold for hours.
    await sync_to_async(close_old_connections)()
    key = request.session.session_key
    response = StreamingHttpResponse(_events(key), content_type="text/event-stream")
    response["Cache-Control"] = "no-store"
    response["X-Accel-Buffering"] = "no"
    return response


async def _events(key: str | None) -> AsyncIterator[str]:
    """Frames as long as the session stands; where the record is away, the bench stays in sight."""
    looked = asyncio.get_running_loop().time()
    while True:
        try:
            async for frame in watch(settings.AGENT_SOCKET):
                yield f"data: {json.dumps(frame, separators=(',', ':'))}\n\n"
                now = asyncio.get_running_loop().time()
                if now - looked > SESSION_EVERY_S:
                    looked = now
                    if not await sync_to_async(_session_stands)(key):
                        return
        except UnreachableError:
            pass
        if not await sync_to_async(_session_stands)(key):
            return
        yield "event: away\ndata: {}\n\n"
        await asyncio.sleep(AWAY_PAUSE_S)


def _session_stands(key: str | None) -> bool:
    try:
        return still_open(key)
    except (OperationalError, InterfaceError):
        return True
    finally:
        close_old_connections()
