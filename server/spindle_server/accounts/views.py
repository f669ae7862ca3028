"""Session and people."""

from __future__ import annotations

from django.conf import settings
from django.contrib.auth import logout, update_session_auth_hash
from django.shortcuts import get_object_or_404
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect, ensure_csrf_cookie
from drf_spectacular.utils import extend_schema
from rest_framework import generics
from rest_framework.exceptions import NotFound
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts import services
from spindle_server.accounts.deeds import deeds_of
from spindle_server.accounts.models import Role, User
from spindle_server.accounts.permissions import actor_of
from spindle_server.accounts.serializers import (
    ChangePersonSerializer,
    DeedSerializer,
    LoggedInSerializer,
    LoginSerializer,
    NewUserSerializer,
    OwnPasswordSerializer,
    PersonSerializer,
    ResetPasswordSerializer,
    SessionSerializer,
)
from spindle_server.accounts.sessions import end_sessions, sessions_of
from spindle_server.api.inputs import typed, typed_from


def _session(user: object) -> Response:
    shown = user if isinstance(user, User) else None
    return Response(SessionSerializer({"user": shown, "demo": settings.DEMO}).data)


@method_decorator(ensure_csrf_cookie, name="dispatch")
class SessionView(APIView):
    """Who is logged in; log in; log out. The only endpoint that is open to strangers."""

    answers_once = False
    permission_classes = [AllowAny]

    @extend_schema(responses=SessionSerializer)
    def get(self, request: Request) -> Response:
        """Who is logged in, if anybody."""
        return _session(request.user)

    @extend_schema(request=LoginSerializer, responses=SessionSerializer)
    @method_decorator(csrf_protect)
    def post(self, request: Request) -> Response:
        """Log in."""
        values = typed(request, LoginSerializer)
        return _session(services.log_in(request=request._request, **values))

    @extend_schema(responses=SessionSerializer)
    def delete(self, request: Request) -> Response:
        """Log out."""
        logout(request._request)
        return _session(None)


class UserList(generics.ListAPIView):
    """People; administrators only."""

    answers_once = False
    read_role = write_role = Role.ADMINISTRATOR
    queryset = User.objects.order_by("username")
    serializer_class = PersonSerializer

    @extend_schema(request=NewUserSerializer, responses={201: PersonSerializer})
    def post(self, request: Request) -> Response:
        """Add a person."""
        values = typed(request, NewUserSerializer)
        user = services.create_user(actor=actor_of(request), **values)
        return Response(PersonSerializer(user).data, 201)


class UserDetail(APIView):
    """One person; administrators only."""

    read_role = write_role = Role.ADMINISTRATOR

    @extend_schema(request=ChangePersonSerializer, responses=PersonSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change the role or the name; let them in no longer, or again."""
        values, base = typed_from(request, ChangePersonSerializer)
        user = get_object_or_404(User, pk=pk)
        user = services.change_person(actor=actor_of(request), user=user, base=base, **values)
        return Response(PersonSerializer(user).data)


class UserPassword(APIView):
    """The password of somebody; administrators only."""

    answers_once = False
    read_role = write_role = Role.ADMINISTRATOR

    @extend_schema(request=ResetPasswordSerializer, responses={204: None})
    def post(self, request: Request, pk: int) -> Response:
        """A new one; they are logged out everywhere."""
        values = typed(request, ResetPasswordSerializer)
        user = get_object_or_404(User, pk=pk)
        services.reset_password(actor=actor_of(request), user=user, **values)
        return Response(status=204)


class UserDeeds(APIView):
    """What somebody wrote; administrators only."""

    read_role = Role.ADMINISTRATOR

    @extend_schema(responses=DeedSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """The newest first."""
        user = get_object_or_404(User, pk=pk)
        return Response(DeedSerializer(deeds_of(user), many=True).data)


class OwnPassword(APIView):
    """One's own password."""

    answers_once = False
    write_role = Role.READER

    @extend_schema(request=OwnPasswordSerializer, responses={204: None})
    def post(self, request: Request) -> Response:
        """Another one; who is logged in elsewhere is logged out."""
        values = typed(request, OwnPasswordSerializer)
        user = services.change_own_password(actor=actor_of(request), **values)
        # This session goes on; the others were bound to the password before.
        update_session_auth_hash(request._request, user)
        return Response(status=204)


class OwnSessions(APIView):
    """Where one is logged in."""

    write_role = Role.READER

    @extend_schema(responses=LoggedInSerializer(many=True))
    def get(self, request: Request) -> Response:
        """The one seen last first."""
        found = sessions_of(actor_of(request), request.session.session_key)
        return Response(LoggedInSerializer(found, many=True).data)


class OwnSession(APIView):
    """One place where one is logged in."""

    write_role = Role.READER

    @extend_schema(responses={204: None})
    def delete(self, request: Request, handle: str) -> Response:
        """Log out there."""
        if not end_sessions(actor_of(request), handle):
            raise NotFound("It has ended already.")
        return Response(status=204)
