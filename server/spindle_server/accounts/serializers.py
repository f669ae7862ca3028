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


class PersonSerializer(UserSerializer):
    """A person as an administrator sees them."""

    class Meta:
        model = User
        fields = [
            "id", "username", "full_name", "shown_name", "role", "version", "is_active",
            "date_joined", "last_login",
        ]  # fmt: skip
        read_only_fields = fields


class ChangePersonSerializer(serializers.Serializer):
    """Another role or name for a person, or whether they may come in, from a version."""

    role = serializers.ChoiceField(Role.choices, required=False)
    is_active = serializers.BooleanField(required=False)
    full_name = serializers.CharField(max_length=80, required=False, allow_blank=True)
    version = serializers.IntegerField(required=False)


class ResetPasswordSerializer(serializers.Serializer):
    """A new password for somebody."""

    password = serializers.CharField(max_length=200, trim_whitespace=False)


class OwnPasswordSerializer(ResetPasswordSerializer):
    """The password so far, and a new one."""

    current = serializers.CharField(max_length=200, trim_whitespace=False)


class LoggedInSerializer(serializers.Serializer):
    """Where somebody is logged in."""

    handle = serializers.CharField()
    own = serializers.BooleanField(help_text="This one.")
    since = serializers.DateTimeField(allow_null=True)
    seen = serializers.DateTimeField(allow_null=True)
    address = serializers.CharField(allow_blank=True)
    browser = serializers.CharField(allow_blank=True)


class DeedSerializer(serializers.Serializer):
    """Something that somebody wrote."""

    at = serializers.DateTimeField()
    kind = serializers.ChoiceField(["added", "changed", "removed"])
    what = serializers.CharField()
    which = serializers.CharField()
