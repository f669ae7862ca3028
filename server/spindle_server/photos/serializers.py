"""Photos as JSON; the pictures themselves have their own address."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from spindle_core.teardown import ATTRIBUTES
from spindle_server.motors.models import Incident
from spindle_server.photos.models import Photo

ATTRIBUTE_CHOICES = [(key, item.label) for key, item in ATTRIBUTES.items()]


class PhotoSerializer(serializers.ModelSerializer):
    """A photo with where its picture and its small picture are."""

    image = serializers.SerializerMethodField()
    thumbnail = serializers.SerializerMethodField()
    uploaded_by_name = serializers.SerializerMethodField()
    version = serializers.IntegerField(required=False)

    class Meta:
        model = Photo
        fields = [
            "id",
            "sample",
            "attribute",
            "incident",
            "caption",
            "width_px",
            "height_px",
            "size_bytes",
            "taken_off",
            "uploaded_at",
            "uploaded_by_name",
            "image",
            "thumbnail",
            "version",
        ]
        read_only_fields = [
            "id",
            "sample",
            "incident",
            "width_px",
            "height_px",
            "size_bytes",
            "uploaded_at",
        ]
        validators: list[Any] = []

    def get_image(self, photo: Photo) -> str:
        """Address of the picture."""
        return f"/api/v1/photos/{photo.pk}/picture/"

    def get_thumbnail(self, photo: Photo) -> str:
        """Address of the small picture."""
        return f"/api/v1/photos/{photo.pk}/picture/?small=1"

    def get_uploaded_by_name(self, photo: Photo) -> str:
        """Who took it in."""
        return photo.uploaded_by.shown_name if photo.uploaded_by else ""


class NewPhotoSerializer(serializers.Serializer):
    """A photo to take in."""

    file = serializers.FileField(max_length=200, allow_empty_file=True)
    attribute = serializers.ChoiceField(
        ATTRIBUTE_CHOICES, required=False, default="", allow_blank=True
    )
    caption = serializers.CharField(required=False, default="", allow_blank=True, max_length=200)
    incident = serializers.PrimaryKeyRelatedField(
        queryset=Incident.objects.all(), required=False, default=None, allow_null=True
    )
