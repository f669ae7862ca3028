/** The choices before a run: checked here for what a reviewer would trip over, enforced by the
 * server and the agent. */
import type { Schemas } from '@/api/client'
import { numberFault, numberOrNull } from '@/figures/readNumber'
import {
  limitFault,
  limitFields,
  limitsBody,
  type LimitName,
  type LimitTexts,
  usualLimits,
} from './limits'
import { choices, words } from '@/words/words'
import { kindOf, profileBody, type ProfileDraft, profileFaults, usualValues } from './profile'

export type Hand = NonNullable<Exclude<Schemas['ArmRequest']['hand'], ''>>
/** What a hand can move a throttle with, as the bench day names it. */
const NO_HAND = ['stand', 'script', 'unknown']
export const hands = () =>
  choices('command_source').filter((one) => !NO_HAND.includes(one.key)) as {
    key: Hand
    label: string
  }[]

/** The kind of run that a hand can make. */
export const HAND_KIND = 'steps'

export interface BenchDraft extends ProfileDraft {
  sample: number | null
  propeller: number | null
  supply: number | null
  stand: number | null
  limits: LimitTexts
  off: LimitName[]
  page_grace_s: number
  /** The predictive guard foresees each step; off only by choice. */
  guarded: boolean
  /** The throttle is in somebody's hand: recorded, never commanded and never cut. */
  by_hand: boolean
  /** What the hand moves it with. */
  hand: Hand | null
  air_temp_c: string
  air_pressure_hpa: string
  air_humidity_pct: string
  purpose: string
  /** How many like runs are to be made of it. */
  repeats: number
  /** What was set up before a direction check, to come back to. */
  before_check: { kind: string; repeats: number } | null
  /** The sequence in hand, and the place of its part that is set up. */
  sequence: { id: number; at: number } | null
}

/** A fresh draft; its limits are its own. */
export function freshDraft(): BenchDraft {
  return {
    sample: null,
    propeller: null,
    supply: null,
    stand: null,
    kind: 'steps',
    values: { steps: usualValues('steps') },
    limits: usualLimits(),
    off: [],
    page_grace_s: words().page_grace_s,
    guarded: true,
    by_hand: false,
    hand: null,
    air_temp_c: '',
    air_pressure_hpa: '',
    air_humidity_pct: '',
    purpose: '',
    repeats: 3,
    before_check: null,
    sequence: null,
  }
}

/** The kind of run that only shows which way it pulls. */
export const DIRECTION = 'direction'

/** Set up a direction check; what was set up is remembered. */
export function checkDirection(draft: BenchDraft): void {
  if (draft.kind === DIRECTION) return
  draft.before_check = { kind: draft.kind, repeats: draft.repeats }
  draft.kind = DIRECTION
  draft.repeats = 1
}

/** Back to what was set up before the direction check. */
export function afterCheck(draft: BenchDraft): void {
  if (!draft.before_check) return
  Object.assign(draft, draft.before_check)
  draft.before_check = null
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
  const own = words().kind_checklist.filter((item) => item.kind === draft.kind)
  const choice = draft.by_hand ? 'hand_cuts' : draft.guarded ? '' : 'guard_off'
  const chosen = words().chosen_checklist.filter((item) => item.key === choice)
  const kinds = own.map(({ key, text }) => ({ key, text }))
  return [...checklist(), ...kinds, ...off, ...longer, ...chosen]
}

export type FaultName = LimitName | 'air_temp_c' | 'air_pressure_hpa' | 'air_humidity_pct'

/** What is wrong with what was typed, by field; a field that is right has no entry. */
export function faultsOf(draft: BenchDraft): Partial<Record<FaultName, string>> {
  const found: Partial<Record<FaultName, string>> = {
    air_temp_c: numberFault(draft.air_temp_c),
    air_pressure_hpa: numberFault(draft.air_pressure_hpa),
    air_humidity_pct: numberFault(draft.air_humidity_pct),
  }
  for (const { name } of limitFields()) found[name] = limitFault(draft.limits, draft.off, name)
  return Object.fromEntries(Object.entries(found).filter(([, fault]) => fault))
}

/** What is still missing or wrong, in words; empty when it may be armed. */
export function gapsOf(
  draft: BenchDraft,
  confirmed: Set<string>,
  asked: readonly CheckItem[] = checklistOf(draft),
): string[] {
  const gaps: string[] = []
  if (!draft.sample) gaps.push('Choose the motor and its sample')
  if (!draft.propeller && kindOf(draft).needs_propeller) gaps.push('Choose the propeller')
  if (!draft.supply) gaps.push('Choose the supply')
  if (!draft.stand) gaps.push('Choose the stand')
  if (draft.by_hand && !draft.hand) gaps.push('Choose what the throttle is moved with')
  if (draft.by_hand && draft.kind !== HAND_KIND)
    gaps.push('By hand the bench asks for positions: choose steps')
  gaps.push(...Object.values(profileFaults(draft)))
  const faults = faultsOf(draft)
  for (const [name, fault] of Object.entries(faults)) {
    const limit = limitFields().find((item) => item.name === name)
    gaps.push(limit ? `${limit.label}: ${fault}` : fault)
  }
  const open = asked.filter((item) => !confirmed.has(item.key)).length
  if (open) gaps.push(`Confirm the checklist (${open} open)`)
  return gaps
}

/** The body of the arm request. Call only without gaps. */
export function armBody(
  draft: BenchDraft,
  confirmed: Set<string>,
  asked: readonly CheckItem[] = checklistOf(draft),
): Schemas['ArmRequest'] {
  return {
    sample: draft.sample as number,
    propeller: kindOf(draft).needs_propeller ? draft.propeller : null,
    supply: draft.supply as number,
    stand: draft.stand as number,
    profile: profileBody(draft) ?? {},
    limits: limitsBody(draft.limits, draft.off),
    limits_off: draft.off as Schemas['ArmRequest']['limits_off'],
    page_grace_s: draft.page_grace_s,
    guarded: draft.guarded,
    by_hand: draft.by_hand,
    hand: draft.by_hand ? (draft.hand ?? '') : '',
    air_temp_c: numberOrNull(draft.air_temp_c),
    air_pressure_hpa: numberOrNull(draft.air_pressure_hpa),
    air_humidity_pct: numberOrNull(draft.air_humidity_pct),
    purpose: draft.purpose,
    checklist: asked
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
