"""Session and people."""

from __future__ import annotations

from django.conf import settings
from django.contrib.auth import logout
from django.shortcuts import get_object_or_404
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect, ensure_csrf_cookie
from drf_spectacular.utils import extend_schema
from rest_framework import generics
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts import services
from spindle_server.accounts.models import Role, User
from spindle_server.accounts.permissions import actor_of
from spindle_server.accounts.serializers import (
    LoginSerializer,
    NewUserSerializer,
    RoleSerializer,
    SessionSerializer,
    UserSerializer,
)
from spindle_server.api.inputs import typed, typed_from


def _session(user: object) -> Response:
    shown = user if isinstance(user, User) else None
    return Response(SessionSerializer({"user": shown, "demo": settings.DEMO}).data)


@method_decorator(ensure_csrf_cookie, name="dispatch")
class SessionView(APIView):
    """Who is logged in; log in; log out. The only endpoint that is open to strangers."""

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

    read_role = write_role = Role.ADMINISTRATOR
    queryset = User.objects.order_by("username")
    serializer_class = UserSerializer

    @extend_schema(request=NewUserSerializer, responses={201: UserSerializer})
    def post(self, request: Request) -> Response:
        """Add a person."""
        values = typed(request, NewUserSerializer)
        user = services.create_user(actor=actor_of(request), **values)
        return Response(UserSerializer(user).data, 201)


class UserDetail(APIView):
    """One person; administrators only."""

    read_role = write_role = Role.ADMINISTRATOR

    @extend_schema(request=RoleSerializer, responses=UserSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change the role."""
        values, base = typed_from(request, RoleSerializer)
        user = get_object_or_404(User, pk=pk)
        user = services.change_role(actor=actor_of(request), user=user, base=base, **values)
        return Response(UserSerializer(user).data)
