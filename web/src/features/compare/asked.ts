/** What a comparison is asked for, as its address says it. */
import type { LocationQuery } from 'vue-router'
import type { AskedComparison } from '@/api/compareQueries'
import type { Schemas } from '@/api/client'

export const ASKED_NAMES = [
  'runs',
  'by',
  'baseline',
  'against',
  'condition',
  'levels',
  'axes',
  'correct',
] as const

export const USUAL_AXES = 'thrust_gf:throttle_pct,efficiency_g_per_w:thrust_gf'

export const BY_WORDS: Record<Schemas['Comparison']['by'], string> = {
  run: 'each run',
  repeats: 'means of repeats',
  sample: 'samples',
  model: 'models',
}

export const WHAT_WORDS: Record<string, string> = {
  propellers: 'propellers on this motor',
  models: 'motors on one propeller',
  winds: 'winds of this model',
  samples: 'samples of this model',
  voltages: 'this motor at several voltages',
  escs: 'ESCs on this motor',
  before_after: 'before and after',
}

/** What may be drawn over what, in the order of the choice. */
export const OVER = ['throttle_pct', 'thrust_gf', 'power_w', 'current_a', 'speed_rpm'] as const
export const DRAWN = [
  'thrust_gf',
  'power_w',
  'current_a',
  'efficiency_g_per_w',
  'motor_esc_efficiency_pct',
  'torque_nm',
  'speed_rpm',
  'throttle_pct',
  'vibration_g',
] as const

const textOf = (query: LocationQuery, name: string) => {
  const said = query[name]
  return typeof said === 'string' ? said : ''
}

export function numbersIn(text: string): number[] {
  return text
    .split(/[\s,;]+/)
    .map(Number)
    .filter((value) => Number.isFinite(value) && value > 0)
}

/** The question in an address; what it does not say is left to the server. */
export function askedIn(query: LocationQuery): AskedComparison {
  const found: Record<string, string> = { runs: textOf(query, 'runs') }
  for (const name of ASKED_NAMES) {
    const said = textOf(query, name)
    if (said) found[name] = said
  }
  // A baseline that was left out is none.
  if (!numbersIn(found.runs ?? '').includes(Number(found.baseline))) delete found.baseline
  return found as unknown as AskedComparison
}

/** Pairs of a chart's y and x. */
export function axesIn(text: string | undefined): { x: string; y: string }[] {
  return (text || USUAL_AXES).split(',').map((pair) => {
    const [y = 'thrust_gf', x = 'throttle_pct'] = pair.split(':')
    return { x, y }
  })
}

export const axesText = (axes: { x: string; y: string }[]) =>
  axes.map(({ x, y }) => `${y}:${x}`).join(',')
