/** When a motor is cool again, in words. */
import type { Schemas } from '@/api/client'
import { dateTime, duration } from '@/figures/format'

type After = Schemas['AfterStop']

const clock = (at: Date) => dateTime(at.toISOString()).slice(11)

/** "ready at 14:05, in ~3 min 05 s"; while it still warms, at the earliest. */
export function readyWords(after: After, now: Date): string {
  if (after.phase === 'ready') return 'cool'
  const at = clock(new Date(now.getTime() + 1000 * after.ready_in_s))
  const least = after.phase === 'warming' ? ' at the earliest' : ''
  return `ready at ${at}${least}, in ~${duration(after.ready_in_s)}`
}
