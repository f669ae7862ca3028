"""The bench: state, arm, start, stop, reset and the event stream."""

from __future__ import annotations

import asyncio
import json
from collections.abc import AsyncIterator

from asgiref.sync import sync_to_async
from django.conf import settings
from django.db import close_old_connections
from django.http import HttpRequest, HttpResponseBase, JsonResponse, StreamingHttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_bench.agent.control import watch
from spindle_bench.errors import UnreachableError
from spindle_server.accounts.models import User
from spindle_server.api.errors import error_body
from spindle_server.api.permissions import actor_of
from spindle_server.bench import services
from spindle_server.bench.serializers import ArmSerializer, FrameSerializer

AWAY_PAUSE_S = 1.0


class BenchState(APIView):
    """The bench now."""

    @extend_schema(responses=FrameSerializer)
    def get(self, request: Request) -> Response:
        """One frame."""
        return Response(FrameSerializer(services.command("status")).data)


class BenchArm(APIView):
    """Arming."""

    @extend_schema(request=ArmSerializer, responses=FrameSerializer)
    def post(self, request: Request) -> Response:
        """Mount, tare and arm; refused unless the whole checklist is confirmed."""
        data = ArmSerializer(data=request.data)
        data.is_valid(raise_exception=True)
        values = dict(data.validated_data)
        checklist = values.pop("checklist")
        run_id = values.pop("run_id", None)
        plan = services.plan_run(
            actor=actor_of(request), run_id=str(run_id) if run_id else None, **values
        )
        return Response(FrameSerializer(services.arm(plan=plan, checklist=checklist)).data)


class BenchStart(APIView):
    """Starting."""

    @extend_schema(request=None, responses=FrameSerializer)
    def post(self, request: Request) -> Response:
        """Start the armed run."""
        return Response(FrameSerializer(services.command("start")).data)


class BenchStop(APIView):
    """Stopping."""

    @extend_schema(request=None, responses=FrameSerializer)
    def post(self, request: Request) -> Response:
        """Cut the throttle and disarm, in every state."""
        frame = services.command("stop", reason="stopped by reviewer")
        return Response(FrameSerializer(frame).data)


class BenchReset(APIView):
    """After a fault."""

    @extend_schema(request=None, responses=FrameSerializer)
    def post(self, request: Request) -> Response:
        """Back to idle once the stand reports itself safe."""
        return Response(FrameSerializer(services.command("reset")).data)


async def bench_stream(request: HttpRequest) -> HttpResponseBase:
    """Frames as server-sent events, for everybody who is logged in."""
    user = await request.auser()
    if not isinstance(user, User) or not user.is_active:
        message = "Log in to watch the bench."
        return JsonResponse(error_body("not_authenticated", message), status=401)
    # The look-up above opened a connection that the stream would hold for hours.
    await sync_to_async(close_old_connections)()
    response = StreamingHttpResponse(_events(), content_type="text/event-stream")
    response["Cache-Control"] = "no-store"
    response["X-Accel-Buffering"] = "no"
    return response


async def _events() -> AsyncIterator[str]:
    while True:
        try:
            async for frame in watch(settings.AGENT_SOCKET):
                yield f"data: {json.dumps(frame, separators=(',', ':'))}\n\n"
        except UnreachableError:
            pass
        yield "event: away\ndata: {}\n\n"
        await asyncio.sleep(AWAY_PAUSE_S)
