/** Samples that an answer can refer to: of the same motor, of the family, of the whole bench. */
import type { Schemas } from '@/api/client'

type Motor = Schemas['Motor']

/** In the order in which one would look for them. */
export const GROUPS = ['this motor', 'its family', 'the bench'] as const

export interface ReferenceChoice {
  id: number
  name: string
  group: (typeof GROUPS)[number]
}

const sameFamily = (one: Motor, other: Motor) =>
  one.maker === other.maker && one.name === other.name

/** The choices of these motors, each once, the nearest first; never the sample itself. */
export function referencesFor(motors: Motor[], motor: Motor, sample: number): ReferenceChoice[] {
  const named = (row: Motor): ReferenceChoice[] =>
    row.samples
      .filter((one) => one.id !== sample)
      .map((one) => ({
        id: one.id,
        name: row.id === motor.id ? `sample ${one.mark}` : `${nameOf(row)} ${one.mark}`,
        group:
          row.id === motor.id ? 'this motor' : sameFamily(row, motor) ? 'its family' : 'the bench',
      }))
  const each = new Map([motor, ...motors].map((row) => [row.id, row.id === motor.id ? motor : row]))
  return [...each.values()]
    .flatMap(named)
    .sort((a, b) => GROUPS.indexOf(a.group) - GROUPS.indexOf(b.group))
}

function nameOf(row: Motor): string {
  const kv = row.kv_label_rpm_per_v
  return [row.name, row.size_code, kv ?? ''].join(' ').trim()
}
