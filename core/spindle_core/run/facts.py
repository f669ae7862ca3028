"""What is known about a run besides its samples: the preamble of a log as typed facts."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from spindle_core.figures.measured import Absent
from spindle_core.model.air import air_density_kg_per_m3
from spindle_core.run.typed_cells import Doubt, read_doubts

UNKNOWN_HUMIDITY_PCT = 50.0
"""What counts where nobody noted the humidity: half, not none."""


@dataclass(frozen=True, slots=True)
class RunFacts:
    """Facts of one run; None or '' where it was not said. Names carry their units.

    ``esc_linear``: whether the ESC is declared to turn throttle into duty linearly.
    ``readings_are``: ``held``, all figures of a row at one instant, or ``maxima``, each at its own
    (lowest volts, highest amps, watts and thrust of a meter that keeps them); '' counts as held.
    ``readings_averaged``: whether readings at one throttle, one after the other, are bursts of one
    point. ``cells``: what its typed cells say besides their numbers.
    ``resistance_ohm``: effective resistance of the motor with leads and ESC [Ω], with its u where
    that is known; ``resistance_from``: whose it is, where it is not the motor's own.
    """

    motor: str = ""
    sample: str = ""
    propeller: str = ""
    prop_diameter_in: float | None = None
    prop_pitch_in: float | None = None
    prop_blades: float | None = None
    supply: str = ""
    nominal_voltage_v: float | None = None
    esc_linear: bool | None = None
    air_temp_c: float | None = None
    air_pressure_hpa: float | None = None
    air_humidity_pct: float | None = None
    inertia_kg_mm2: float | None = None
    pole_count: float | None = None
    inertia_u_kg_mm2: float | None = None
    resistance_ohm: float | None = None
    resistance_u_ohm: float | None = None
    resistance_from: str = ""
    no_load_current_a: float | None = None
    winding_ceiling_c: float | None = None
    spin_up_from_rpm: float | None = None
    spin_up_to_rpm: float | None = None
    half_bursts: float | None = None
    target_thrust_gf: tuple[float, ...] = ()
    stand: str = ""
    esc: str = ""
    esc_settings: str = ""
    lead_length_mm: float | None = None
    readings_are: str = ""
    readings_averaged: bool = False
    cells: tuple[Doubt, ...] = ()

    @property
    def motor_key(self) -> str:
        """Motor and sample as one name; '' when neither was said."""
        return f"{self.motor} {self.sample}".strip()

    def air_density(self) -> float | Absent:
        """Density of the air of the run [kg/m³]; humidity counts as 50 % where it was not said.

        Between dry and saturated air at 20 °C lies 0.9 % of density, so the half is within
        ±0.45 %. Without temperature and pressure the density is absent.
        """
        if self.air_temp_c is None or self.air_pressure_hpa is None:
            return Absent("air_unknown", "needs air temperature and pressure")
        humidity = self.air_humidity_pct
        humidity = UNKNOWN_HUMIDITY_PCT if humidity is None else humidity
        return air_density_kg_per_m3(
            self.air_temp_c, pressure_hpa=self.air_pressure_hpa, humidity_pct=humidity
        )


_NUMBERS = (
    "prop_diameter_in",
    "prop_pitch_in",
    "prop_blades",
    "nominal_voltage_v",
    "air_temp_c",
    "air_pressure_hpa",
    "air_humidity_pct",
    "inertia_kg_mm2",
    "inertia_u_kg_mm2",
    "pole_count",
    "resistance_ohm",
    "resistance_u_ohm",
    "no_load_current_a",
    "winding_ceiling_c",
    "spin_up_from_rpm",
    "spin_up_to_rpm",
    "half_bursts",
    "lead_length_mm",
)
WORD_KEYS = (
    "motor",
    "sample",
    "propeller",
    "supply",
    "stand",
    "esc",
    "esc_settings",
    "readings_are",
    "resistance_from",
)


def facts_from_header(header: Mapping[str, str]) -> RunFacts:
    """Facts from preamble keys whose values were checked when the log was read."""
    numbers = {key: float(header[key]) for key in _NUMBERS if header.get(key)}
    words = {key: header.get(key, "") for key in WORD_KEYS}
    targets = header.get("target_thrust_gf", "").replace(",", " ").replace(";", " ").split()
    linear = {"yes": True, "no": False}.get(header.get("esc_linear", ""))
    return RunFacts(
        **numbers,  # type: ignore[arg-type]
        **words,  # type: ignore[arg-type]
        esc_linear=linear,
        target_thrust_gf=tuple(float(part) for part in targets),
        readings_averaged=header.get("readings_averaged") == "yes",
        cells=read_doubts(header.get("cells", "")),
    )
