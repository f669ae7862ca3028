/** Long work as a person sees it. */
import type { Schemas } from '@/api/client'
import { count } from '@/figures/format'

type Work = Pick<Schemas['LongWork'], 'state' | 'done' | 'total' | 'unit' | 'stop_asked'>

export const isAtWork = (work: Pick<Work, 'state'>) =>
  work.state === 'waiting' || work.state === 'running'

/** How far it is; 0 where nobody knows yet how much there is. */
export function percentOf({ done, total }: Pick<Work, 'done' | 'total'>): number {
  return total ? Math.min(100, Math.round((100 * (done ?? 0)) / total)) : 0
}

/** How far it is in words, with what is counted. */
export function farOf({ done, total, unit, state }: Omit<Work, 'stop_asked'>): string {
  if (!total) return state ?? ''
  return `${count(done ?? 0)} of ${count(total)} ${unit ?? ''}`.trim()
}

const WORDS: Record<string, string> = {
  done: 'done',
  failed: 'failed',
  cancelled: 'stopped',
  lost: 'lost',
}
export const wordOfState = (work: Pick<Work, 'state'>) => WORDS[work.state ?? ''] ?? ''
