/** The names of recorded and derived quantities, as they are printed. */
export interface Quantity {
  label: string
  unit: string
}

export const QUANTITIES: Record<string, Quantity> = {
  time_s: { label: 'Time', unit: 's' },
  throttle_pct: { label: 'Throttle', unit: '%' },
  thrust_gf: { label: 'Thrust', unit: 'gf' },
  torque_nm: { label: 'Torque', unit: 'N·m' },
  voltage_v: { label: 'Voltage', unit: 'V' },
  current_a: { label: 'Current', unit: 'A' },
  power_w: { label: 'Power', unit: 'W' },
  speed_rpm: { label: 'Speed', unit: 'rpm' },
  motor_temp_c: { label: 'Motor temperature', unit: '°C' },
  ambient_temp_c: { label: 'Air temperature', unit: '°C' },
  vibration_g: { label: 'Vibration', unit: 'g' },
  efficiency_g_per_w: { label: 'Thrust per power', unit: 'gf/W' },
  shaft_power_w: { label: 'Shaft power', unit: 'W' },
  motor_esc_efficiency_pct: { label: 'Motor + ESC efficiency', unit: '%' },
  max_thrust_gf: { label: 'Largest thrust', unit: 'gf' },
  max_current_a: { label: 'Largest current', unit: 'A' },
  max_power_w: { label: 'Largest power', unit: 'W' },
  efficiency_at_max_g_per_w: { label: 'gf/W at the largest thrust', unit: 'gf/W' },
  best_efficiency_g_per_w: { label: 'Best gf/W', unit: 'gf/W' },
  low_throttle_slope_gf_per_pct: { label: 'Low-throttle slope', unit: 'gf/%' },
  low_throttle_ratio: { label: 'Low-throttle ratio', unit: '' },
  top_end_ratio: { label: 'Top-end ratio', unit: '' },
  tare_drift_gf: { label: 'Zero drift', unit: 'gf' },
  duty: { label: 'Duty', unit: '' },
  burst_thrust_gf: { label: 'Thrust, burst', unit: 'gf' },
  burst_current_a: { label: 'Current, burst', unit: 'A' },
  burst_power_w: { label: 'Power, burst', unit: 'W' },
  burst_speed_rpm: { label: 'Speed, burst', unit: 'rpm' },
  burst_torque_nm: { label: 'Torque, burst', unit: 'N·m' },
  sustained_thrust_gf: { label: 'Thrust, sustained', unit: 'gf' },
  sustained_current_a: { label: 'Current, sustained', unit: 'A' },
  sustained_power_w: { label: 'Power, sustained', unit: 'W' },
  sustained_speed_rpm: { label: 'Speed, sustained', unit: 'rpm' },
  sustained_torque_nm: { label: 'Torque, sustained', unit: 'N·m' },
  sustained_voltage_v: { label: 'Voltage, sustained', unit: 'V' },
  sustained_efficiency_g_per_w: { label: 'gf/W, sustained', unit: 'gf/W' },
  burst_thrust_at_s: { label: 'Burst of thrust after', unit: 's' },
  burst_current_at_s: { label: 'Burst of current after', unit: 's' },
  burst_power_at_s: { label: 'Burst of power after', unit: 's' },
  burst_speed_at_s: { label: 'Burst of speed after', unit: 's' },
  burst_torque_at_s: { label: 'Burst of torque after', unit: 's' },
  burst_motor_temp_c: { label: 'Hottest in a burst', unit: '°C' },
  burst_motor_temp_at_s: { label: 'Hottest after', unit: 's' },
  sustained_motor_temp_c: { label: 'Motor temperature, sustained', unit: '°C' },
  energy_kj: { label: 'Energy put in', unit: 'kJ' },
  targets: { label: 'Wanted thrusts', unit: '' },
  targets_reached: { label: 'Of these reached', unit: '' },
  lowest_voltage_v: { label: 'Lowest voltage', unit: 'V' },
  bursts: { label: 'Bursts', unit: '' },
  target_thrust_gf: { label: 'Wanted thrust', unit: 'gf' },
  kv_raw_rpm_per_v: { label: 'kV, raw', unit: 'rpm/V' },
  kv_rpm_per_v: { label: 'kV', unit: 'rpm/V' },
  no_load_current_a: { label: 'No-load current', unit: 'A' },
  no_load_slope_a_per_rpm: { label: 'No-load current over speed', unit: 'A/rpm' },
  peak_torque_nm: { label: 'Peak torque', unit: 'N·m' },
  speed_at_peak_torque_rpm: { label: 'Speed at peak torque', unit: 'rpm' },
  spin_up_time_s: { label: 'Spin-up time', unit: 's' },
  zero_torque_speed_rpm: { label: 'Speed at zero torque', unit: 'rpm' },
  energy_j: { label: 'Energy', unit: 'J' },
  accel_rpm_per_s: { label: 'Speeds up at', unit: 'rpm/s' },
  decel_rpm_per_s: { label: 'Slows down at', unit: 'rpm/s' },
  rise_time_s: { label: 'Rise time, 10–90 %', unit: 's' },
  fall_time_s: { label: 'Fall time, 90–10 %', unit: 's' },
  dead_time_s: { label: 'Dead time, up', unit: 's' },
  dead_time_down_s: { label: 'Dead time, down', unit: 's' },
  from_throttle_pct: { label: 'From throttle', unit: '%' },
  to_throttle_pct: { label: 'To throttle', unit: '%' },
  cycles: { label: 'Cycles', unit: '' },
  rise_k: { label: 'Rise of the case', unit: 'K' },
  rise_k_per_kj: { label: 'Rise per energy', unit: 'K/kJ' },
  case_at_stop_c: { label: 'Case at the stop', unit: '°C' },
  peak_after_stop_c: { label: 'Hottest after the stop', unit: '°C' },
  peak_after_stop_s: { label: 'Hottest after', unit: 's' },
  case_time_constant_s: { label: 'Time constant of cooling', unit: 's' },
  winding_at_stop_c: { label: 'Winding at the stop', unit: '°C' },
  winding_over_case_k_per_w: { label: 'Winding above case per loss', unit: 'K/W' },
  case_k_per_w: { label: 'Case above air per loss', unit: 'K/W' },
  continuous_power_w: { label: 'Continuous power', unit: 'W' },
  thrust_gf_lag_s: { label: 'Lag of the thrust sensor', unit: 's' },
  torque_nm_lag_s: { label: 'Lag of the torque sensor', unit: 's' },
  speed_rpm_lag_s: { label: 'Lag of the speed sensor', unit: 's' },
  voltage_v_lag_s: { label: 'Lag of the voltage sensor', unit: 's' },
  current_a_lag_s: { label: 'Lag of the current sensor', unit: 's' },
  power_w_lag_s: { label: 'Lag of the power meter', unit: 's' },
  vibration_g_lag_s: { label: 'Lag of the vibration sensor', unit: 's' },
}

export function labelOf(name: string): string {
  return QUANTITIES[name]?.label ?? name
}

export function unitOf(name: string): string {
  return QUANTITIES[name]?.unit ?? ''
}

/** "Thrust (gf)": the form for axes and column heads. */
export function headOf(name: string): string {
  const unit = unitOf(name)
  return unit ? `${labelOf(name)} (${unit})` : labelOf(name)
}
