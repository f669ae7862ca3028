/** The choices before a run: checked here for what a reviewer would trip over, enforced by the
 * server and the agent. */
import type { Schemas } from '@/api/client'
import { numberFault, numberOf, numberOrNull, readTyped } from '@/figures/readNumber'
import {
  limitFault,
  limitFields,
  limitsBody,
  type LimitName,
  type LimitTexts,
  usualLimits,
} from './limits'
import { runKind, words } from '@/words/words'

export interface BenchDraft {
  sample: number | null
  propeller: number | null
  supply: number | null
  stand: number | null
  levels: string
  dwell_s: string
  ramp_pct_per_s: string
  limits: LimitTexts
  off: LimitName[]
  page_grace_s: number
  air_temp_c: string
  air_pressure_hpa: string
  air_humidity_pct: string
  purpose: string
}

/** What a kind of run is usually asked for, as typed. */
function usual(kind: string, parameter: string): string {
  const found = runKind(kind)?.parameters.find((one) => one.name === parameter)
  return found?.default?.join(' ') ?? ''
}

/** A fresh draft; its limits are its own. */
export function freshDraft(): BenchDraft {
  return {
    sample: null,
    propeller: null,
    supply: null,
    stand: null,
    levels: usual('steps', 'levels_pct'),
    dwell_s: usual('steps', 'dwell_s'),
    ramp_pct_per_s: usual('steps', 'ramp_pct_per_s'),
    limits: usualLimits(),
    off: [],
    page_grace_s: words().page_grace_s,
    air_temp_c: '',
    air_pressure_hpa: '',
    air_humidity_pct: '',
    purpose: '',
  }
}

export interface CheckItem {
  key: string
  text: string
}

/** What is confirmed before anything is armed. */
export const checklist = (): readonly CheckItem[] => words().checklist

/** The look around, each limit that is off, and a run that outlives its last page for longer. */
export function checklistOf(draft: BenchDraft): CheckItem[] {
  const off = limitFields()
    .filter((limit) => draft.off.includes(limit.name))
    .map((limit) => ({
      key: `off_${limit.name}`,
      text: `${limit.unwatched}: my choice`,
    }))
  const longer =
    draft.page_grace_s > words().page_grace_s
      ? [
          {
            key: 'longer_page_grace',
            text: `The run goes on for ${draft.page_grace_s} s without a page that could stop it`,
          },
        ]
      : []
  return [...checklist(), ...off, ...longer]
}

/**
 * "20 40, 60" → [20, 40, 60]; null when a word is no number. A comma before a blank separates; in
 * "20,40" it could do either, and is asked about.
 */
export function readLevels(text: string): number[] | null {
  if (/\d,\d{2}/.test(text)) return null
  const parts = text.split(/\s*;\s*|,\s+|\s+/).filter(Boolean)
  const levels = parts.map((part) => readTyped(part))
  return parts.length && levels.every((level) => level.kind === 'number')
    ? levels.map((level) => (level.kind === 'number' ? level.value : NaN))
    : null
}

/** Seconds a steps profile takes: rests, ramps and dwells. */
export function profileSeconds(
  levels: number[],
  dwell_s: number,
  ramp: number,
  rest_s = 3,
): number {
  const stops = [0, ...levels, 0]
  const way = stops.slice(1).reduce((sum, level, i) => sum + Math.abs(level - (stops[i] ?? 0)), 0)
  return 2 * rest_s + levels.length * dwell_s + way / ramp
}

/** Whether a number lies in what its kind of run allows; the sentence says what that is. */
function outside(text: string, parameter: string): string {
  const typed = readTyped(text)
  if (typed.kind === 'wrong') return numberFault(text)
  const range = runKind('steps')?.parameters.find((one) => one.name === parameter)
  if (!range) return ''
  const inside = typed.kind === 'number' && typed.value >= range.low && typed.value <= range.high
  return inside ? '' : `${range.label}: ${range.low} to ${range.high} ${range.unit}`
}

export type FaultName =
  | LimitName
  | 'levels'
  | 'dwell_s'
  | 'ramp_pct_per_s'
  | 'air_temp_c'
  | 'air_pressure_hpa'
  | 'air_humidity_pct'

/** What is wrong with what was typed, by field; a field that is right has no entry. */
export function faultsOf(draft: BenchDraft): Partial<Record<FaultName, string>> {
  const levels = readLevels(draft.levels)
  const found: Partial<Record<FaultName, string>> = {
    levels: !levels
      ? 'Write the plateaus as numbers, for instance 20 40 60'
      : levels.some((level) => level <= 0 || level > 100)
        ? 'Plateaus are above 0 and at most 100 %'
        : '',
    dwell_s: outside(draft.dwell_s, 'dwell_s'),
    ramp_pct_per_s: outside(draft.ramp_pct_per_s, 'ramp_pct_per_s'),
    air_temp_c: numberFault(draft.air_temp_c),
    air_pressure_hpa: numberFault(draft.air_pressure_hpa),
    air_humidity_pct: numberFault(draft.air_humidity_pct),
  }
  for (const { name } of limitFields()) found[name] = limitFault(draft.limits, draft.off, name)
  return Object.fromEntries(Object.entries(found).filter(([, fault]) => fault))
}

/** What is still missing or wrong, in words; empty when it may be armed. */
export function gapsOf(draft: BenchDraft, confirmed: Set<string>): string[] {
  const gaps: string[] = []
  if (!draft.sample) gaps.push('Choose the motor and its sample')
  if (!draft.propeller) gaps.push('Choose the propeller')
  if (!draft.supply) gaps.push('Choose the supply')
  if (!draft.stand) gaps.push('Choose the stand')
  const faults = faultsOf(draft)
  for (const [name, fault] of Object.entries(faults)) {
    const limit = limitFields().find((item) => item.name === name)
    gaps.push(limit ? `${limit.label}: ${fault}` : fault)
  }
  const open = checklistOf(draft).filter((item) => !confirmed.has(item.key)).length
  if (open) gaps.push(`Confirm the checklist (${open} open)`)
  return gaps
}

/** The body of the arm request. Call only without gaps. */
export function armBody(draft: BenchDraft, confirmed: Set<string>): Schemas['ArmRequest'] {
  return {
    sample: draft.sample as number,
    propeller: draft.propeller as number,
    supply: draft.supply as number,
    stand: draft.stand as number,
    profile: {
      levels_pct: readLevels(draft.levels) ?? [],
      dwell_s: numberOf(draft.dwell_s),
      ramp_pct_per_s: numberOf(draft.ramp_pct_per_s),
      rest_s: 3,
    },
    limits: limitsBody(draft.limits, draft.off),
    limits_off: draft.off as Schemas['ArmRequest']['limits_off'],
    page_grace_s: draft.page_grace_s,
    air_temp_c: numberOrNull(draft.air_temp_c),
    air_pressure_hpa: numberOrNull(draft.air_pressure_hpa),
    air_humidity_pct: numberOrNull(draft.air_humidity_pct),
    purpose: draft.purpose,
    checklist: checklistOf(draft)
      .map((item) => item.key)
      .filter((key) => confirmed.has(key)) as Schemas['ArmRequest']['checklist'],
  }
}

/** How near a value is to its limit: 0 far, 1 near (80 % and more), 2 beyond. */
export function nearness(value: number | undefined, limit: number | null | undefined): 0 | 1 | 2 {
  if (value === undefined || !limit) return 0
  if (value > limit) return 2
  return value >= 0.8 * limit ? 1 : 0
}
