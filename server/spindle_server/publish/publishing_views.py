"""Publishing: reviewers propose, editors publish and withdraw."""

from __future__ import annotations

from typing import Any

from django.db.models import Prefetch
from django.http import FileResponse, HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import generics
from rest_framework.exceptions import NotFound
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.models import Role
from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import typed, typed_from
from spindle_server.publish import services
from spindle_server.publish.leaving import bench_path
from spindle_server.publish.models import Edition, Proposal, Publication
from spindle_server.publish.page import FOLDERS, draft_page
from spindle_server.publish.readers import HTML
from spindle_server.publish.readers_views import POLICY
from spindle_server.publish.serializers import (
    EditionSerializer,
    ProposalSerializer,
    ProposeSerializer,
    PublishedPageSerializer,
    PublishedSerializer,
    PublishingRulesSerializer,
    PublishSerializer,
    WithdrawSerializer,
    published_page,
)
from spindle_server.publish.tasks import export_pages, take_along
from spindle_server.verdict.models import Verdict
from spindle_server.work.services import ask_for
from spindle_server.work.views import LongWorkSerializer


def _published(verdict: Verdict) -> dict[str, Any]:
    row = Publication.objects.filter(verdict=verdict).first()
    proposal = (
        Proposal.objects.filter(verdict=verdict).select_related("proposed_by", "verdict").first()
    )
    found: dict[str, Any] = {
        "id": None,
        "version": None,
        "path": "",
        "withdrawn_reason": "",
        "withdrawn_at": None,
        "editions": [],
        "proposal": None if proposal is None else ProposalSerializer(proposal).data,
        "second_eyes": services.rules().second_eyes,
    }
    if row is None:
        return found
    editions = list(
        row.editions.select_related("published_by", "pack").defer(
            "content", "drawings", "pack__frozen"
        )
    )
    folder = f"{FOLDERS[verdict.kind]}/{row.slug}"
    context = {"folder": folder, "newest": editions[0].number if editions else 0}
    return {
        **found,
        "id": row.pk,
        "version": row.version,
        "path": f"/read/{folder}/",
        "withdrawn_reason": row.withdrawn_reason,
        "withdrawn_at": row.withdrawn_at,
        "editions": EditionSerializer(editions, many=True, context=context).data,
    }


class VerdictPublication(APIView):
    """What became of a verdict."""

    write_role = Role.EDITOR

    @extend_schema(responses=PublishedSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Its proposal, its page, the page's editions."""
        return Response(_published(get_object_or_404(Verdict, pk=pk)))

    @extend_schema(request=PublishSerializer, responses={201: PublishedSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """Publish it as a new edition; editors only."""
        verdict = get_object_or_404(Verdict, pk=pk)
        values, base = typed_from(request, PublishSerializer)
        services.publish(actor=actor_of(request), verdict=verdict, base=base, **values)
        services.ask_for_packs(actor=actor_of(request))
        return Response(_published(verdict), 201)


class VerdictProposal(APIView):
    """Hold a verdict for ready."""

    @extend_schema(request=ProposeSerializer, responses={201: PublishedSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """As it stands now."""
        verdict = get_object_or_404(Verdict, pk=pk)
        services.propose(
            actor=actor_of(request), verdict=verdict, **typed(request, ProposeSerializer)
        )
        return Response(_published(verdict), 201)


class VerdictDraft(APIView):
    """A verdict as its page would be."""

    @extend_schema(responses={(200, "text/html"): OpenApiTypes.STR})
    def get(self, request: Request, pk: int) -> HttpResponse:
        """Drawn now and stored nowhere; only who is logged in sees it."""
        verdict = get_object_or_404(Verdict, pk=pk)
        edition, blocked = services.draft_of(verdict, actor_of(request))
        response = HttpResponse(draft_page(edition, blocked), content_type=HTML)
        response["Content-Security-Policy"] = POLICY
        response["Cache-Control"] = "no-store"
        return response


class Withdrawal(APIView):
    """Take a page back."""

    write_role = Role.EDITOR

    @extend_schema(request=WithdrawSerializer, responses=PublishedSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """With the reason, which readers are told."""
        row = get_object_or_404(Publication.objects.select_related("verdict"), pk=pk)
        values, base = typed_from(request, WithdrawSerializer)
        services.withdraw(actor=actor_of(request), publication=row, base=base, **values)
        return Response(_published(row.verdict))


class PublishedPages(generics.ListAPIView):
    """What is published."""

    serializer_class = PublishedPageSerializer
    queryset = Publication.objects.prefetch_related(
        Prefetch("editions", Edition.objects.defer("content", "drawings"))
    ).order_by("slug")

    def list(self, request: Request, *args: Any, **kwargs: Any) -> Response:
        """The pages, by their addresses."""
        page = self.paginate_queryset(self.get_queryset().filter(editions__number=1)) or []
        found = []
        for row in page:
            newest = row.editions.all()[0]
            folder = f"{FOLDERS[newest.kind]}/{row.slug}"
            found.append(published_page(row, newest, folder))
        return self.get_paginated_response(PublishedPageSerializer(found, many=True).data)


class Rules(APIView):
    """How the bench publishes."""

    write_role = Role.EDITOR

    @extend_schema(responses=PublishingRulesSerializer)
    def get(self, request: Request) -> Response:
        """Its name, the address of the pages, the licence, a second pair of eyes."""
        return Response(PublishingRulesSerializer(services.rules()).data)

    @extend_schema(request=PublishingRulesSerializer, responses=PublishingRulesSerializer)
    def patch(self, request: Request) -> Response:
        """Change them."""
        values, base = typed_from(request, PublishingRulesSerializer, services.rules())
        row = services.change_rules(actor=actor_of(request), values=values, base=base)
        return Response(PublishingRulesSerializer(row).data)


class Export(APIView):
    """The pages as a folder of files."""

    write_role = Role.EDITOR

    @extend_schema(request=None, responses={202: LongWorkSerializer})
    def post(self, request: Request) -> Response:
        """Write them into the installation's folder, as long work."""
        work = ask_for(actor=actor_of(request), title="Write the pages", task=export_pages)
        return Response(LongWorkSerializer(work).data, 202)


class WholeBench(APIView):
    """Everything on record in open formats, for whoever leaves."""

    write_role = Role.ADMINISTRATOR
    read_role = Role.ADMINISTRATOR

    @extend_schema(responses={(200, "application/zip"): OpenApiTypes.BINARY})
    def get(self, request: Request) -> FileResponse:
        """The archive that was made last."""
        path = bench_path()
        if not path.exists():
            raise NotFound("Nothing was written yet.")
        return FileResponse(path.open("rb"), as_attachment=True, filename="whole-bench.zip")

    @extend_schema(request=None, responses={202: LongWorkSerializer})
    def post(self, request: Request) -> Response:
        """Have it written, as long work."""
        work = ask_for(actor=actor_of(request), title="Write the whole bench", task=take_along)
        return Response(LongWorkSerializer(work).data, 202)
