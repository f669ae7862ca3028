"""The motor file and the fit checks as JSON."""

from __future__ import annotations

from rest_framework import serializers

from spindle_server.motor_file.fit import FIT_OUTCOMES
from spindle_server.motors.record_serializers import (
    IncidentSerializer,
    PreparationSerializer,
    WeighingSerializer,
)
from spindle_server.motors.serializers import (
    ClaimSerializer,
    MotorSerializer,
    ParcelWithPartsSerializer,
    SizeReadingSerializer,
)
from spindle_server.runs.stated import StatedFigureSerializer


class RemarkSerializer(serializers.Serializer):
    """Something the claims say about each other."""

    code = serializers.CharField()
    state = serializers.ChoiceField(["fits", "odd", "missing"])
    message = serializers.CharField()


class PriceSerializer(serializers.Serializer):
    """Price of one motor; null with the reason."""

    amount = serializers.FloatField(allow_null=True)
    currency = serializers.CharField(allow_blank=True)
    basis = serializers.CharField()
    guessed = serializers.BooleanField()


class PartFindingSerializer(serializers.Serializer):
    """The box against what a builder needs."""

    code = serializers.CharField()
    state = serializers.ChoiceField(["good", "caution", "missing", "unknown"])
    message = serializers.CharField()


class ParcelOnFileSerializer(serializers.Serializer):
    """A parcel with what follows from it."""

    parcel = ParcelWithPartsSerializer()
    samples = serializers.ListField(child=serializers.CharField())
    price = PriceSerializer()
    findings = PartFindingSerializer(many=True)


class SampleMassSerializer(serializers.Serializer):
    """One sample on the scale: raw weighings, and its mass at the declared lead length."""

    sample = serializers.IntegerField()
    mark = serializers.CharField()
    weighings = WeighingSerializer(many=True)
    preparations = PreparationSerializer(many=True)
    mass_g = StatedFigureSerializer()
    lead_g_per_m = StatedFigureSerializer()
    lead_from = serializers.CharField(allow_blank=True)
    used = serializers.IntegerField(allow_null=True)
    remarks = serializers.ListField(child=serializers.CharField())


class SpreadSerializer(serializers.Serializer):
    """Samples side by side."""

    mean = serializers.FloatField()
    s = serializers.FloatField()
    widest = serializers.FloatField()
    n = serializers.IntegerField()
    resolved = serializers.BooleanField()


class MassesSerializer(serializers.Serializer):
    """All samples at one lead length."""

    lead_length_mm = serializers.FloatField()
    samples = SampleMassSerializer(many=True)
    spread = SpreadSerializer(allow_null=True)


class AgainstSerializer(serializers.Serializer):
    """A number that was said, and what was measured."""

    quantity = serializers.CharField()
    label = serializers.CharField()
    unit = serializers.CharField()
    said = serializers.FloatField()
    source = serializers.CharField()
    stated_on = serializers.DateField(allow_null=True)
    measured = StatedFigureSerializer()
    measured_from = serializers.CharField(allow_blank=True)
    deviation_pct = StatedFigureSerializer()
    resolved = serializers.BooleanField()
    reached_pct = StatedFigureSerializer()


class LoadFigureSerializer(serializers.Serializer):
    """One figure that is stated of a load, and what was measured on it."""

    name = serializers.CharField()
    label = serializers.CharField()
    unit = serializers.CharField()
    said = serializers.FloatField()
    measured = StatedFigureSerializer()
    measured_from = serializers.CharField(allow_blank=True)
    deviation_pct = StatedFigureSerializer()
    resolved = serializers.BooleanField()


class LoadOnFileSerializer(serializers.Serializer):
    """A row of a maker's table; ``odd``: what of it cannot be as it is stated."""

    id = serializers.IntegerField()
    version = serializers.IntegerField()
    source = serializers.CharField()
    stated_on = serializers.DateField(allow_null=True)
    cells = serializers.IntegerField()
    propeller = serializers.CharField()
    odd = serializers.ListField(child=serializers.CharField())
    figures = LoadFigureSerializer(many=True)


class ForeseenStatedSerializer(serializers.Serializer):
    """A stated figure as the model foresees it; ``off_pct``: foreseen against stated."""

    name = serializers.CharField()
    foreseen = StatedFigureSerializer()
    off_pct = StatedFigureSerializer()
    differs = serializers.BooleanField()


