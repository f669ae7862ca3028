/** What is expected of a run, against the limits that would end it. */
import { formatNumber } from '@/figures/format'

/** The limit that a summary figure runs into. */
export const LIMIT_OF: Readonly<Record<string, string>> = {
  max_thrust_gf: 'thrust_gf',
  max_current_a: 'current_a',
  max_power_w: 'power_w',
  burst_thrust_gf: 'thrust_gf',
  burst_current_a: 'current_a',
}

export interface Against {
  state: 'far' | 'near' | 'beyond'
  words: string
}

const NEAR = 0.85

/** How near an expected figure comes to its limit; null where no limit is set. Two u count. */
export function againstLimit(value: number, u: number, limit: number | null): Against | null {
  if (limit === null || limit <= 0) return null
  const share = `${formatNumber((100 * value) / limit, 0)} % of the limit`
  if (value - 2 * u > limit)
    return { state: 'beyond', words: `${share}; the run will be cut before it gets there` }
  if (value > limit) return { state: 'beyond', words: `${share}; the run will probably be cut` }
  if (value + 2 * u > limit) return { state: 'near', words: `${share}; it may be cut` }
  return { state: value > NEAR * limit ? 'near' : 'far', words: share }
}
