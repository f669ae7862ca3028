"""Taking photos in: checked by content, re-encoded without location, kept outside the web root."""

from __future__ import annotations

import hashlib
import io
import secrets
from pathlib import Path
from typing import Any

from django.conf import settings
from PIL import ExifTags, Image, ImageOps, UnidentifiedImageError

from spindle_server.accounts.models import Role, User
from spindle_server.errors import ServiceError
from spindle_server.motors.models import Incident, Sample
from spindle_server.photos.models import Photo
from spindle_server.records.versions import locked, write_fields
from spindle_server.records.writes import writes

LARGEST_BYTES = 12_000_000
MOST_PIXELS = 80_000_000
"""Of a JPEG, which can be unpacked at a fraction of its size."""
MOST_UNSCALED_PIXELS = 30_000_000
"""Of what is unpacked whole before it can be made smaller."""
LONGEST_EDGE_PX = 2400
THUMBNAIL_PX = 360
FORMATS = ("JPEG", "PNG", "WEBP")


@writes(Role.REVIEWER)
def add_photo(
    *,
    actor: User | None,
    sample: Sample,
    data: bytes,
    attribute: str = "",
    caption: str = "",
    incident: Incident | None = None,
) -> Photo:
    """Keep a picture of a sample; the same file twice is the same photo.

    :raises ServiceError: too large, no picture, a kind of picture this does not read, or an
        incident of another sample.
    """
    if incident is not None and incident.sample_id != sample.pk:
        message = "That befell another sample."
        raise ServiceError(message, code="other_sample", fields={"incident": [message]})
    digest = hashlib.sha256(data).hexdigest()
    there = Photo.objects.filter(sample=sample, digest=digest).first()
    if there is not None:
        row = locked(Photo, there.pk)
        values: dict[str, Any] = {"taken_off": False}
        if incident is not None:
            values["incident"] = incident
        write_fields(row, values, base=row.version)
        return row
    picture, (width_px, height_px) = _read(data)
    full, thumbnail = _encoded(picture, LONGEST_EDGE_PX, 86), _encoded(picture, THUMBNAIL_PX, 80)
    photo = Photo(
        sample=sample,
        attribute=attribute,
        incident=incident,
        caption=caption.strip(),
        digest=digest,
        name=secrets.token_hex(16),
        width_px=width_px,
        height_px=height_px,
        size_bytes=len(full),
        uploaded_by=actor,
    )
    photo.save()
    _write(photo, full, thumbnail)
    return photo


@writes(Role.REVIEWER)
def change_photo(*, actor: User, photo: Photo, base: int | None, **values: Any) -> Photo:
    """Change a caption, what it shows, or take it off the record and put it back."""
    row = locked(Photo, photo.pk)
    write_fields(row, values, base=base)
    return row


def photo_path(photo: Photo, *, thumbnail: bool) -> Path:
    """Where the file lies."""
    suffix = "-small" if thumbnail else ""
    return Path(settings.PHOTOS) / photo.name[:2] / f"{photo.name}{suffix}.jpg"


def _read(data: bytes) -> tuple[Image.Image, tuple[int, int]]:
    """The picture, upright, in RGB and no larger than it is kept, judged by its content and not by
    its name; and how many pixels wide and high it came."""
    if not data:
        raise _refused("The file is empty.", "empty")
    if len(data) > LARGEST_BYTES:
        raise _refused(
            f"This picture has {len(data) / 1e6:.1f} MB; a photo may have "
            f"{LARGEST_BYTES / 1e6:.0f} MB. Make it smaller and try again.",
            "too_large",
        )
    try:
        with Image.open(io.BytesIO(data), formats=FORMATS) as opened:
            most = MOST_PIXELS if opened.format == "JPEG" else MOST_UNSCALED_PIXELS
            if opened.width * opened.height > most:
                raise _refused(
                    f"This picture has {opened.width} × {opened.height} pixels; up to "
                    f"{most / 1e6:.0f} million are taken of a {opened.format}.",
                    "too_many_pixels",
                )
            came = opened.size
            turned = opened.getexif().get(ExifTags.Base.Orientation, 1) in (5, 6, 7, 8)
            # Only a JPEG heeds this; it unpacks an eighth, a quarter or a half of each edge.
            share = LONGEST_EDGE_PX / max(came)
            opened.draft("RGB", (max(1, int(came[0] * share)), max(1, int(came[1] * share))))
            opened.load()
            upright = _on_white(ImageOps.exif_transpose(opened))
            upright.thumbnail((LONGEST_EDGE_PX, LONGEST_EDGE_PX))
            return upright, (came[1], came[0]) if turned else came
    except UnidentifiedImageError as error:
        raise _refused(
            "This is not a picture that can be read here; send JPEG, PNG or WebP. A phone that "
            "saves HEIC can be told to save JPEG.",
            "no_picture",
        ) from error
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise _refused("The picture is damaged: it cannot be read to its end.", "damaged") from (
            error
        )


def _refused(message: str, code: str) -> ServiceError:
    return ServiceError(message, code=code, fields={"file": [message]})


def _on_white(picture: Image.Image) -> Image.Image:
    """RGB; what is transparent becomes white."""
    if picture.mode in ("RGBA", "LA", "PA") or "transparency" in picture.info:
        clear = picture.convert("RGBA")
        ground = Image.new("RGB", clear.size, "white")
        ground.paste(clear, mask=clear.getchannel("A"))
        return ground
    return picture.convert("RGB")


def _encoded(picture: Image.Image, longest_px: int, quality: int) -> bytes:
    """A JPEG of pixels alone: no location, no camera, no thumbnail of something else."""
    small = picture.copy()
    small.thumbnail((longest_px, longest_px))
    bare = Image.new("RGB", small.size)
    bare.paste(small)
    out = io.BytesIO()
    bare.save(out, "JPEG", quality=quality, optimize=True)
    return out.getvalue()


def _write(photo: Photo, full: bytes, thumbnail: bytes) -> None:
    for data, small in ((full, False), (thumbnail, True)):
        path = photo_path(photo, thumbnail=small)
        path.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
        with path.open("xb") as file:
            file.write(data)
