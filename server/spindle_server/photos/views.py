"""Photos of a sample, for people who are logged in."""

from __future__ import annotations

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.exceptions import NotFound
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from spindle_server.accounts.permissions import actor_of
from spindle_server.api.inputs import typed, typed_from
from spindle_server.api.parsing import Json
from spindle_server.motors.models import Sample
from spindle_server.photos import services
from spindle_server.photos.models import Photo
from spindle_server.photos.serializers import NewPhotoSerializer, PhotoSerializer


class SamplePhotos(APIView):
    """Photos of one sample."""

    parser_classes = [MultiPartParser]

    @extend_schema(responses=PhotoSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """All but those taken off."""
        rows = Photo.objects.filter(sample_id=pk, taken_off=False).select_related("uploaded_by")
        return Response(PhotoSerializer(rows, many=True).data)

    @extend_schema(
        request={"multipart/form-data": NewPhotoSerializer}, responses={201: PhotoSerializer}
    )
    def post(self, request: Request, pk: int) -> Response:
        """Take one in."""
        sample = get_object_or_404(Sample, pk=pk)
        values = typed(request, NewPhotoSerializer)
        file = values.pop("file")
        # One byte over the limit is enough to refuse it.
        content = file.read(services.LARGEST_BYTES + 1)
        photo = services.add_photo(actor=actor_of(request), sample=sample, data=content, **values)
        return Response(PhotoSerializer(photo).data, 201)


class MotorPhotos(APIView):
    """Photos of all samples of a motor."""

    @extend_schema(responses=PhotoSerializer(many=True))
    def get(self, request: Request, pk: int) -> Response:
        """All but those taken off."""
        rows = Photo.objects.filter(sample__motor_id=pk, taken_off=False)
        return Response(PhotoSerializer(rows.select_related("uploaded_by"), many=True).data)


class PhotoDetail(APIView):
    """One photo."""

    parser_classes = [Json]

    @extend_schema(request=PhotoSerializer, responses=PhotoSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change its caption or what it shows; take it off, or put it back."""
        photo = get_object_or_404(Photo.objects.select_related("uploaded_by"), pk=pk)
        values, base = typed_from(request, PhotoSerializer, photo)
        changed = services.change_photo(actor=actor_of(request), photo=photo, base=base, **values)
        return Response(PhotoSerializer(changed).data)


class PhotoPicture(APIView):
    """The picture of a photo."""

    @extend_schema(
        parameters=[OpenApiParameter("small", bool)],
        responses={(200, "image/jpeg"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, pk: int) -> HttpResponse:
        """As JPEG; ``small`` for the thumbnail."""
        photo = get_object_or_404(Photo, pk=pk)
        small = request.query_params.get("small") in ("1", "true")
        try:
            content = services.photo_path(photo, thumbnail=small).read_bytes()
        except OSError as error:
            raise NotFound("The file of this photo is gone from the disk.") from error
        response = HttpResponse(content, content_type="image/jpeg")
        response["Cache-Control"] = "private, max-age=86400, immutable"
        return response
