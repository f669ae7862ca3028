/** How well a motor is known, in a sentence that its evidence allows. */
import type { Schemas } from '@/api/client'
import { formatNumber, decimalsFor } from '@/figures/format'

type File = Pick<Schemas['MotorFile'], 'motor' | 'against_claims' | 'open_points' | 'incidents'>
type Performance = Pick<Schemas['Performance'], 'propellers'>

/** Like runs from which the scatter of a motor can be told. */
const REPEATS_WANTED = 3

const count = (n: number, word: string) => `${n} ${word}${n === 1 ? '' : 's'}`

/** How far the record carries: the first sentence. */
export function howWell(file: File, performance: Performance | undefined): string {
  const { motor } = file
  const most = Math.max(0, ...(performance?.propellers ?? []).map((row) => row.runs.length))
  if (!motor.run_count && !motor.observation_count)
    return motor.claim_count ? 'Known by its claims alone.' : 'Nothing is known of it but its name.'
  if (!motor.run_count) return 'Looked at, never spun.'
  const runs = count(motor.run_count, 'run')
  if (!performance) return `${runs} on record.`
  if (!most) return `${runs} on record, none with plateaus on a propeller.`
  const on = count(performance.propellers.length, 'combination')
  if (most < REPEATS_WANTED)
    return `${runs} on ${on} of propeller and voltage, none repeated ${REPEATS_WANTED} times: what it scatters by is the stand's.`
  return `Measured and repeated: ${runs} on ${on} of propeller and voltage.`
}

/** Claims that the bench contradicts, each with its deviation. */
export function contradicted(file: File): string[] {
  return file.against_claims
    .filter((row) => row.resolved && row.deviation_pct.value !== null)
    .map((row) => {
      const { value, u } = row.deviation_pct
      const decimals = Math.min(1, u ? decimalsFor(u) : 1)
      const by = formatNumber(Math.abs(value as number), decimals)
      const side = (value as number) < 0 ? 'below' : 'above'
      const what = row.label.charAt(0).toLowerCase() + row.label.slice(1)
      const name = row.quantity === 'kv_rpm_per_v' ? row.label : what
      return `${name} is ${by} % ${side} the ${row.source}`
    })
}

/** Everything that is said of it in one line. */
export function verdictOf(file: File, performance: Performance | undefined): string {
  const said = [howWell(file, performance)]
  const against = contradicted(file)
  if (against.length)
    said.push(`${against.join('; ')}.`.replace(/^(?!kV)./, (c) => c.toUpperCase()))
  else if (file.against_claims.some((row) => row.deviation_pct.value !== null))
    said.push('No claim is contradicted.')
  const open = file.open_points.length
  if (open) said.push(`${count(open, 'open point')}.`)
  return said.join(' ')
}
