/** Numbers for people: no more digits than the uncertainty carries, a unit never dropped. */

const MINUS = '−'
const THIN = '\u2009'

/**
 * Decimal places at which u keeps two digits when it begins with 1 or 2, else one. Negative where
 * it keeps only tens, hundreds and so on: 84,000 ± 6,000.
 */
export function decimalsFor(u: number): number {
  if (!(u > 0)) return 3
  const exponent = Math.floor(Math.log10(u))
  const leading = u / 10 ** exponent
  const digits = leading < 2.95 ? 2 : 1
  return Math.min(6, digits - 1 - exponent)
}

/** Four significant digits, for numbers that have no u. */
export function decimalsForValue(value: number): number {
  if (value === 0) return 0
  return Math.max(0, Math.min(4, 3 - Math.floor(Math.log10(Math.abs(value)))))
}

/** Made once for each number of decimals: a table asks for hundreds of figures. */
const formats: Intl.NumberFormat[] = []

function fixed(value: number, decimals: number): string {
  formats[decimals] ??= new Intl.NumberFormat('en-US', {
    minimumFractionDigits: decimals,
    maximumFractionDigits: decimals,
  })
  return formats[decimals].format(value)
}

/** A number with so many decimals; rounded to tens, hundreds and so on where they are negative. */
export function formatNumber(value: number, decimals: number): string {
  const step = 10 ** Math.max(0, -decimals)
  const size = Math.abs(value)
  const text = decimals < 0 ? fixed(Math.round(size / step) * step, 0) : fixed(size, decimals)
  const isZero = Number(text.replaceAll(',', '')) === 0
  return value < 0 && !isZero ? MINUS + text : text
}

export interface FigureText {
  value: string
  u: string
}

/** A number that was declared or chosen: four digits at most, and no zeros that nobody wrote. */
function declared(value: number): string {
  const text = formatNumber(value, decimalsForValue(value))
  return text.includes('.') ? text.replace(/\.?0+$/, '') : text
}

/** Value and u at the same number of decimals; u empty where there is none. */
export function figureText(value: number, u?: number | null): FigureText {
  if (u === undefined || u === null || u === 0) return { value: declared(value), u: '' }
  const decimals = decimalsFor(u)
  return { value: formatNumber(value, decimals), u: formatNumber(u, decimals) }
}

/** One string: "1,175 ± 8 gf". */
export function figureLine(value: number, u: number | null | undefined, unit: string): string {
  const text = figureText(value, u)
  const number = text.u ? `${text.value} ± ${text.u}` : text.value
  return unit ? `${number}${THIN}${unit}` : number
}

/** A figure for pictures and files, whose head says the unit; a dash where there is none. */
export function plainFigure(figure?: { value?: number | null; u?: number | null } | null): string {
  return figure?.value == null ? '—' : figureLine(figure.value, figure.u, '')
}

/** Value and u at so many decimals; a u below the last digit says so instead of being 0. */
export function textAt(value: number, u: number | null | undefined, decimals: number): FigureText {
  const text = { value: formatNumber(value, decimals), u: '' }
  if (!u) return text
  const least = 10 ** -decimals
  text.u = u < least / 2 ? `<${formatNumber(least, decimals)}` : formatNumber(u, decimals)
  return text
}

/** A number with its sign; what rounds to 0 has none. */
export function signed(value: number, decimals: number): string {
  const text = formatNumber(value, decimals)
  return value > 0 && /[1-9]/.test(text) ? `+${text}` : text
}

/** A signed percentage and its u at the same number of decimals, two at most; without a u one. */
export function deltaText(percent: number, u?: number | null): FigureText {
  const decimals = u ? Math.min(2, decimalsFor(u)) : 1
  return { value: signed(percent, decimals), u: textAt(percent, u, decimals).u }
}

/** One string: "+3.1 ± 0.7 %". */
export function deltaLine(percent: number, u?: number | null): string {
  const text = deltaText(percent, u)
  return `${text.value}${text.u ? ` ± ${text.u}` : ''}${THIN}%`
}

/** How many there are: 12,400. */
export const count = (number: number) => formatNumber(number, 0)

/** The size of a file. */
export function fileSize(bytes: number): string {
  if (bytes < 1e6) return `${count(Math.ceil(bytes / 1e3))} kB`
  return bytes < 1e9 ? `${formatNumber(bytes / 1e6, 1)} MB` : `${formatNumber(bytes / 1e9, 1)} GB`
}

/** Seconds as "4 min 05 s" or "42 s". */
export function duration(seconds: number): string {
  const whole = Math.round(seconds)
  if (whole < 60) return `${whole}${THIN}s`
  const rest = String(whole % 60).padStart(2, '0')
  return `${Math.floor(whole / 60)}${THIN}min ${rest}${THIN}s`
}

/** Today where the bench stands, 2026-10-05; not the day that it is in Greenwich. */
export function localDay(now: Date = new Date()): string {
  return dateTime(now.toISOString()).slice(0, 10)
}

const clockOf = (zone: string | undefined) =>
  new Intl.DateTimeFormat('en-GB', {
    timeZone: zone,
    hourCycle: 'h23',
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
    hour: '2-digit',
    minute: '2-digit',
  })
let clock = clockOf(undefined)
let zone = ''

/** Tell every day and hour in the bench's zone from now; one that this browser does not know leaves
 * its own. */
export function tellTimesIn(benchZone: string | undefined): void {
  if (!benchZone || benchZone === zone) return
  try {
    clock = clockOf(benchZone)
    zone = benchZone
  } catch {
    clock = clockOf(undefined)
    zone = ''
  }
}

/** The bench's zone, where it is not that of who reads; else blank. */
export function otherZone(own = Intl.DateTimeFormat().resolvedOptions().timeZone): string {
  const now = Date.now()
  // Two names of one clock are no difference.
  return zone && clock.format(now) !== clockOf(own).format(now) ? zone : ''
}

/** A date as the bench notes it, where it stands: 2026-10-05 09:40. */
export function dateTime(iso: string): string {
  const part = Object.fromEntries(clock.formatToParts(new Date(iso)).map((p) => [p.type, p.value]))
  return `${part.year}-${part.month}-${part.day} ${part.hour}:${part.minute}`
}
