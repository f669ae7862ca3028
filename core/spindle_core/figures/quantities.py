"""What is recorded and what follows from it: names, words and units, said once for everybody.

A name ends in its unit; the same name is used in files, in the database, in the API and on the
screen. Of a recorded channel ``low`` and ``high`` bound what a sensor of a small-motor bench can
report: outside them a value is impossible data, not merely unusual.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final


@dataclass(frozen=True, slots=True)
class Quantity:
    """A figure by name, in words, with its printed unit (empty: a number without one)."""

    name: str
    label: str
    unit: str

    @property
    def head(self) -> str:
        """As a column's head: ``Thrust (gf)``."""
        return f"{self.label} ({self.unit})" if self.unit else self.label


@dataclass(frozen=True, slots=True)
class Channel(Quantity):
    """A recorded quantity; ``low`` and ``high`` in its unit."""

    low: float
    high: float
    tared: bool = False


_CHANNELS: Final = (
    Channel("throttle_pct", "Throttle", "%", 0.0, 100.0),
    Channel("duty", "Duty", "", 0.0, 1.0),
    Channel("thrust_gf", "Thrust", "gf", -50_000.0, 50_000.0, tared=True),
    Channel("torque_nm", "Torque", "N·m", -50.0, 50.0, tared=True),
    Channel("voltage_v", "Voltage", "V", 0.0, 120.0),
    Channel("current_a", "Current", "A", -50.0, 1_000.0),
    Channel("power_w", "Power", "W", -500.0, 50_000.0),
    Channel("speed_rpm", "Speed", "rpm", 0.0, 300_000.0),
    Channel("motor_temp_c", "Motor temperature", "°C", -60.0, 400.0),
    Channel("motor_temp_before_c", "Motor temperature before", "°C", -60.0, 400.0),
    Channel("ambient_temp_c", "Air temperature", "°C", -60.0, 80.0),
    Channel("vibration_g", "Vibration", "g", 0.0, 500.0),
)

CHANNELS: Final[dict[str, Channel]] = {channel.name: channel for channel in _CHANNELS}
TIME_COLUMN: Final = "time_s"

