"""People as JSON."""

from rest_framework import serializers

from spindle_server.accounts.models import Role, User


class UserSerializer(serializers.ModelSerializer):
    """A person; the password never leaves."""

    shown_name = serializers.CharField(read_only=True)

    class Meta:
        model = User
        fields = ["id", "username", "full_name", "shown_name", "role", "version"]
        read_only_fields = ["id", "version"]


class SessionSerializer(serializers.Serializer):
    """Who is logged in, if anybody."""

    user = UserSerializer(allow_null=True)
    demo = serializers.BooleanField()


class LoginSerializer(serializers.Serializer):
    """Name and password."""

    username = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=200, trim_whitespace=False)


class NewUserSerializer(serializers.Serializer):
    """A person to add."""

    username = serializers.CharField(max_length=150)
    full_name = serializers.CharField(max_length=80, required=False, default="", allow_blank=True)
    password = serializers.CharField(max_length=200, trim_whitespace=False)
    role = serializers.ChoiceField(Role.choices)


class RoleSerializer(serializers.Serializer):
    """Another role for a person, from a version that was read."""

    role = serializers.ChoiceField(Role.choices)
    version = serializers.IntegerField(required=False)
