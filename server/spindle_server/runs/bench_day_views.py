"""Bench days."""

from __future__ import annotations

import datetime

from django.http import Http404
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import typed
from spindle_server.rig.bench_day import day_on
from spindle_server.rig.models import BenchDay
from spindle_server.runs import bench_days
from spindle_server.runs.bench_day_serializers import BenchDaySheetSerializer


def _day(text: str) -> datetime.date:
    if text == "today":
        return timezone.localdate()
    try:
        return datetime.date.fromisoformat(text)
    except ValueError as error:
        raise Http404 from error


class BenchDayDetail(APIView):
    """One day, ``2026-10-05`` or ``today``."""

    @extend_schema(responses=BenchDaySheetSerializer)
    def get(self, request: Request, day: str) -> Response:
        """What is noted of it; of a day that nobody began, nothing but what the last one had
        that does not change by itself (``version`` 0)."""
        date = _day(day)
        row = day_on(date)
        if row is None:
            last = BenchDay.objects.filter(day__lt=date).select_related("stand", "esc").first()
            row = BenchDay(day=date, version=0)
            if last is not None:
                row.people, row.height_m = last.people, last.height_m
                row.stand, row.esc, row.command_source = last.stand, last.esc, last.command_source
        return Response(BenchDaySheetSerializer(row).data)

    @extend_schema(request=BenchDaySheetSerializer, responses=BenchDaySheetSerializer)
    def put(self, request: Request, day: str) -> Response:
        """Begin the day, or change it from the version that was read."""
        values = typed(request, BenchDaySheetSerializer)
        base = values.pop("version", None)
        row = bench_days.put_day(
            actor=actor_of(request), day=_day(day), base=base or None, **values
        )
        return Response(BenchDaySheetSerializer(row).data)
