"""Finding propellers in the library."""

from __future__ import annotations

import re

import django_filters
from django.db.models import Q, QuerySet

from spindle_server.rig.models import Propeller

MOST_WORDS = 8
_PART = r"(\d{1,3}(?:[.,]\d{1,3})?)"
_GEOMETRY = re.compile(rf"{_PART}(?:x{_PART}?)?(?:x(\d{{1,2}})?)?", re.ASCII)


class PropellerFilter(django_filters.FilterSet):
    """By words: of the maker, or a geometry as it is written, ``5.1x4.2x3``, begun or whole."""

    search = django_filters.CharFilter(method="by_words", label="Words of maker or geometry")

    class Meta:
        model = Propeller
        fields = ["id"]

    def by_words(self, rows: QuerySet[Propeller], name: str, text: str) -> QuerySet[Propeller]:
        """Every word must stand somewhere."""
        for word in text.lower().split()[:MOST_WORDS]:
            rows = rows.filter(Q(maker__name__icontains=word) | _of_geometry(word))
        return rows


def _of_geometry(word: str) -> Q:
    """Diameter, pitch and blades so far as the word says them. What is whole is equal; the number
    that is being typed is how it begins."""
    found = _GEOMETRY.fullmatch(word)
    if not found:
        return Q(pk__in=[])
    diameter, pitch, blades = (part and part.replace(",", ".") for part in found.groups())
    if "x" not in word:
        return Q(diameter_in__startswith=diameter)
    same = Q(diameter_in=float(diameter))
    if pitch:
        whole = word.count("x") > 1
        same &= Q(pitch_in=float(pitch)) if whole else Q(pitch_in__startswith=pitch)
    return same & Q(blades=int(blades)) if blades else same
