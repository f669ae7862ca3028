/**
 * The limits of a run as they are typed. One is on with a number, or off because somebody chose
 * so; text that is no number blocks arming beside its field.
 */
import type { Schemas } from '@/api/client'
import { numberOf, type Range, readTyped } from '@/figures/readNumber'
import { words } from '@/words/words'

export type LimitName = keyof Schemas['LimitsRequest']

export interface LimitField {
  name: LimitName
  label: string
  unit: string
  /** What somebody confirms who switches it off. */
  unwatched: string
  /** What can be meant, where a comma could mean two things. */
  within: Range
}

export type LimitTexts = Record<LimitName, string>

/** The limits that a form asks for, in the order in which the server tells them. */
export const limitFields = (): LimitField[] =>
  words().limits.map((limit) => ({
    name: limit.name as LimitName,
    label: limit.label,
    unit: limit.unit,
    unwatched: limit.unwatched,
    within: [limit.low, limit.high],
  }))

/** What is proposed; empty where it depends on what is mounted. */
export const usualLimits = (): LimitTexts =>
  Object.fromEntries(
    words().limits.map((limit) => [limit.name, limit.usual === null ? '' : String(limit.usual)]),
  ) as LimitTexts

const rangeOf = (name: LimitName) => limitFields().find((limit) => limit.name === name)?.within

/** The limit that keeps a channel on one side of a value. */
export function limitOfChannel(channel: string, side: string): string {
  return channel === 'voltage_v' && side === 'least' ? 'voltage_floor_v' : channel
}

export function canBeOff(name: LimitName): boolean {
  return words().limits.find((limit) => limit.name === name)?.can_be_off ?? false
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
