"""The photos of the demo: drawings made by code, so that no real thing is pictured."""

from __future__ import annotations

import io
import math
import random
from dataclasses import dataclass

from PIL import Image, ImageDraw

from spindle_server.demo.catalogue import DemoMotor

SIZE = (960, 720)
BENCH = (214, 203, 184)
STEEL, DARK, COPPER, IRON = (168, 174, 176), (70, 78, 82), (188, 112, 62), (225, 212, 186)
NORTH, SOUTH = (93, 122, 128), (159, 181, 182)


@dataclass(frozen=True, slots=True)
class DrawnPhoto:
    """A photo of one sample, and what it shows."""

    attribute: str
    caption: str
    png: bytes


def photos_of(demo: DemoMotor) -> list[DrawnPhoto]:
    """A stator and a bell of a motor's first sample, laid on the bench. Runs in a worker process;
    touches no database."""
    mark = demo.samples[0]
    found = []
    for draw, attribute, caption in (
        (_stator, "winding_neatness", f"Stator of sample {mark}, bell off"),
        (_bell, "magnet_spacing", f"Magnets of sample {mark}, from below"),
    ):
        picture = _bench(f"{demo.full_name}/{mark}/{attribute}")
        draw(ImageDraw.Draw(picture), demo)
        out = io.BytesIO()
        picture.save(out, "PNG", compress_level=1)
        found.append(DrawnPhoto(attribute, caption, out.getvalue()))
    return found


def _bench(seed: str) -> Image.Image:
    """A bench mat with a grid of 10 mm and a little light from one side."""
    picture = Image.new("RGB", SIZE, BENCH)
    draw = ImageDraw.Draw(picture)
    for x in range(0, SIZE[0], 60):
        draw.line([(x, 0), (x, SIZE[1])], fill=(200, 188, 168))
    for y in range(0, SIZE[1], 60):
        draw.line([(0, y), (SIZE[0], y)], fill=(200, 188, 168))
    grain = random.Random(seed)  # noqa: S311 - grain of a picture
    for _ in range(400):
        x, y = grain.randrange(SIZE[0]), grain.randrange(SIZE[1])
        draw.point((x, y), fill=(190, 178, 158))
    return picture


def _radius(demo: DemoMotor) -> float:
    """Pixels from the diameter in the size code, 12 px a millimetre up to the picture."""
    return min(6.0 * float(demo.size_code[:2]) * 1.9, 300.0)


def _disc(draw: ImageDraw.ImageDraw, radius: float, fill: tuple[int, int, int]) -> None:
    x, y = SIZE[0] / 2, SIZE[1] / 2
    draw.ellipse([x - radius, y - radius, x + radius, y + radius], fill=fill, outline=DARK)


def _wedge(
    draw: ImageDraw.ImageDraw,
    inner: float,
    outer: float,
    middle: float,
    half: float,
    fill: tuple[int, int, int],
) -> None:
    points = []
    for radius, angles in (
        (outer, [middle - half, middle, middle + half]),
        (inner, [middle + half, middle, middle - half]),
    ):
        points += [
            (SIZE[0] / 2 + radius * math.cos(a), SIZE[1] / 2 + radius * math.sin(a)) for a in angles
        ]
    draw.polygon(points, fill=fill, outline=DARK)


def _stator(draw: ImageDraw.ImageDraw, demo: DemoMotor) -> None:
    radius, pitch = _radius(demo), 2 * math.pi / demo.slots
    _disc(draw, radius * 1.12, STEEL)
    strands = 1 if demo.winding == "single" else 3
    for slot in range(demo.slots):
        middle = slot * pitch
        for strand in range(strands):
            share = 1 - 0.16 * strand
            _wedge(draw, 0.48 * radius, 0.86 * radius * share, middle, 0.40 * pitch, COPPER)
        _wedge(draw, 0.88 * radius, radius, middle, 0.43 * pitch, IRON)
    _disc(draw, 0.44 * radius, IRON)
    _disc(draw, 0.24 * radius, STEEL)
    _disc(draw, 0.12 * radius, DARK)


def _bell(draw: ImageDraw.ImageDraw, demo: DemoMotor) -> None:
    radius, pitch = _radius(demo), 2 * math.pi / demo.poles
    _disc(draw, 1.22 * radius, DARK)
    _disc(draw, 1.14 * radius, STEEL)
    for pole in range(demo.poles):
        fill = NORTH if pole % 2 else SOUTH
        cover = 0.36 if demo.magnet == "flat" else 0.44
        _wedge(draw, radius, 1.13 * radius, pole * pitch, cover * pitch, fill)
    _disc(draw, 0.97 * radius, (140, 146, 148))
    _disc(draw, 0.16 * radius, STEEL)
