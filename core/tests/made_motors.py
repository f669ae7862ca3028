"""Motors that nobody built, on propellers and supplies of every size, and what they truly do."""

from spindle_core.model.operating_point import Motor, Propeller, solve

TOLD = (
    "thrust_gf",
    "power_w",
    "current_a",
    "speed_rpm",
    "shaft_power_w",
    "efficiency_g_per_w",
    "motor_efficiency_pct",
)
VOLTS = {3: 12.0, 5: 16.0, 7: 24.0}


class Made:
    """A motor on a propeller that warms as it runs; what it does at a duty in per cent."""

    def __init__(self, rng):
        inches = int(rng.choice([3, 5, 5, 7]))
        self.volts = VOLTS[inches]
        self.kv = {3: 3500, 5: 2300, 7: 1300}[inches] * rng.uniform(0.8, 1.25)
        self.ohm = rng.uniform(0.03, 0.12) * 2300 / self.kv
        self.no_load = rng.uniform(0.4, 1.8), rng.uniform(0.0, 3e-5)
        self.propeller = Propeller(inches, rng.uniform(0.09, 0.16), rng.uniform(0.04, 0.08))
        self.pack_ohm = float(rng.choice([0.0, 0.004, 0.02]))
        self.k_per_w = float(rng.choice([0.0, 0.05, 0.15]))

    def at(self, duty_pct):
        ohm = self.ohm
        for _ in range(6):
            found = solve(
                Motor(self.kv, ohm, *self.no_load),
                self.propeller,
                voltage_v=self.volts,
                duty=duty_pct / 100.0,
                pack_resistance_ohm=self.pack_ohm,
            )
            rise = self.k_per_w * found.motor_current_a**2 * ohm
            ohm = self.ohm * (1.0 + 0.0039 * rise)
        return {name: getattr(found, name) for name in TOLD} | {"throttle_pct": float(duty_pct)}
