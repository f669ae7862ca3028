/**
 * The limits of a run as they are typed. One is on with a number, or off because somebody chose
 * so; text that is no number blocks arming beside its field.
 */
import type { Schemas } from '@/api/client'
import { numberOf, type Range, readTyped } from '@/figures/readNumber'

export interface LimitField {
  name: LimitName
  label: string
  unit: string
  /** What cuts when this is off, for the checklist. */
  unwatched: string
  /** What can be meant, where a comma could mean two things. */
  within: Range
}

export type LimitName = keyof Schemas['LimitsRequest']

export const LIMITS: LimitField[] = [
  { name: 'current_a', label: 'Current', unit: 'A', unwatched: '', within: [0.5, 500] },
  {
    name: 'power_w',
    label: 'Power',
    unit: 'W',
    unwatched: 'Power does not cut this run',
    within: [10, 20_000],
  },
  {
    name: 'motor_temp_c',
    label: 'Motor',
    unit: '°C',
    unwatched: 'The motor’s temperature does not cut this run',
    within: [10, 200],
  },
  {
    name: 'thrust_gf',
    label: 'Thrust',
    unit: 'gf',
    unwatched: 'Thrust does not cut this run',
    within: [10, 50_000],
  },
  {
    name: 'speed_rpm',
    label: 'Speed',
    unit: 'rpm',
    unwatched: 'Speed does not cut this run',
    within: [500, 150_000],
  },
  {
    name: 'vibration_g',
    label: 'Vibration',
    unit: 'g',
    unwatched: 'Vibration does not cut this run',
    within: [0.1, 200],
  },
  {
    name: 'voltage_floor_v',
    label: 'Below',
    unit: 'V',
    unwatched: 'No voltage floor cuts this run',
    within: [1, 100],
  },
  {
    name: 'lost_rpm_s',
    label: 'No speed signal for',
    unit: 's',
    unwatched: 'A lost speed signal does not cut this run',
    within: [0.05, 5],
  },
]

export type LimitTexts = Record<LimitName, string>

export const LIMIT_DEFAULTS: LimitTexts = {
  current_a: '40',
  power_w: '',
  motor_temp_c: '90',
  thrust_gf: '4000',
  speed_rpm: '',
  vibration_g: '8',
  voltage_floor_v: '',
  lost_rpm_s: '0.4',
}

const rangeOf = (name: LimitName) => LIMITS.find((limit) => limit.name === name)?.within

export function canBeOff(name: LimitName): boolean {
  return name !== 'current_a'
}

/** What is wrong with one limit as typed; empty when it is a number, or off by choice. */
export function limitFault(limits: LimitTexts, off: LimitName[], name: LimitName): string {
  if (off.includes(name)) return ''
  const typed = readTyped(limits[name] ?? '', rangeOf(name))
  if (typed.kind === 'empty') return canBeOff(name) ? 'Set a limit, or choose off.' : 'Set a limit.'
  if (typed.kind === 'wrong') return typed.why
  return typed.value > 0 ? '' : 'A limit is above 0.'
}

/** The limits of the request. Call only where {@link limitFault} finds nothing. */
export function limitsBody(limits: LimitTexts, off: LimitName[]): Schemas['LimitsRequest'] {
  const value = (name: LimitName) =>
    off.includes(name) ? null : numberOf(limits[name], rangeOf(name))
  return {
    current_a: numberOf(limits.current_a, rangeOf('current_a')),
    power_w: value('power_w'),
    motor_temp_c: value('motor_temp_c'),
    thrust_gf: value('thrust_gf'),
    speed_rpm: value('speed_rpm'),
    vibration_g: value('vibration_g'),
    voltage_floor_v: value('voltage_floor_v'),
    lost_rpm_s: value('lost_rpm_s'),
  }
}

/**
 * Proposals for power and speed from what is chosen: what the supply gives at the current limit,
 * and a tenth above the speed that the label's kV would reach without a load.
 */
export function proposed(
  name: 'power_w' | 'speed_rpm',
  current_a: string,
  open_circuit_v: number | undefined,
  kv_rpm_per_v: number | null | undefined,
): string {
  if (!open_circuit_v) return ''
  if (name === 'power_w') {
    const amps = readTyped(current_a)
    return amps.kind === 'number' ? String(Math.round(amps.value * open_circuit_v)) : ''
  }
  return kv_rpm_per_v ? String(Math.ceil((1.1 * kv_rpm_per_v * open_circuit_v) / 500) * 500) : ''
}
