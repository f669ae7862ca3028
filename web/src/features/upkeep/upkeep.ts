/** Words of the upkeep page. */
import { fileSize } from '@/figures/format'

const MOST_APART_S = 5

/** A size on disk; 0 is empty. */
export function size(bytes: number): string {
  return bytes === 0 ? 'empty' : fileSize(bytes)
}

const WHAT: Record<string, string> = {
  database: 'Database: runs, traces, everything typed',
  photos: 'Photos',
  packs: 'Data packs of editions',
  logs: 'Logs',
  inbox: 'Inbox',
  copies: 'Copies from before upgrades',
  waiting_runs: 'Runs at the bench',
}
export const sizeName = (what: string) => WHAT[what] ?? what.replaceAll('_', ' ')

/** How long something is ago or takes, roughly. */
export function roughly(seconds: number): string {
  const s = Math.abs(seconds)
  if (s < 90) return `${Math.round(s)} s`
  if (s < 5400) return `${Math.round(s / 60)} min`
  if (s < 172_800) return `${Math.round(s / 3600)} h`
  return `${Math.round(s / 86_400)} days`
}

/** What is told of this browser's clock; blank where it agrees. */
export function clockFault(ahead_s: number): string {
  if (Math.abs(ahead_s) <= MOST_APART_S) return ''
  const side = ahead_s > 0 ? 'ahead of' : 'behind'
  return `This computer's clock is ${roughly(ahead_s)} ${side} the server's. What goes on record has the server's time.`
}

/** How a process does. */
export function partState(part: {
  running: boolean
  answers: boolean
  silent_s: number | null
}): string {
  if (!part.running) return 'does not run'
  if (!part.answers) return `has not answered for ${roughly(part.silent_s ?? 0)}`
  return part.silent_s === null ? 'runs' : 'answers'
}
