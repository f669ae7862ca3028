"""People as JSON."""

from rest_framework import serializers

from spindle_server.accounts.models import AccessRule, Role, User


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
    time_zone = serializers.CharField(help_text="Of the bench: every day and hour is told in it.")
    second_factor_due = serializers.BooleanField(
        help_text="A second factor has to be set up before anything else."
    )


class LoginSerializer(serializers.Serializer):
    """Name and password."""

    username = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=200, trim_whitespace=False)
    code = serializers.CharField(
        max_length=40,
        required=False,
        default="",
        allow_blank=True,
        help_text="Of the second factor, where there is one.",
    )


class OwnSecondFactorSerializer(serializers.Serializer):
    """One's own second factor."""

    on = serializers.BooleanField()
    needed = serializers.BooleanField(help_text="The rule asks one of this role.")
    codes_left = serializers.IntegerField()


class ProvePasswordSerializer(serializers.Serializer):
    """One's own password, again."""

    password = serializers.CharField(max_length=200, trim_whitespace=False)


class SecretSerializer(serializers.Serializer):
    """What a telephone reads: as text, as an address, and as the rows of a picture, 1 is dark."""

    secret = serializers.CharField()
    address = serializers.CharField()
    picture = serializers.ListField(child=serializers.CharField())


class CodeSerializer(serializers.Serializer):
    """Six digits that a telephone shows."""

    code = serializers.CharField(max_length=40)


class PaperCodesSerializer(serializers.Serializer):
    """Codes for paper, told once."""

    codes = serializers.ListField(child=serializers.CharField())


class AccessRuleSerializer(serializers.ModelSerializer):
    """From which role on a second factor is needed; blank: of nobody."""

    second_factor_from = serializers.ChoiceField(Role.choices, allow_blank=True)
    version = serializers.IntegerField(required=False)

    class Meta:
        model = AccessRule
        fields = ["second_factor_from", "version"]


class NewUserSerializer(serializers.Serializer):
    """A person to add."""

    username = serializers.CharField(max_length=150)
    full_name = serializers.CharField(max_length=80, required=False, default="", allow_blank=True)
    password = serializers.CharField(max_length=200, trim_whitespace=False)
    role = serializers.ChoiceField(Role.choices)


class PersonSerializer(UserSerializer):
    """A person as an administrator sees them."""

    second_factor = serializers.SerializerMethodField()

    class Meta:
        model = User
        fields = [
            "id",
            "username",
            "full_name",
            "shown_name",
            "role",
            "version",
            "is_active",
            "date_joined",
            "last_login",
            "second_factor",
        ]
        read_only_fields = fields

    def get_second_factor(self, user: User) -> bool:
        """Whether they are asked for a code."""
        # Its reverse relation is known to the database only, not to the type of User.
        devices = getattr(user, "totpdevice_set").all()  # noqa: B009
        return any(device.confirmed for device in devices)


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
