"""How the installation stands: for people, and in a word for whatever watches over it."""

from __future__ import annotations

from django.http import HttpRequest, JsonResponse
from django.views.decorators.http import require_safe
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.models import Role
from spindle_server.upkeep.selectors import database_answers, upkeep
from spindle_server.upkeep.serializers import UpkeepSerializer


class Upkeep(APIView):
    """The installation; administrators only, since it names folders of the machine."""

    read_role = Role.ADMINISTRATOR

    @extend_schema(responses=UpkeepSerializer)
    def get(self, request: Request) -> Response:
        """Parts, room, backups, runs on their way, clocks, and what is amiss with them."""
        return Response(UpkeepSerializer(upkeep()).data)


@require_safe
def healthz(request: HttpRequest) -> JsonResponse:
    """``ok`` with 200 where requests can be answered, else ``database away`` with 503. Strangers
    may ask: nothing else is said."""
    well = database_answers()
    answer = JsonResponse(
        {"status": "ok" if well else "database away"}, status=200 if well else 503
    )
    answer["Cache-Control"] = "no-store"
    return answer
