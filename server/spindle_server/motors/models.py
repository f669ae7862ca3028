"""What arrived: makers, motor models, parcels, samples, what was weighed and what is claimed."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from spindle_core.intake.claim_quantities import CLAIMS
from spindle_core.intake.motor_kind import MotorKind
from spindle_core.intake.parcel import PartKind
from spindle_core.motor.lead_wire import INSULATIONS
from spindle_core.motor.size_code import Basis, SizeCode, parse_size_code
from spindle_server.records.choices import WordField
from spindle_server.records.history import History
from spindle_server.records.versions import Versioned

TURNING = [("cw", "Clockwise"), ("ccw", "Counter-clockwise"), ("unknown", "Not noted")]
OBTAINED = [
    ("bought", "Bought"),
    ("loaned", "Loaned"),
    ("given", "Given"),
    ("sponsored", "Sponsored"),
    ("own_design", "Own design"),
    ("early", "Early access"),
    ("unknown", "Not noted"),
]
PRICE_PER = [("each", "Each"), ("set", "Set")]
SHIPPING = [
    ("included", "Included"),
    ("extra", "Extra"),
    ("free", "Free"),
    ("unknown", "Not known"),
]
PRICE_STATUS = [("known", "Known"), ("guessed", "Guessed")]
AVAILABILITY = [
    ("in_stock", "In stock"),
    ("scarce", "Scarce"),
    ("sold_out", "Sold out"),
    ("unknown", "Not known"),
]
MOTOR_KINDS = [(str(kind), kind.label) for kind in MotorKind]
BASES = [(str(basis), basis.label.capitalize()) for basis in Basis]
PART_KINDS = [(str(kind), kind.label.capitalize()) for kind in PartKind]
PREPARATIONS = [
    ("leads_cut", "Leads cut"),
    ("leads_replaced", "Leads replaced"),
    ("connectors_on", "Connectors soldered on"),
    ("connectors_off", "Connectors taken off"),
    ("other", "Other"),
]
INCIDENTS = [
    ("burnt_winding", "Burnt winding"),
    ("seized", "Seized"),
    ("thrown_prop", "Thrown propeller"),
    ("esc_failure", "ESC failure"),
    ("broken_part", "Broken part"),
    ("crash", "Crash"),
    ("water", "Water"),
    ("other", "Other"),
]
CLAIM_CHOICES = [(key, claim.label) for key, claim in CLAIMS.items()]
EXPECTED_OF = [
    ("max_thrust_gf", "Highest thrust"),
    ("max_current_a", "Highest current"),
    ("kv_rpm_per_v", "kV"),
    ("mass_g", "Mass at the bench's lead length"),
]


class Maker(models.Model):
    """Who makes motors or propellers."""

    name = models.CharField(max_length=60, unique=True)
    history = History()

    def __str__(self) -> str:
        return self.name


def full_name(maker: str, name: str, size_code: str, kv_rpm_per_v: float | None) -> str:
    """Maker, name, size and kV label, as far as there are, as one would say it."""
    kv = "" if kv_rpm_per_v is None else f"{kv_rpm_per_v:g}"
    return " ".join(part for part in (maker, name, size_code, kv) if part)


class MotorModel(Versioned):
    """A motor as it is sold. ``kv_label_rpm_per_v`` is the label: a claim, never a measurement;
    null where none is printed."""

    maker = models.ForeignKey(Maker, on_delete=models.PROTECT, related_name="motors")
    name = models.CharField(max_length=60)
    kind = WordField(max_length=10, choices=MOTOR_KINDS, default=str(MotorKind.OUTRUNNER))
    size_code = models.CharField(max_length=12, blank=True)
    """Empty where the motor has none; then nothing is derived from it."""
    size_basis = WordField(max_length=10, choices=BASES, blank=True)
    kv_label_rpm_per_v = models.FloatField(null=True, blank=True)
    note = models.TextField(blank=True)
    verdict = models.CharField(max_length=240, blank=True)
    """One sentence on who it is for, as a person wrote it."""
    created_at = models.DateTimeField(auto_now_add=True)
    history = History()

    class Meta:
        ordering = ["maker__name", "name", "size_code", "kv_label_rpm_per_v"]
        constraints = [
            models.UniqueConstraint(
                fields=["maker", "name", "size_code", "kv_label_rpm_per_v"],
                name="motor_model_is_unique",
            ),
            models.CheckConstraint(
                condition=models.Q(kv_label_rpm_per_v__isnull=True)
                | models.Q(kv_label_rpm_per_v__gt=0, kv_label_rpm_per_v__lt=100_000),
                name="motor_kv_label_is_possible",
            ),
            models.CheckConstraint(
                condition=models.Q(size_basis__in=["stator", "outer_can", "case"])
                & ~models.Q(size_code="")
                | models.Q(size_basis="", size_code=""),
                name="motor_size_basis_is_known",
            ),
            models.CheckConstraint(
                condition=models.Q(kind__in=[str(kind) for kind in MotorKind]),
                name="motor_kind_is_known",
            ),
        ]

    def __str__(self) -> str:
        return self.full_name

    @property
    def full_name(self) -> str:
        """Maker, name, size and kV label, as one would say it."""
        return full_name(self.maker.name, self.name, self.size_code, self.kv_label_rpm_per_v)

    @property
    def short_name(self) -> str:
        """Without its maker, which takes room at the end of a line."""
        return full_name("", self.name, self.size_code, self.kv_label_rpm_per_v)

    @property
    def size(self) -> SizeCode | None:
        """The size code as it is read; None where there is none."""
        return parse_size_code(self.size_code, self.size_basis) if self.size_code else None


class Parcel(Versioned):
    """One delivery of a motor: how it was obtained and what it cost. Disclosed later."""

    motor = models.ForeignKey(MotorModel, on_delete=models.PROTECT, related_name="parcels")
    obtained = WordField(max_length=12, choices=OBTAINED, default="unknown")
    obtained_from = models.CharField(max_length=120, blank=True)
    arrived_on = models.DateField(null=True, blank=True)
    price_amount = models.FloatField(null=True, blank=True)
    price_currency = models.CharField(max_length=3, blank=True)
    price_per = WordField(max_length=4, choices=PRICE_PER, default="each")
    set_size = models.PositiveSmallIntegerField(null=True, blank=True)
    shipping = WordField(max_length=8, choices=SHIPPING, default="unknown")
    shipping_amount = models.FloatField(null=True, blank=True)
    price_status = WordField(max_length=8, choices=PRICE_STATUS, default="known")
    priced_on = models.DateField(null=True, blank=True)
    availability = WordField(max_length=8, choices=AVAILABILITY, default="unknown")
    note = models.TextField(blank=True)
    history = History()

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(price_amount__isnull=True)
                | models.Q(price_amount__gte=0) & ~models.Q(price_currency=""),
                name="price_has_a_currency",
            ),
            models.CheckConstraint(
                condition=models.Q(price_per="each", set_size__isnull=True)
                | models.Q(price_per="set", set_size__isnull=False, set_size__gte=2),
                name="set_has_a_size",
            ),
            models.CheckConstraint(
                condition=models.Q(shipping="extra") | models.Q(shipping_amount__isnull=True),
                name="only_extra_shipping_has_an_amount",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.motor}, parcel {self.pk}"


class PartInBox(Versioned):
    """Equal parts of a parcel, with the sizes that matter to them [mm]."""

    parcel = models.ForeignKey(Parcel, on_delete=models.CASCADE, related_name="parts")
    kind = WordField(max_length=16, choices=PART_KINDS)
    count = models.PositiveSmallIntegerField()
    thread_mm = models.FloatField(null=True, blank=True)
    length_mm = models.FloatField(null=True, blank=True)
    inner_mm = models.FloatField(null=True, blank=True)
    outer_mm = models.FloatField(null=True, blank=True)
    height_mm = models.FloatField(null=True, blank=True)
    note = models.CharField(max_length=120, blank=True)
    history = History()

    class Meta:
        ordering = ["pk"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(count__gte=1, count__lte=200), name="part_is_counted"
            ),
            models.CheckConstraint(
                condition=models.Q(inner_mm__isnull=True)
                | models.Q(outer_mm__isnull=True)
                | models.Q(inner_mm__lt=models.F("outer_mm")),
                name="part_is_not_inside_out",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.count} × {self.get_kind_display()}"


class Sample(Versioned):
    """One motor one can hold."""

    motor = models.ForeignKey(MotorModel, on_delete=models.PROTECT, related_name="samples")
    parcel = models.ForeignKey(
        Parcel, on_delete=models.PROTECT, related_name="samples", null=True, blank=True
    )
    mark = models.CharField(max_length=12)
    turning = WordField(max_length=8, choices=TURNING, default="unknown")
    note = models.TextField(blank=True)
    created_at = models.DateTimeField(auto_now_add=True)
    history = History()

    class Meta:
        ordering = ["mark"]
        constraints = [
            models.UniqueConstraint(fields=["motor", "mark"], name="sample_mark_is_unique")
        ]

    def __str__(self) -> str:
        return f"{self.motor} {self.mark}"


class Struck(Versioned):
    """A record that is never deleted: a mistake is struck out, with the reason."""

    struck_reason = models.CharField(max_length=200, blank=True)
    note = models.TextField(blank=True)
    noted_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )

    class Meta:
        abstract = True


class Weighing(Struck):
    """One reading of a scale, as it was: nothing is taken off it.

    ``resolution_g`` is the scale's last digit; ``lead_length_mm`` the leads at that time.
    """

    sample = models.ForeignKey(Sample, on_delete=models.PROTECT, related_name="weighings")
    mass_g = models.FloatField()
    resolution_g = models.FloatField()
    lead_length_mm = models.FloatField(null=True, blank=True)
    nut_on = models.BooleanField(default=False)
    connectors_on = models.BooleanField(default=False)
    instrument = models.CharField(max_length=60, blank=True)
    typed = models.CharField(max_length=40, blank=True)
    """The number as it was typed, where it was in another unit."""
    weighed_on = models.DateField()
    history = History()

    class Meta:
        ordering = ["weighed_on", "pk"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(
                    mass_g__gte=0.5, mass_g__lte=2000, resolution_g__gt=0, resolution_g__lte=10
                ),
                name="weighing_is_possible",
            ),
            models.CheckConstraint(
                condition=models.Q(lead_length_mm__isnull=True)
                | models.Q(lead_length_mm__gte=0, lead_length_mm__lte=600),
                name="weighed_leads_are_possible",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.sample}: {self.mass_g:g} g"


class Preparation(Struck):
    """Something done to a sample that cannot be undone, on a date."""

    sample = models.ForeignKey(Sample, on_delete=models.PROTECT, related_name="preparations")
    kind = WordField(max_length=16, choices=PREPARATIONS)
    done_on = models.DateField()
    lead_length_mm = models.FloatField(null=True, blank=True)
    history = History()

    class Meta:
        ordering = ["done_on", "pk"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(lead_length_mm__isnull=True)
                | models.Q(lead_length_mm__gte=0, lead_length_mm__lte=600),
                name="prepared_leads_are_possible",
            ),
            models.CheckConstraint(
                condition=~models.Q(kind="leads_cut") | models.Q(lead_length_mm__isnull=False),
                name="cut_leads_have_a_length",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.sample}: {self.get_kind_display()}"


class Incident(Struck):
    """Something that went wrong with a sample, on a date."""

    sample = models.ForeignKey(Sample, on_delete=models.PROTECT, related_name="incidents")
    kind = WordField(max_length=16, choices=INCIDENTS)
    happened_on = models.DateField()
    destroyed = models.BooleanField(default=False)
    history = History()

    class Meta:
        ordering = ["happened_on", "pk"]

    def __str__(self) -> str:
        return f"{self.sample}: {self.get_kind_display()}"


class ClaimedLoad(Versioned):
    """What a source states of a motor on one propeller and so many cells; figures null where it
    states none."""

    motor = models.ForeignKey(MotorModel, on_delete=models.CASCADE, related_name="claimed_loads")
    source = models.CharField(max_length=120)
    cells = models.PositiveSmallIntegerField()
    propeller = models.CharField(max_length=80)
    """As the source writes it."""
    thrust_gf = models.FloatField(null=True, blank=True)
    current_a = models.FloatField(null=True, blank=True)
    power_w = models.FloatField(null=True, blank=True)
    stated_on = models.DateField(null=True, blank=True)
    noted_at = models.DateTimeField(auto_now=True)
    history = History()

    class Meta:
        ordering = ["source", "propeller", "cells", "pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["motor", "source", "cells", "propeller"], name="claimed_load_once"
            ),
            models.CheckConstraint(
                condition=models.Q(thrust_gf__gt=0)
                | models.Q(current_a__gt=0)
                | models.Q(power_w__gt=0),
                name="claimed_load_says_something",
            ),
            models.CheckConstraint(
                condition=~models.Q(source="") & ~models.Q(propeller=""),
                name="claimed_load_has_a_source",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.cells} cells, {self.propeller} ({self.source})"


INSULATION_CHOICES = list(INSULATIONS.items())


class LeadWire(Versioned):
    """What a metre of one lead weighs on this bench, by gauge and insulation [g/m].

    ``u_g_per_m`` null: nobody said how well it is known.
    """

    gauge = models.PositiveSmallIntegerField()
    insulation = WordField(max_length=10, choices=INSULATION_CHOICES)
    g_per_m = models.FloatField()
    u_g_per_m = models.FloatField(null=True, blank=True)
    note = models.CharField(max_length=200, blank=True)
    history = History()

    class Meta:
        ordering = ["gauge", "insulation"]
        verbose_name = "lead"
        constraints = [
            models.UniqueConstraint(fields=["gauge", "insulation"], name="lead_once"),
            models.CheckConstraint(
                condition=models.Q(gauge__gte=10, gauge__lte=34, g_per_m__gt=0)
                & (models.Q(u_g_per_m__isnull=True) | models.Q(u_g_per_m__gte=0)),
                name="lead_is_possible",
            ),
        ]

    def __str__(self) -> str:
        return f"AWG {self.gauge}, {INSULATIONS[self.insulation]}"


class Expectation(models.Model):
    """What a reviewer expects before the first run; dated, never changed, held against the
    result."""

    motor = models.ForeignKey(MotorModel, on_delete=models.PROTECT, related_name="expectations")
    quantity = WordField(max_length=16, choices=EXPECTED_OF, blank=True)
    value = models.FloatField(null=True, blank=True)
    text = models.TextField(blank=True)
    noted_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    noted_at = models.DateTimeField(auto_now_add=True)
    history = History()

    class Meta:
        ordering = ["noted_at", "pk"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(quantity="", value__isnull=True) & ~models.Q(text="")
                | ~models.Q(quantity="") & models.Q(value__isnull=False, value__gt=0),
                name="expectation_says_something",
            )
        ]

    def __str__(self) -> str:
        return f"{self.motor}: {self.quantity or self.text[:40]}"


class Claim(Versioned):
    """A number or words that somebody states about a motor, with the source."""

    motor = models.ForeignKey(MotorModel, on_delete=models.CASCADE, related_name="claims")
    quantity = WordField(max_length=24, choices=CLAIM_CHOICES)
    value = models.FloatField(null=True, blank=True)
    words = models.CharField(max_length=80, blank=True)
    source = models.CharField(max_length=120)
    stated_on = models.DateField(null=True, blank=True)
    """When the source says it, where that is known: a maker corrects himself."""
    noted_at = models.DateTimeField(auto_now=True)
    history = History()

    class Meta:
        ordering = ["quantity", "source"]
        constraints = [
            models.UniqueConstraint(
                fields=["motor", "quantity", "source"], name="claim_is_unique_per_source"
            ),
            models.CheckConstraint(
                condition=models.Q(value__isnull=False, value__gt=0, words="")
                | models.Q(value__isnull=True) & ~models.Q(words=""),
                name="claim_is_a_number_or_words",
            ),
            models.CheckConstraint(condition=~models.Q(source=""), name="claim_has_a_source"),
        ]

    def __str__(self) -> str:
        said = self.words if self.value is None else f"{self.value:g}"
        return f"{self.quantity} {said} ({self.source})"


MERGED_THINGS = [("maker", "Maker"), ("motor", "Motor"), ("propeller", "Propeller")]


class Merged(models.Model):
    """Something that was on the bench twice and is now part of another. What it was called, and
    the marks of its samples, are still found under the other; its histories keep its number."""

    thing = WordField(max_length=10, choices=MERGED_THINGS)
    gone = models.PositiveBigIntegerField()
    gone_name = models.CharField(max_length=160)
    stays = models.PositiveBigIntegerField()
    marks = models.JSONField(default=dict)
    """Of a motor's samples, as they were → as they are."""
    merged_at = models.DateTimeField(auto_now_add=True)
    history = History()

    class Meta:
        ordering = ["-merged_at", "-pk"]
        verbose_name_plural = "merged"
        constraints = [models.UniqueConstraint(fields=["thing", "gone"], name="merged_once")]
        indexes = [models.Index(fields=["thing", "stays"], name="merged_into")]

    def __str__(self) -> str:
        return f"{self.thing} {self.gone_name}"
