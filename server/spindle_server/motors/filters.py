"""Finding motors in the list."""

from __future__ import annotations

import django_filters
from django.db.models import Q, QuerySet

from spindle_server.motors.models import MotorModel


class MotorFilter(django_filters.FilterSet):
    """By maker, size code, a sample of it, or words of the name in any order."""

    sample = django_filters.NumberFilter(field_name="samples", label="Number of a sample")
    search = django_filters.CharFilter(method="by_words", label="Words of maker, name or size")

    class Meta:
        model = MotorModel
        fields = {"id": ["exact"], "maker__name": ["exact"], "size_code": ["exact"]}

    def by_words(self, rows: QuerySet[MotorModel], name: str, text: str) -> QuerySet[MotorModel]:
        """Every word must stand somewhere."""
        for word in text.split()[:8]:
            rows = rows.filter(
                Q(maker__name__icontains=word)
                | Q(name__icontains=word)
                | Q(size_code__icontains=word)
                | Q(kv_label_rpm_per_v__icontains=word)
            )
        return rows
