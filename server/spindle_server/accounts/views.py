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

from spindle_server.accounts import second_factor, services
from spindle_server.accounts.deeds import deeds_of
from spindle_server.accounts.models import Role, User
from spindle_server.accounts.permissions import actor_of
from spindle_server.accounts.second_factor import DUE
from spindle_server.accounts.serializers import (
    AccessRuleSerializer,
    ChangePersonSerializer,
    CodeSerializer,
    DeedSerializer,
    LoggedInSerializer,
    LoginSerializer,
    NewUserSerializer,
    OwnPasswordSerializer,
    OwnSecondFactorSerializer,
    PaperCodesSerializer,
    PersonSerializer,
    ProvePasswordSerializer,
    ResetPasswordSerializer,
    SecretSerializer,
    SessionSerializer,
)
from spindle_server.accounts.sessions import end_sessions, sessions_of
from spindle_server.api.inputs import typed, typed_from


def _session(request: Request, user: object) -> Response:
    shown = user if isinstance(user, User) else None
    due = shown is not None and bool(request._request.session.get(DUE))
    found = {
        "user": shown,
        "demo": settings.DEMO,
        "time_zone": settings.TIME_ZONE,
        "second_factor_due": due,
    }
    return Response(SessionSerializer(found).data)


@method_decorator(ensure_csrf_cookie, name="dispatch")
class SessionView(APIView):
    """Who is logged in; log in; log out. The only endpoint that is open to strangers."""

    answers_once = False
    permission_classes = [AllowAny]

    @extend_schema(responses=SessionSerializer)
    def get(self, request: Request) -> Response:
        """Who is logged in, if anybody."""
        return _session(request, request.user)

    @extend_schema(request=LoginSerializer, responses=SessionSerializer)
    @method_decorator(csrf_protect)
    def post(self, request: Request) -> Response:
        """Log in."""
        values = typed(request, LoginSerializer)
        return _session(request, services.log_in(request=request._request, **values))

    @extend_schema(responses=SessionSerializer)
    def delete(self, request: Request) -> Response:
        """Log out."""
        logout(request._request)
        return _session(request, None)


class UserList(generics.ListAPIView):
    """People; administrators only."""

    answers_once = False
    read_role = write_role = Role.ADMINISTRATOR
    queryset = User.objects.order_by("username").prefetch_related("totpdevice_set")
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


class UserSecondFactor(APIView):
    """The second factor of somebody; administrators only."""

    answers_once = False
    read_role = write_role = Role.ADMINISTRATOR

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """For who lost telephone and paper: asked for no code, and logged out everywhere."""
        user = get_object_or_404(User, pk=pk)
        second_factor.forget_second_factor(actor=actor_of(request), user=user)
        return Response(status=204)


class OwnSecondFactor(APIView):
    """One's own second factor."""

    answers_once = False
    before_second = True
    write_role = Role.READER

    @extend_schema(responses=OwnSecondFactorSerializer)
    def get(self, request: Request) -> Response:
        """Whether there is one, and how many codes on paper are left."""
        found = second_factor.state_of(actor_of(request))
        return Response(OwnSecondFactorSerializer(found).data)

    @extend_schema(request=ProvePasswordSerializer, responses=SecretSerializer)
    def post(self, request: Request) -> Response:
        """Begin: a secret for a telephone."""
        actor = _proven(request)
        return Response(SecretSerializer(second_factor.begin_second_factor(actor=actor)).data)


class OwnSecondFactorConfirmed(APIView):
    """The telephone shows the right digits."""

    answers_once = False
    before_second = True
    write_role = Role.READER

    @extend_schema(request=CodeSerializer, responses=PaperCodesSerializer)
    def post(self, request: Request) -> Response:
        """From now on codes are asked; codes for paper, told once."""
        values = typed(request, CodeSerializer)
        codes = second_factor.confirm_second_factor(actor=actor_of(request), **values)
        request._request.session[DUE] = False
        return Response(PaperCodesSerializer({"codes": codes}).data)


class OwnPaperCodes(APIView):
    """Codes on paper."""

    answers_once = False
    write_role = Role.READER

    @extend_schema(request=ProvePasswordSerializer, responses=PaperCodesSerializer)
    def post(self, request: Request) -> Response:
        """Others; those before count no more."""
        codes = second_factor.new_codes(actor=_proven(request))
        return Response(PaperCodesSerializer({"codes": codes}).data)


class OwnSecondFactorEnded(APIView):
    """By password alone again."""

    answers_once = False
    write_role = Role.READER

    @extend_schema(request=ProvePasswordSerializer, responses={204: None})
    def post(self, request: Request) -> Response:
        """End it, where the rule allows that."""
        second_factor.end_second_factor(actor=_proven(request))
        return Response(status=204)


def _proven(request: Request) -> User:
    actor = actor_of(request)
    values = typed(request, ProvePasswordSerializer)
    services.prove_password(request._request, actor, values["password"])
    return actor


class AccessRuleView(APIView):
    """Who needs a second factor; administrators only."""

    read_role = write_role = Role.ADMINISTRATOR

    @extend_schema(responses=AccessRuleSerializer)
    def get(self, request: Request) -> Response:
        """The rule."""
        return Response(AccessRuleSerializer(second_factor.access_rule()).data)

    @extend_schema(request=AccessRuleSerializer, responses=AccessRuleSerializer)
    def patch(self, request: Request) -> Response:
        """Another."""
        values, base = typed_from(request, AccessRuleSerializer)
        rule = second_factor.change_access_rule(
            actor=actor_of(request), base=base, second_factor_from=values["second_factor_from"]
        )
        return Response(AccessRuleSerializer(rule).data)


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
    before_second = True
    write_role = Role.READER

    @extend_schema(request=OwnPasswordSerializer, responses={204: None})
    def post(self, request: Request) -> Response:
        """Another one; who is logged in elsewhere is logged out."""
        values = typed(request, OwnPasswordSerializer)
        actor = actor_of(request)
        services.prove_password(request._request, actor, values["current"], field="current")
        user = services.change_own_password(actor=actor, **values)
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
