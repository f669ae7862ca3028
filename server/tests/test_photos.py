"""Photos: checked by content, re-encoded without location, for people who are logged in."""

import io
from datetime import date

import pytest
from PIL import Image

from spindle_server.motors.weighing import add_incident
from spindle_server.photos import services
from spindle_server.photos.models import Photo
from spindle_server.photos.services import photo_path


@pytest.fixture(autouse=True)
def photo_folder(settings, tmp_path):
    settings.PHOTOS = tmp_path / "photos"


def picture(kind="JPEG", size=(600, 400), *, exif=None, mode="RGB"):
    out = io.BytesIO()
    image = Image.new(mode, size, (200, 120, 60) if mode == "RGB" else (200, 120, 60, 0))
    image.save(out, kind, **({"exif": exif} if exif else {}))
    return out.getvalue()


def with_location(orientation=1):
    exif = Image.Exif()
    exif[0x0112] = orientation
    exif[0x010F] = "A maker of cameras"
    gps = exif.get_ifd(0x8825)
    gps[1], gps[2] = "N", (51.0, 30.0, 0.0)
    return picture(exif=exif)


def send(api, sample, data, name="photo.jpg", **rest):
    file = io.BytesIO(data)
    file.name = name
    return api.post(f"/api/v1/samples/{sample.pk}/photos/", {"file": file, **rest})


def stored(photo, *, thumbnail=False):
    return Image.open(photo_path(Photo.objects.get(pk=photo["id"]), thumbnail=thumbnail))


def test_a_photo_is_kept_with_its_caption_and_what_it_shows(api, rig):
    sample = rig["samples"][0]
    answer = send(api, sample, picture(), attribute="winding_neatness", caption="after 10 packs")
    assert answer.status_code == 201
    photo = answer.json()
    assert (photo["attribute"], photo["caption"]) == ("winding_neatness", "after 10 packs")
    assert (photo["width_px"], photo["height_px"]) == (600, 400)
    (listed,) = api.get(f"/api/v1/samples/{sample.pk}/photos/").json()
    assert listed["uploaded_by_name"] == "reviewer"
    (on_file,) = api.get(f"/api/v1/motors/{rig['motor'].pk}/photos/").json()
    assert on_file["id"] == photo["id"]
    full, small = api.get(photo["image"]), api.get(photo["thumbnail"])
    assert full["Content-Type"] == "image/jpeg"
    assert "private" in full["Cache-Control"]
    assert Image.open(io.BytesIO(full.content)).size == (600, 400)
    assert max(Image.open(io.BytesIO(small.content)).size) == 360


def test_location_and_camera_do_not_survive(api, rig):
    photo = send(api, rig["samples"][0], with_location()).json()
    for thumbnail in (False, True):
        kept = stored(photo, thumbnail=thumbnail)
        assert not kept.getexif()
        assert "exif" not in kept.info


def test_a_photo_is_turned_upright(api, rig):
    photo = send(api, rig["samples"][0], with_location(orientation=6)).json()
    assert (photo["width_px"], photo["height_px"]) == (400, 600)


@pytest.mark.parametrize(("kind", "mode"), [("PNG", "RGBA"), ("WEBP", "RGB"), ("PNG", "RGB")])
def test_kinds_of_pictures(api, rig, kind, mode):
    photo = send(api, rig["samples"][0], picture(kind, mode=mode), f"x.{kind.lower()}").json()
    kept = stored(photo)
    assert kept.format == "JPEG"
    if mode == "RGBA":
        assert kept.getpixel((5, 5)) == (255, 255, 255)


def test_a_large_picture_is_brought_down(api, rig):
    photo = send(api, rig["samples"][0], picture(size=(4000, 1000))).json()
    assert stored(photo).size == (2400, 600)


