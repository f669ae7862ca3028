/** Samples that an answer can refer to: of the same motor, of the family, of the whole bench. */
import type { Schemas } from '@/api/client'

type Motor = Schemas['Motor']

export interface ReferenceChoice {
  id: number
  name: string
  group: 'this motor' | 'its family' | 'the bench'
}

const sameFamily = (one: Motor, other: Motor) =>
  one.maker === other.maker && one.name === other.name

/** The choices in the order in which one would look for them; never the sample itself. */
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
  const order = ['this motor', 'its family', 'the bench']
  return [motor, ...motors.filter((row) => row.id !== motor.id)]
    .flatMap(named)
    .sort((a, b) => order.indexOf(a.group) - order.indexOf(b.group))
}

function nameOf(row: Motor): string {
  const kv = row.kv_label_rpm_per_v
  return [row.name, row.size_code, kv ?? ''].join(' ').trim()
}
