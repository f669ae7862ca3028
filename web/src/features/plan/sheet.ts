/** What a run sheet says in words. */
import type { Schemas } from '@/api/client'
import { formatNumber } from '@/figures/format'

type Sheet = Schemas['RunSheet']

const hours = (minutes: number) =>
  minutes < 90 ? `${Math.round(minutes)} min` : `${formatNumber(minutes / 60, 1)} h`
const counted = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`

/** "12 runs in 2.4 h, of which cooling takes 48 min; 3 motors to mount, 6 swaps of propeller." */
export function totalWords(sheet: Sheet): string {
  const cooling =
    sheet.cooling_minutes >= 1 ? `, of which cooling takes ${hours(sheet.cooling_minutes)}` : ''
  return (
    `${counted(sheet.runs, 'run', 'runs')} in ${hours(sheet.minutes)}${cooling}; ` +
    `${counted(sheet.motor_swaps, 'motor', 'motors')} to mount, ` +
    `${counted(sheet.propeller_swaps, 'swap', 'swaps')} of propeller.`
  )
}