@pytest.mark.parametrize(
    ("data", "code"),
    [
        (b"MZ this is a program", "no_picture"),
        (b"<svg onload='x'></svg>", "no_picture"),
        (b"", "empty"),
        (picture()[:300], "damaged"),
        (b"GIF89a" + bytes(40), "no_picture"),
        (picture("BMP"), "no_picture"),
        (bytes(12_000_001), "too_large"),
    ],
)
def test_what_is_no_picture_is_refused_beside_its_field(api, rig, settings, data, code):
    answer = send(api, rig["samples"][0], data, "holiday.jpg")
    assert answer.status_code == 400
    assert answer.json()["code"] == code
    assert answer.json()["fields"]["file"]
    assert not Photo.objects.exists()
    assert not settings.PHOTOS.exists()


def test_too_many_pixels_are_refused_before_they_are_unpacked(api, rig):
    answer = send(api, rig["samples"][0], picture("PNG", size=(9000, 9000)))
    assert answer.json()["code"] == "too_many_pixels"


def test_a_large_jpeg_is_unpacked_at_a_fraction_of_its_size(api, rig, monkeypatch):
    """79 million pixels once took 13 s and their memory."""
    unpacked = []
    monkeypatch.setattr(
        services, "_on_white", lambda opened: unpacked.append(opened.size) or opened.convert("RGB")
    )
    exif = Image.Exif()
    exif[0x0112] = 8
    photo = send(api, rig["samples"][0], picture(size=(9600, 8000), exif=exif)).json()
    assert unpacked == [(2000, 2400)]
    assert (photo["width_px"], photo["height_px"]) == (8000, 9600)
    assert stored(photo).size == (2000, 2400)


def test_a_png_that_cannot_be_is_refused_sooner(api, rig):
    answer = send(api, rig["samples"][0], picture("PNG", size=(6000, 5001)))
    assert answer.json()["code"] == "too_many_pixels"
    assert "30 million are taken of a PNG" in answer.json()["message"]


def test_the_same_file_twice_is_one_photo(api, rig):
    first = send(api, rig["samples"][0], picture()).json()
    assert send(api, rig["samples"][0], picture()).json()["id"] == first["id"]
    assert send(api, rig["samples"][1], picture()).json()["id"] != first["id"]


def test_taken_off_and_put_back(api, rig):
    sample = rig["samples"][0]
    photo = send(api, sample, picture()).json()
    path = f"/api/v1/photos/{photo['id']}/"
    api.patch(path, {"taken_off": True, "version": 1}, format="json")
    assert api.get(f"/api/v1/samples/{sample.pk}/photos/").json() == []
    api.patch(path, {"taken_off": False, "caption": "again", "version": 2}, format="json")
    assert api.get(f"/api/v1/samples/{sample.pk}/photos/").json()[0]["caption"] == "again"
    assert Photo.objects.get().history.count() == 3


def test_strangers_and_static_files_see_none_of_it(api, as_role, rig, client, settings):
    photo = send(api, rig["samples"][0], picture()).json()
    assert as_role(None).get(photo["image"]).status_code == 401
    assert as_role("reader").get(photo["image"]).status_code == 200
    name = photo_path(Photo.objects.get(), thumbnail=False)
    assert str(settings.STATIC_ROOT) not in str(name)
    assert client.get(f"/static/{name.name}").status_code == 404


def test_a_file_that_is_gone_is_said(api, rig):
    photo = send(api, rig["samples"][0], picture()).json()
    photo_path(Photo.objects.get(), thumbnail=False).unlink()
    answer = api.get(photo["image"])
    assert answer.status_code == 404
    assert "gone from the disk" in answer.json()["message"]


def test_a_photo_of_an_incident_is_of_its_sample(api, people, rig):
    mine, other = rig["samples"]
    incident = add_incident(
        actor=people["reviewer"], sample=mine, kind="burnt_winding", happened_on=date(2026, 10, 5)
    )
    wrong = send(api, other, picture(), incident=incident.pk)
    assert wrong.json()["fields"] == {"incident": ["That befell another sample."]}
    assert send(api, mine, picture(), incident=incident.pk).json()["incident"] == incident.pk
    # The same file again, now without an incident, stays where it was put.
    assert send(api, mine, picture()).json()["incident"] == incident.pk
