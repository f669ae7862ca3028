"""One bench day drawn at random: its motors, propellers, stand and air, and its runs played."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from spindle_bench.stand import script, world
from spindle_bench.stand.physics import Mounted, Physics, TrueMotor, TrueSupply
from spindle_bench.stand.sensors import RESOLUTION, Sensors
from spindle_core.model.air import air_density_kg_per_m3
from spindle_core.model.operating_point import Motor, Propeller
from spindle_core.model.propeller import estimate_coefficients
from spindle_core.run.facts import RunFacts
from spindle_core.run.stand import GRAVITY_RELATIVE_U, Stand
from spindle_core.run.trace import Trace

INERTIA_RELATIVE_U = 0.003

CALIBRATION = {
    "thrust_gf": 0.005,
    "torque_nm": 0.008,
    "voltage_v": 0.002,
    "current_a": 0.008,
    "speed_rpm": 0.0005,
}
"""What the drawn stands declare of their gains (relative standard uncertainty), and are."""

BENCHES: tuple[tuple[str, float, float, tuple[float, float, float]], ...] = (
    ("2206", 1900.0, 16.0, (5.1, 4.2, 3)),
    ("2105.5", 2650.0, 12.0, (5.0, 3.6, 3)),
    ("1505", 3600.0, 12.0, (4.0, 2.8, 3)),
    ("2807", 1250.0, 24.0, (7.0, 3.8, 3)),
    ("2306", 1800.0, 22.2, (5.1, 3.1, 2)),
)
"""Size code, kV, supply voltage [V] and propeller (diameter, pitch [in], blades)."""


class Day:
    """One bench day: what is drawn once for all its runs."""

    def __init__(self, seed: int) -> None:
        self.seed = seed
        rng = self.rng = np.random.default_rng(seed)
        size, kv, volts, (diameter, pitch, blades) = BENCHES[seed % len(BENCHES)]
        typical = world.typical_motor(size, kv)
        electrical = typical.electrical
        self.model = typical
        self.motor = TrueMotor(
            Motor(
                electrical.kv_rpm_per_v * rng.normal(1.0, 0.02),
                electrical.resistance_ohm * rng.normal(1.0, 0.04),
                electrical.no_load_current_a * rng.normal(1.0, 0.1),
                electrical.no_load_slope_a_per_rpm * rng.normal(1.0, 0.1),
            ),
            typical.inertia_kg_m2,
            typical.mass_g,
        )
        self.supply = TrueSupply(volts, 0.004)
        self.blades = blades
        self.propellers = {
            name: _propeller(diameter * share, pitch, int(blades), rng)
            for name, share in (("light", 0.86), ("heavy", 1.0))
        }
        self.ambient_c = float(rng.uniform(17.0, 26.0))
        pressure, humidity = float(rng.uniform(985.0, 1018.0)), float(rng.uniform(35.0, 65.0))
        self.density = air_density_kg_per_m3(
            self.ambient_c, pressure_hpa=pressure, humidity_pct=humidity
        )
        self.noted_air = {
            "air_temp_c": self.ambient_c + rng.normal(0.0, 0.5),
            "air_pressure_hpa": pressure + rng.normal(0.0, 1.0),
            "air_humidity_pct": humidity + rng.normal(0.0, 4.0),
        }
        self.gains = {name: float(rng.normal(1.0, u)) for name, u in CALIBRATION.items()}
        # A cell calibrated with weights reads forces in units of the local gravity.
        self.gravity = float(rng.normal(1.0, GRAVITY_RELATIVE_U))
        self.declared = Stand(calibration=CALIBRATION, resolution=RESOLUTION, name="drawn")

    def run(
        self,
        number: int,
        kind: str,
        throttle: script.Throttle,
        seconds: float,
        *,
        propeller: str = "",
        rate_hz: float = 200.0,
        inertia_kg_mm2: float | None = None,
        motor: TrueMotor | None = None,
        repeat: float = 0.0,
    ) -> tuple[script.Recording, Trace]:
        """Play one run from the cold.

        :param motor: another than the day's own. :param repeat: relative s of one run against
            the next, in thrust and in current.
        """
        turned = self.motor if motor is None else motor
        again = 1.0 + repeat * self.rng.standard_normal(2)
        prop = self.propellers.get(propeller)
        load = world.BARE_SHAFT_KG_M2
        if prop is not None:
            load = world.propeller_inertia_kg_m2(prop.diameter_in, int(self.blades))
        elif inertia_kg_mm2 is not None:
            load = inertia_kg_mm2 * 1e-6 - turned.inertia_kg_m2
        mounted = Mounted(turned, prop, load, self.supply, self.ambient_c, self.density)
        sensors = Sensors(
            1000 * self.seed + number,
            thrust_gain=self.gains["thrust_gf"] * self.gravity * again[0],
            thrust_zero_gf=14.0,
            thrust_drift_gf_per_s=float(self.rng.normal(0.0, 0.1)),
            torque_zero_nm=0.002,
            gains={
                name: gain * (again[1] if name == "current_a" else 1.0)
                for name, gain in self.gains.items()
                if name != "thrust_gf"
            },
            glitch_share=0.0005,
        )
        recording = script.record(Physics(mounted), sensors, throttle, seconds, rate_hz=rate_hz)
        facts = RunFacts(
            motor="drawn",
            sample=str(self.seed),
            propeller=propeller,
            prop_diameter_in=None if prop is None else prop.diameter_in,
            **self.noted_air,  # type: ignore[arg-type]
        )
        if inertia_kg_mm2 is not None:
            # A wheel's inertia is calculated or swung, and known to a third of a percent.
            u = INERTIA_RELATIVE_U * inertia_kg_mm2
            noted = inertia_kg_mm2 + u * float(self.rng.standard_normal())
            facts = replace(facts, inertia_kg_mm2=noted, inertia_u_kg_mm2=u)
        channels = dict(recording.channels)
        if prop is None:
            channels = {name: v for name, v in channels.items() if name != "thrust_gf"}
        return recording, Trace(recording.time_s, channels, kind, facts=facts, stand=self.declared)


def _propeller(
    diameter_in: float, pitch_in: float, blades: int, rng: np.random.Generator
) -> Propeller:
    estimate = estimate_coefficients(diameter_in, pitch_in, blades=blades)
    return Propeller(
        diameter_in, estimate.ct * rng.normal(1.0, 0.05), estimate.cp * rng.normal(1.0, 0.05)
    )
