/** The whole bench as a table: its words, and where a value lies on the one scale of the pivot. */
import type { Schemas } from '@/api/client'
import { unitOf } from '@/words/words'

export const CONDITION_WORDS: Record<string, string> = {
  full: 'full throttle',
  burst: 'burst, strongest 50 ms',
  sustained: 'sustained, 0.5 to 1.5 s',
  thrust_gf: 'equal thrust',
  power_w: 'equal electrical power',
  shaft_power_w: 'equal shaft power',
  throttle_pct: 'equal throttle',
  current_a: 'equal current',
  speed_rpm: 'equal speed',
  rating: 'its rated current',
  hover: 'hover of a craft',
}

/** Conditions at which each motor has a level of its own. */
export const OWN_LEVEL = ['rating', 'hover']

/** Conditions that stand at no level. */
export const NO_LEVEL = ['full', 'burst', 'sustained']

/** Conditions at which one level is typed for all. */
export const takesLevel = (condition: string) =>
  !NO_LEVEL.includes(condition) && !OWN_LEVEL.includes(condition)

type Group = Schemas['ColumnGroup']

/** A group of columns as an address says it. */
export function groupText(group: {
  condition: string
  level?: number | null
  craft?: number | null
}): string {
  if (group.condition === 'hover') return `hover@${group.craft ?? 0}`
  return group.level && takesLevel(group.condition)
    ? `${group.condition}@${group.level}`
    : group.condition
}

/** A group of columns as one would say it. */
export function groupWords(group: Group): string {
  if (group.words) return group.words
  const words = CONDITION_WORDS[group.condition] ?? group.condition
  return group.level ? `at ${group.level} ${unitOf(group.condition)}` : words
}

export const ORDER_WORDS: Record<string, string> = {
  propeller: 'propeller by propeller',
  motor: 'motor by motor',
  figure: 'by the figure',
}

type Pivot = Schemas['Pivot']
type Cell = Schemas['PivotCell']

/** 0 for the smallest of the pivot, 1 for the largest; null for what is not there. */
export function shadeOf(pivot: Pivot): (cell: Cell) => number | null {
  const values = pivot.cells
    .map((cell) => cell.figure.value)
    .filter((value): value is number => value != null)
  const low = Math.min(...values)
  const high = Math.max(...values)
  return (cell) => {
    if (cell.figure.value == null) return null
    return high > low ? (cell.figure.value - low) / (high - low) : 0.5
  }
}

/** A place of the pivot; without a cell where nobody ran it and nothing foresees it. */
export interface Place {
  motor: Pivot['motors'][number]
  column: Pivot['propellers'][number]
  cell: Cell | undefined
}
export interface Turned {
  heads: { key: string; name: string; motor: number | null }[]
  rows: { key: string; name: string; motor: number | null; places: Place[] }[]
}

/** The pivot with motors down and propellers across, or the other way round. */
export function turned(pivot: Pivot, propellersDown: boolean): Turned {
  const supplies = new Set(pivot.propellers.map((one) => one.supply))
  const motors = pivot.motors.map((one) => ({
    key: String(one.motor),
    name: one.name,
    motor: one.motor as number | null,
    place: { motor: one },
  }))
  const propellers = pivot.propellers.map((one) => ({
    key: `${one.name}|${one.supply}`,
    name: supplies.size > 1 ? `${one.name}, ${one.on}` : one.name,
    motor: null as number | null,
    place: { column: one },
  }))
  const at = new Map(
    pivot.cells.map((cell) => [`${cell.motor}|${cell.propeller_name}|${cell.supply}`, cell]),
  )
  const [down, across] = propellersDown ? [propellers, motors] : [motors, propellers]
  return {
    heads: across,
    rows: down.map((row) => ({
      ...row,
      places: across.map((head) => ({
        ...({ ...row.place, ...head.place } as Omit<Place, 'cell'>),
        cell: at.get(propellersDown ? `${head.key}|${row.key}` : `${row.key}|${head.key}`),
      })),
    })),
  }
}

/** The places that nobody ever ran and that can be mounted: samples, propellers and supplies. */
export function emptyPlaces(table: Turned) {
  const samples = new Set<number>()
  const propellers = new Set<number>()
  const supplies = new Set<number>()
  let count = 0
  for (const { places } of table.rows)
    for (const place of places) {
      const wanted = place.cell?.runs ? null : mountedFor(place)
      if (!wanted) continue
      samples.add(wanted.sample)
      propellers.add(wanted.propeller)
      supplies.add(wanted.supply)
      count++
    }
  return { count, samples: [...samples], propellers: [...propellers], supplies: [...supplies] }
}

/** What is to be mounted to run it; null where something of it is not there. */
export function mountedFor({ motor, column }: Place) {
  if (!motor.sample || !column.propeller || !column.mounted_on) return null
  return { sample: motor.sample, propeller: column.propeller, supply: column.mounted_on }
}

/** “3 better, 1 equal, 2 not resolved”; empty where nothing could be held against anything. */
export function tallyWords(row: Schemas['BenchTableRow']): string {
  const parts: [number, string][] = [
    [row.better, 'better'],
    [row.worse, 'worse'],
    [row.equal, 'equal'],
    [row.unresolved, 'not resolved'],
  ]
  return parts
    .filter(([count]) => count)
    .map(([count, word]) => `${count} ${word}`)
    .join(', ')
}
