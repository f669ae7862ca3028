/** The choices before a run: checked here for what a reviewer would trip over, enforced by the
 * server and the agent. */
import type { Schemas } from '@/api/client'
import { numberFault, numberOf, numberOrNull, readTyped } from '@/figures/readNumber'
import {
  LIMIT_DEFAULTS,
  limitFault,
  LIMITS,
  limitsBody,
  type LimitName,
  type LimitTexts,
} from './limits'

export const PAGE_GRACE_S = 2

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

export const EMPTY_DRAFT: BenchDraft = {
  sample: null,
  propeller: null,
  supply: null,
  stand: null,
  levels: '20 40 60 80 100',
  dwell_s: '3',
  ramp_pct_per_s: '40',
  limits: LIMIT_DEFAULTS,
  off: [],
  page_grace_s: PAGE_GRACE_S,
  air_temp_c: '',
  air_pressure_hpa: '',
  air_humidity_pct: '',
  purpose: '',
}

/** A fresh draft; its limits are its own. */
export function freshDraft(): BenchDraft {
  return { ...EMPTY_DRAFT, limits: { ...LIMIT_DEFAULTS }, off: [] }
}

export interface CheckItem {
  key: string
  text: string
}

export const CHECKLIST: CheckItem[] = [
  { key: 'eye_protection', text: 'Eye protection on; hair, sleeves and cables away' },
  { key: 'guard_in_place', text: 'Guard in place; packs on its floor side' },
  { key: 'prop_plane_clear', text: 'Nobody and nothing in the plane of the prop' },
  { key: 'prop_checked', text: 'Prop not cracked, nut tight, direction right' },
  { key: 'mount_clamped', text: 'Motor clamped to the stand, never held by hand' },
  { key: 'kill_switch_in_reach', text: 'Kill switch of the supply within reach' },
]

/** The look around, each limit that is off, and a run that outlives its last page for longer. */
export function checklistOf(draft: BenchDraft): CheckItem[] {
  const off = LIMITS.filter((limit) => draft.off.includes(limit.name)).map((limit) => ({
    key: `off_${limit.name}`,
    text: `${limit.unwatched}: my choice`,
  }))
  const longer =
    draft.page_grace_s > PAGE_GRACE_S
      ? [
          {
            key: 'longer_page_grace',
            text: `The run goes on for ${draft.page_grace_s} s without a page that could stop it`,
          },
        ]
      : []
  return [...CHECKLIST, ...off, ...longer]
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

const least = (text: string, low: number, sentence: string): string => {
  const typed = readTyped(text)
  if (typed.kind === 'wrong') return numberFault(text)
  return typed.kind === 'number' && typed.value >= low ? '' : sentence
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
    dwell_s: least(draft.dwell_s, 1.5, 'A plateau lasts at least 1.5 s'),
    ramp_pct_per_s: least(draft.ramp_pct_per_s, 5, 'A ramp is at least 5 %/s'),
    air_temp_c: numberFault(draft.air_temp_c),
    air_pressure_hpa: numberFault(draft.air_pressure_hpa),
    air_humidity_pct: numberFault(draft.air_humidity_pct),
  }
  for (const { name } of LIMITS) found[name] = limitFault(draft.limits, draft.off, name)
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
    const limit = LIMITS.find((item) => item.name === name)
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
