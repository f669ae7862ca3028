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
