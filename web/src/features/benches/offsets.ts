/** What another bench reads apart from ours: in words, and where it lies in a drawing. */
import type { Schemas } from '@/api/client'
import { deltaLine, deltaText, formatNumber, signed } from '@/figures/format'
import { labelOf, unitOf } from '@/words/words'

/** Within it two benches count as the same. */
export const MARGIN_PCT = 2

export type Offset = Schemas['Offset']
export type Held = Schemas['Held']

const CONDITIONS: Record<string, string> = {
  no_load: 'Without a propeller',
  speed_rpm: 'At one speed',
  thrust_gf: 'For one thrust',
  full: 'At full throttle',
}

/** What a figure under a condition tells of the two benches. */
const TELLS: Record<string, string> = {
  no_load: 'volts and revolutions',
  speed_rpm: 'the two scales: propeller and air are taken out',
  thrust_gf: 'scale and meters together',
  full: 'everything together',
}

export const conditionWords = (key: string) => CONDITIONS[key] ?? key
export const tellsWords = (key: string) => TELLS[key] ?? ''

/** A figure with its condition: "Thrust at one speed, 12,000 rpm". */
export function nameOf(one: { condition: string; name: string; at?: number | null }): string {
  const words = conditionWords(one.condition)
  const under = `${labelOf(one.name)} ${words.charAt(0).toLowerCase()}${words.slice(1)}`
  if (one.at === undefined || one.at === null) return under
  return `${under}, ${formatNumber(one.at, 0)}\u2009${unitOf(one.condition)}`
}

const within = (value: number) => `${signed(value, Math.abs(value) < 10 ? 1 : 0)}\u2009%`

/** What may be said of it: never finer than its u. */
export function outcomeWords(one: {
  outcome: string
  offset_pct: number
  half_width_pct: number
}): string {
  if (one.outcome === 'equivalent') return 'the same, within 2\u2009%'
  if (one.outcome === 'different') return one.offset_pct > 0 ? 'they read more' : 'they read less'
  const low = within(one.offset_pct - one.half_width_pct)
  return `not told apart: ${low} to ${within(one.offset_pct + one.half_width_pct)}`
}

/** What it comes to for who owns the scale; empty where nothing tells of it. */
export function scaleWords(offsets: readonly Offset[]): string {
  const one = offsets.find((row) => row.condition === 'speed_rpm' && row.name === 'thrust_gf')
  if (!one) return ''
  const over = `${one.loads} ${one.loads === 1 ? 'load' : 'loads'}`
  if (one.outcome === 'equivalent')
    return `Over ${over} the two scales agree within ${MARGIN_PCT}\u2009%.`
  if (one.outcome === 'different') {
    const text = deltaText(Math.abs(one.offset_pct), one.u_pct)
    const apart = `${text.value.replace('+', '')} ± ${text.u}\u2009%`
    const way = one.offset_pct > 0 ? 'more' : 'less'
    return `Their scale shows ${apart} ${way} than ours, over ${over}. Which of the two is right neither can tell; a check mass on either can.`
  }
  return `The two scales are not told apart: theirs shows between ${within(one.offset_pct - one.half_width_pct)} and ${within(one.offset_pct + one.half_width_pct)} of ours. More loads, or the very same motor and propeller on both, would tell.`
}

export const offsetText = (one: { offset_pct: number; u_pct: number }): string =>
  deltaLine(one.offset_pct, one.u_pct)

export interface Drawn {
  /** All in per cent of the width. */
  at: number
  low: number
  high: number
}

const LEAST_SPAN_PCT = 5

/** Half of the width of the drawing, in per cent of offset: all intervals and the margin fit. */
export function spanOf(rows: readonly Pick<Offset, 'offset_pct' | 'half_width_pct'>[]): number {
  const ends = rows.map((row) => Math.abs(row.offset_pct) + row.half_width_pct)
  return 1.05 * Math.max(LEAST_SPAN_PCT, ...ends)
}

export function drawnAt(one: Pick<Offset, 'offset_pct' | 'half_width_pct'>, span: number): Drawn {
  const place = (value: number) => 50 + (50 * value) / span
  return {
    at: place(one.offset_pct),
    low: place(one.offset_pct - one.half_width_pct),
    high: place(one.offset_pct + one.half_width_pct),
  }
}
