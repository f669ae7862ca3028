/** What a ranking is asked for, as the page's address carries it. */
import type { LocationQuery } from 'vue-router'
import type { AskedRanking } from '@/api/judgeQueries'
import { readTyped } from '@/figures/readNumber'

export const BOUNDS = ['most_mass_g', 'most_price', 'cells'] as const
export const LEVELS = ['thrust_gf', 'shaft_power_w'] as const
const TEXTS = ['use', 'weights', 'load', 'sizes', 'without'] as const
const NUMBERS = [...BOUNDS, ...LEVELS] as const

const text = (value: unknown): string => (typeof value === 'string' ? value : '')

/** The question of an address; a number that cannot be read is sent as it is, so that it is said. */
export function askedFrom(query: LocationQuery): AskedRanking {
  const found: Record<string, unknown> = {}
  for (const name of TEXTS) if (text(query[name])) found[name] = text(query[name])
  for (const name of NUMBERS) {
    if (!text(query[name])) continue
    const typed = readTyped(text(query[name]))
    found[name] = typed.kind === 'number' ? typed.value : text(query[name])
  }
  if (query.fill === 'yes') found.fill = true
  return found as AskedRanking
}

export type WeightMap = Record<string, number>

/** `max_thrust_gf:2,mass_g:0.5`; what weighs nothing is left out. */
export const weightsText = (weights: WeightMap): string =>
  Object.entries(weights)
    .filter(([, weight]) => weight > 0)
    .map(([name, weight]) => `${name}:${weight}`)
    .join(',')

/** Whether two sets weigh alike; a criterion that is not named weighs 0. */
export function sameWeights(a: WeightMap, b: WeightMap): boolean {
  return [...new Set([...Object.keys(a), ...Object.keys(b)])].every(
    (name) => (a[name] ?? 0) === (b[name] ?? 0),
  )
}

/** One motor more or less among those that are left out by hand. */
export function toggled(without: string, motor: number): string {
  const listed = without.split(',').filter(Boolean).map(Number)
  const now = listed.includes(motor) ? listed.filter((one) => one !== motor) : [...listed, motor]
  return now.join(',')
}

/** A share as words: never 0 % or 100 % of what is only nearly so. */
export function shareText(share: number): string {
  if (share > 0 && share < 0.005) return '<1 %'
  if (share < 1 && share > 0.995) return '>99 %'
  return `${Math.round(100 * share)} %`
}