class ForeseenLoadSerializer(serializers.Serializer):
    """A row of a maker's table as the model foresees it, from what, or why not."""

    id = serializers.IntegerField()
    rests_on = serializers.CharField(allow_blank=True)
    why_not = serializers.CharField(allow_blank=True)
    figures = ForeseenStatedSerializer(many=True)


class KeyFigureSerializer(serializers.Serializer):
    """A figure that a motor is known by, and what it rests on."""

    quantity = serializers.CharField()
    measured = StatedFigureSerializer()
    rests_on = serializers.CharField(allow_blank=True)


class ExpectationOnFileSerializer(serializers.Serializer):
    """An expectation and what came of it."""

    id = serializers.IntegerField()
    text = serializers.CharField(allow_blank=True)
    noted_at = serializers.DateTimeField()
    who = serializers.CharField(allow_blank=True)
    held_against = AgainstSerializer(allow_null=True)


class TraitsSerializer(serializers.Serializer):
    """What motors are compared by as peers."""

    stator_volume_mm3 = serializers.FloatField(required=False)
    mass_g = serializers.FloatField(required=False)
    kv_rpm_per_v = serializers.FloatField(required=False)
    price = serializers.FloatField(required=False)


class PeerSerializer(serializers.Serializer):
    """A near motor; its distance is 1 at the edge of being one."""

    motor = serializers.IntegerField()
    full_name = serializers.CharField()
    distance = serializers.FloatField()
    compared = serializers.ListField(child=serializers.CharField())
    traits = TraitsSerializer()
    mass_weighed = serializers.BooleanField(help_text="Measured; else the mass is claimed.")


class ChangedFieldSerializer(serializers.Serializer):
    """One field of a change."""

    field = serializers.CharField()
    before = serializers.CharField()
    after = serializers.CharField()


class ChangeSerializer(serializers.Serializer):
    """One change to a fact."""

    what = serializers.CharField()
    at = serializers.DateTimeField()
    who = serializers.CharField()
    kind = serializers.CharField()
    changed = ChangedFieldSerializer(many=True)


class FamilySerializer(serializers.Serializer):
    """Another wind or size of the family, and its samples."""

    id = serializers.IntegerField()
    full_name = serializers.CharField()


class MotorFileSerializer(serializers.Serializer):
    """Everything on file about a motor but its runs, observations and photos."""

    motor = MotorSerializer()
    size = SizeReadingSerializer(allow_null=True)
    claims = ClaimSerializer(many=True)
    remarks = RemarkSerializer(many=True)
    open_points = serializers.ListField(child=serializers.CharField())
    parcels = ParcelOnFileSerializer(many=True)
    masses = MassesSerializer()
    incidents = IncidentSerializer(many=True)
    against_claims = AgainstSerializer(many=True)
    claimed_loads = LoadOnFileSerializer(many=True)
    key_figures = KeyFigureSerializer(many=True)
    expectations = ExpectationOnFileSerializer(many=True)
    peers = PeerSerializer(many=True)
    family = FamilySerializer(many=True)
    changes = ChangeSerializer(many=True)


class SmallCurveSerializer(serializers.Serializer):
    """A curve that is drawn small."""

    thrust_gf = serializers.ListField(child=serializers.FloatField())
    efficiency_g_per_w = serializers.ListField(child=serializers.FloatField())


class OnPropellerSerializer(serializers.Serializer):
    """Like runs on one propeller and voltage."""

    propeller = serializers.CharField()
    supply = serializers.CharField(allow_blank=True)
    nominal_voltage_v = serializers.FloatField(allow_null=True)
    runs = serializers.ListField(child=serializers.IntegerField())
    largest_thrust_gf = StatedFigureSerializer()
    efficiency_g_per_w = StatedFigureSerializer(help_text="At the common thrust.")
    curve = SmallCurveSerializer(allow_null=True)


class HeatFigureSerializer(serializers.Serializer):
    """How warm it gets, by the newest run that says so."""

    name = serializers.CharField()
    run = serializers.IntegerField()
    figure = StatedFigureSerializer()


class PerformanceSerializer(serializers.Serializer):
    """What a motor does on each propeller, and its heat."""

    common_thrust_gf = serializers.FloatField(allow_null=True)
    propellers = OnPropellerSerializer(many=True)
    heat = HeatFigureSerializer(many=True)


class ScrewFitSerializer(serializers.Serializer):
    """One mounting screw through the arm."""

    length_mm = serializers.FloatField()
    in_box = serializers.BooleanField()
    outcome = serializers.ChoiceField(
        ["hits_winding", "may_touch", "past_thread", "too_short", "good", "unknown"]
    )
    reach_mm = serializers.FloatField(allow_null=True)
    engagement_mm = serializers.FloatField(allow_null=True)
    room_mm = serializers.FloatField(allow_null=True)
    message = serializers.CharField()