_DERIVED: Final = (
    Quantity("time_s", "Time", "s"),
    Quantity("mass_g", "Mass", "g"),
    Quantity("efficiency_g_per_w", "Thrust per power", "gf/W"),
    Quantity("shaft_power_w", "Shaft power", "W"),
    Quantity("motor_esc_efficiency_pct", "Motor + ESC efficiency", "%"),
    Quantity("max_thrust_gf", "Largest thrust", "gf"),
    Quantity("max_current_a", "Largest current", "A"),
    Quantity("max_power_w", "Largest power", "W"),
    Quantity("efficiency_at_max_g_per_w", "gf/W at the largest thrust", "gf/W"),
    Quantity("best_efficiency_g_per_w", "Best gf/W", "gf/W"),
    Quantity("best_efficiency_thrust_gf", "Thrust of the best gf/W", "gf"),
    Quantity("low_throttle_slope_gf_per_pct", "Low-throttle slope", "gf/%"),
    Quantity("low_throttle_ratio", "Low-throttle ratio", ""),
    Quantity("top_end_ratio", "Top-end ratio", ""),
    Quantity("tare_drift_gf", "Zero drift", "gf"),
    Quantity("burst_thrust_gf", "Thrust, burst", "gf"),
    Quantity("burst_current_a", "Current, burst", "A"),
    Quantity("burst_power_w", "Power, burst", "W"),
    Quantity("burst_speed_rpm", "Speed, burst", "rpm"),
    Quantity("burst_torque_nm", "Torque, burst", "N·m"),
    Quantity("sustained_thrust_gf", "Thrust, sustained", "gf"),
    Quantity("sustained_current_a", "Current, sustained", "A"),
    Quantity("sustained_power_w", "Power, sustained", "W"),
    Quantity("sustained_speed_rpm", "Speed, sustained", "rpm"),
    Quantity("sustained_torque_nm", "Torque, sustained", "N·m"),
    Quantity("sustained_voltage_v", "Voltage, sustained", "V"),
    Quantity("sustained_efficiency_g_per_w", "gf/W, sustained", "gf/W"),
    Quantity("half_bursts", "Bursts at half throttle", ""),
    Quantity("half_thrust_gf", "Thrust, half throttle", "gf"),
    Quantity("half_current_a", "Current, half throttle", "A"),
    Quantity("half_power_w", "Power, half throttle", "W"),
    Quantity("half_speed_rpm", "Speed, half throttle", "rpm"),
    Quantity("half_efficiency_g_per_w", "gf/W, half throttle", "gf/W"),
    Quantity("burst_thrust_at_s", "Burst of thrust after", "s"),
    Quantity("burst_current_at_s", "Burst of current after", "s"),
    Quantity("burst_power_at_s", "Burst of power after", "s"),
    Quantity("burst_speed_at_s", "Burst of speed after", "s"),
    Quantity("burst_torque_at_s", "Burst of torque after", "s"),
    Quantity("burst_motor_temp_c", "Hottest in a burst", "°C"),
    Quantity("burst_motor_temp_at_s", "Hottest in a burst after", "s"),
    Quantity("sustained_motor_temp_c", "Motor temperature, sustained", "°C"),
    Quantity("energy_kj", "Energy put in", "kJ"),
    Quantity("targets", "Wanted thrusts", ""),
    Quantity("targets_reached", "Of these reached", ""),
    Quantity("lowest_voltage_v", "Lowest voltage", "V"),
    Quantity("bursts", "Bursts", ""),
    Quantity("target_thrust_gf", "Wanted thrust", "gf"),
    Quantity("kv_raw_rpm_per_v", "kV, raw", "rpm/V"),
    Quantity("kv_rpm_per_v", "kV", "rpm/V"),
    Quantity("no_load_current_a", "No-load current", "A"),
    Quantity("no_load_slope_a_per_rpm", "No-load current over speed", "A/rpm"),
    Quantity("resistance_ohm", "Effective resistance", "Ω"),
    Quantity("kt_nm_per_a", "Kt from torque", "N·m/A"),
    Quantity("ct", "CT", ""),
    Quantity("cp", "CP", ""),
    Quantity("ct_exponent", "CT over speed, exponent", ""),
    Quantity("cp_exponent", "CP over speed, exponent", ""),
    Quantity("peak_torque_nm", "Peak torque", "N·m"),
    Quantity("speed_at_peak_torque_rpm", "Speed at peak torque", "rpm"),
    Quantity("spin_up_time_s", "Spin-up time", "s"),
    Quantity("zero_torque_speed_rpm", "Speed at zero torque", "rpm"),
    Quantity("energy_j", "Energy", "J"),
    Quantity("accel_rpm_per_s", "Speeds up at", "rpm/s"),
    Quantity("decel_rpm_per_s", "Slows down at", "rpm/s"),
    Quantity("rise_time_s", "Rise time, 10–90 %", "s"),
    Quantity("fall_time_s", "Fall time, 90–10 %", "s"),
    Quantity("dead_time_s", "Dead time, up", "s"),
    Quantity("dead_time_down_s", "Dead time, down", "s"),
    Quantity("from_throttle_pct", "From throttle", "%"),
    Quantity("to_throttle_pct", "To throttle", "%"),
    Quantity("cycles", "Cycles", ""),
    Quantity("rise_k", "Rise of the case", "K"),
    Quantity("rise_k_per_kj", "Rise per energy", "K/kJ"),
    Quantity("held_pct", "Sustained of burst", "%"),
    Quantity("falling_nm_per_krpm", "Fall of torque", "N·m per 1,000 rpm"),
    Quantity("kv_off_label_pct", "kV against its label", "%"),
    Quantity("case_at_stop_c", "Case at the stop", "°C"),
    Quantity("peak_after_stop_c", "Hottest after the stop", "°C"),
    Quantity("peak_after_stop_s", "Hottest so long after the stop", "s"),
    Quantity("case_time_constant_s", "Time constant of cooling", "s"),
    Quantity("winding_at_stop_c", "Winding at the stop", "°C"),
    Quantity("winding_over_case_k_per_w", "Winding above case per loss", "K/W"),
    Quantity("case_k_per_w", "Case above air per loss", "K/W"),
    Quantity("continuous_power_w", "Continuous power", "W"),
    Quantity("thrust_gf_lag_s", "Lag of the thrust sensor", "s"),
    Quantity("torque_nm_lag_s", "Lag of the torque sensor", "s"),
    Quantity("speed_rpm_lag_s", "Lag of the speed sensor", "s"),
    Quantity("voltage_v_lag_s", "Lag of the voltage sensor", "s"),
    Quantity("current_a_lag_s", "Lag of the current sensor", "s"),
    Quantity("power_w_lag_s", "Lag of the power meter", "s"),
    Quantity("vibration_g_lag_s", "Lag of the vibration sensor", "s"),
)

QUANTITIES: Final[dict[str, Quantity]] = {
    quantity.name: quantity for quantity in (*_CHANNELS, *_DERIVED)
}
"""Every figure that a screen or a file may name."""
