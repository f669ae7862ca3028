/** A flight as it is typed, and what the flights say in words. */
import type { Schemas } from '@/api/client'
import { deltaLine, formatNumber, localDay } from '@/figures/format'
import { numberFault, numberOrNull } from '@/figures/readNumber'

export type Flight = Schemas['Flight']

/** Fields that are numbers, as text; those that are left empty are not said. */
export const NUMBERS = {
  minutes: { label: 'Minutes', unit: 'min', needed: true },
  put_back_mah: { label: 'Put back', unit: 'mAh', needed: false },
  mass_g: { label: 'All-up mass', unit: 'g', needed: false },
  hover_share_pct: { label: 'Hovered', unit: '%', needed: false },
  motor_temp_c: { label: 'Motor after landing', unit: '°C', needed: false },
  air_temp_c: { label: 'Air', unit: '°C', needed: false },
  distance_m: { label: 'Distance', unit: 'm', needed: false },
} as const
export type NumberName = keyof typeof NUMBERS

export interface Draft {
  flown_on: string
  wind: string
  impressions: string
  flown_by: string
  numbers: Record<NumberName, string>
}

export const newDraft = (): Draft => ({
  flown_on: localDay(),
  wind: '',
  impressions: '',
  flown_by: '',
  numbers: Object.fromEntries(Object.keys(NUMBERS).map((name) => [name, ''])) as Record<
    NumberName,
    string
  >,
})

/** What is sent, or why it cannot be yet. */
export function bodyOf(
  draft: Draft,
  craft: number | null,
  samples: readonly number[],
): { body: Schemas['FlightRequest'] | null; lacks: string } {
  const names = Object.keys(NUMBERS) as NumberName[]
  if (craft === null) return { body: null, lacks: 'Name the craft.' }
  if (!draft.flown_on) return { body: null, lacks: 'Name the day.' }
  const wrong = names.map((name) => numberFault(draft.numbers[name])).find((why) => why)
  if (wrong) return { body: null, lacks: wrong }
  if (!draft.numbers.minutes.trim()) return { body: null, lacks: 'Say how many minutes.' }
  const numbers = Object.fromEntries(
    names.map((name) => [name, numberOrNull(draft.numbers[name])]),
  ) as Record<NumberName, number | null>
  return {
    body: {
      craft,
      flown_on: draft.flown_on,
      ...numbers,
      minutes: numbers.minutes ?? 0,
      wind: draft.wind as Schemas['FlightRequest']['wind'],
      impressions: draft.impressions,
      flown_by: draft.flown_by,
      samples: [...samples],
    },
    lacks: '',
  }
}

/** Flown against foreseen: "+4 ± 8 %". */
export function errorText(figure: { value: number | null; u: number | null }): string {
  return figure.value === null ? '' : deltaLine(figure.value, figure.u)
}

/** Hours as they are read: "12 min", "3.4 h". */
export function hoursText(hours: number): string {
  if (hours < 1) return `${Math.round(60 * hours)}\u2009min`
  return `${formatNumber(hours, 1)}\u2009h`
}

/** When a follow-up comes back, and how far it is. */
export function triggerText(state: Schemas['FollowUpState'], word: string): string {
  const { row } = state
  if (row.trigger === 'date') return `on ${row.due_on ?? ''}`
  if (row.trigger !== 'hours') return word
  const spent = Math.max(0, state.hours - row.hours_then)
  return `after ${row.after_hours ?? 0}\u2009h of use; ${hoursText(spent)} so far`
}