class LeadFitSerializer(serializers.Serializer):
    """Whether the leads reach."""

    length_mm = serializers.FloatField(allow_null=True)
    needed_mm = serializers.FloatField(allow_null=True)
    state = serializers.CharField()
    message = serializers.CharField()


class ShaftSerializer(serializers.Serializer):
    """The shaft as measured [mm]."""

    diameter_mm = serializers.FloatField(allow_null=True)
    free_length_mm = serializers.FloatField(allow_null=True)
    nut_mm = serializers.FloatField(allow_null=True)
    washer_mm = serializers.FloatField(allow_null=True)
    hole_circle_mm = serializers.FloatField(allow_null=True)
    screw_mm = serializers.FloatField(allow_null=True)
    side = serializers.CharField(allow_blank=True)
    hold = serializers.CharField(allow_blank=True)


class CarriedOnSerializer(serializers.Serializer):
    """What the propeller sits on [mm]: the motor's shaft, or the stud of an adapter."""

    diameter_mm = serializers.FloatField()
    free_length_mm = serializers.FloatField()
    nut_mm = serializers.FloatField()
    washer_mm = serializers.FloatField()
    hole_circle_mm = serializers.FloatField(allow_null=True)
    screw_mm = serializers.FloatField(allow_null=True)


class RingSerializer(serializers.Serializer):
    """An adapter ring of the stack, from the shaft outward."""

    inner_mm = serializers.FloatField()
    outer_mm = serializers.FloatField()
    height_mm = serializers.FloatField()


class FitFindingSerializer(serializers.Serializer):
    """One thing about the fit."""

    code = serializers.CharField()
    state = serializers.CharField()
    message = serializers.CharField()


class PropellerFitSerializer(serializers.Serializer):
    """One propeller of the library on this shaft."""

    propeller = serializers.IntegerField()
    name = serializers.CharField()
    bore_mm = serializers.FloatField(allow_null=True)
    hub_thickness_mm = serializers.FloatField(allow_null=True)
    hole_circle_mm = serializers.FloatField(allow_null=True)
    hole_mm = serializers.FloatField(allow_null=True)
    outcome = serializers.ChoiceField(FIT_OUTCOMES)
    reason = serializers.CharField(allow_blank=True)
    rings = RingSerializer(many=True)
    adapter = serializers.CharField(allow_blank=True)
    on = CarriedOnSerializer(allow_null=True)
    findings = FitFindingSerializer(many=True)


class FitSerializer(serializers.Serializer):
    """Screws, leads and propellers against the motor."""

    arm_thickness_mm = serializers.FloatField()
    thread_depth_mm = serializers.FloatField(allow_null=True)
    clearance_mm = serializers.FloatField(allow_null=True)
    base_thickness_mm = serializers.FloatField(allow_null=True)
    mount_thread_mm = serializers.FloatField(allow_null=True)
    screws = ScrewFitSerializer(many=True)
    leads = LeadFitSerializer()
    shaft = ShaftSerializer()
    adapters_at_hand = serializers.IntegerField()
    propellers = PropellerFitSerializer(many=True)


class AskedFitSerializer(serializers.Serializer):
    """What a fit is asked for [mm]."""

    sample = serializers.IntegerField(required=False, default=None)
    arm_thickness_mm = serializers.FloatField(
        min_value=0.5, max_value=30, required=False, default=None
    )
    screw_length_mm = serializers.FloatField(
        min_value=1, max_value=60, required=False, default=None
    )
    washer_mm = serializers.FloatField(min_value=0, max_value=5, required=False, default=0.0)
    lead_needed_mm = serializers.FloatField(
        min_value=1, max_value=600, required=False, default=None
    )


class AskedPeersSerializer(serializers.Serializer):
    """What a motor is like that has no file yet."""

    size_code = serializers.CharField(max_length=12, required=False, default="")
    size_basis = serializers.ChoiceField(
        ["stator", "outer_can", "case"], required=False, default=None
    )
    kv_rpm_per_v = serializers.FloatField(
        min_value=1, max_value=99_999, required=False, default=None
    )
    mass_g = serializers.FloatField(min_value=0.5, max_value=2000, required=False, default=None)
    price = serializers.FloatField(min_value=0.01, max_value=100_000, required=False, default=None)
    currency = serializers.CharField(max_length=3, required=False, default="")
