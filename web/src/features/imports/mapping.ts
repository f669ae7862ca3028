/** A mapping as the server tells it, and what somebody changes of it. */
import { words } from '@/words/words'

export interface MappedColumn {
  channel: string
  unit: string
  negate?: boolean
  certainty?: number
  why?: string
  alternatives?: [string, string][]
  /** Taken together with another column: plus, minus or times it. */
  how?: string
  other?: string
}
export interface LogMapping {
  format: string
  columns: Record<string, MappedColumn>
  names: Record<string, string>
  pole_count: number | null
  header: Record<string, string>
  idle_s: number
  dialect?: object
}

/** Carried along as text. */
export const NOTHING = ''
const NAMES = 'name:'

/** What a column can be: a channel, a name of whole runs, or nothing. */
export function roles(): { key: string; label: string }[] {
  return [
    { key: NOTHING, label: 'carried along' },
    ...words().log_channels.map(({ name, label }) => ({ key: name, label })),
    ...(words().choices.log_name ?? []).map(({ key, label }) => ({ key: NAMES + key, label })),
  ]
}

export function roleOf(mapping: LogMapping, column: string): string {
  const name = mapping.names[column]
  return name ? NAMES + name : (mapping.columns[column]?.channel ?? NOTHING)
}

export const unitsOf = (channel: string): readonly string[] =>
  words().log_channels.find((one) => one.name === channel)?.units ?? []

const without = <T>(rows: Record<string, T>, drop: (key: string, row: T) => boolean) =>
  Object.fromEntries(Object.entries(rows).filter(([key, row]) => !drop(key, row)))

/** A column said to be something else; who had that role before is carried along. */
export function withRole(mapping: LogMapping, column: string, role: string): LogMapping {
  const columns = without(mapping.columns, (key, row) => key === column || row.channel === role)
  const name = role.startsWith(NAMES) ? role.slice(NAMES.length) : ''
  const names = without(mapping.names, (key, what) => key === column || what === name)
  if (name) names[column] = name
  else if (role) columns[column] = { channel: role, unit: unitsOf(role)[0] ?? '', certainty: 1 }
  return { ...mapping, columns, names }
}

/** What is said of a column that has its role; whoever says it has looked at it. */
export function withColumn(
  mapping: LogMapping,
  column: string,
  said: Partial<MappedColumn>,
): LogMapping {
  const before = mapping.columns[column]
  if (!before) return mapping
  const columns = { ...mapping.columns, [column]: { ...before, ...said, certainty: 1 } }
  return { ...mapping, columns }
}

/** How a second column can be taken together with one. */
export const HOWS = [
  { key: '', label: 'alone' },
  { key: 'plus', label: 'plus' },
  { key: 'minus', label: 'less' },
  { key: 'times', label: 'times' },
] as const

/** A column taken together with another, or alone again. */
export function together(
  mapping: LogMapping,
  column: string,
  how: string,
  other: string,
): LogMapping {
  const before = mapping.columns[column]
  if (!before) return mapping
  const alone = { ...before, certainty: 1 }
  delete alone.how
  delete alone.other
  const now = how && other ? { ...alone, how, other } : alone
  return { ...mapping, columns: { ...mapping.columns, [column]: now } }
}

export const withHeader = (mapping: LogMapping, key: string, value: string): LogMapping => ({
  ...mapping,
  header: value
    ? { ...mapping.header, [key]: value }
    : without(mapping.header, (name) => name === key),
})

/** Whether a column is electrical speed, which needs the motor's poles. */
export const isElectrical = (mapping: LogMapping) =>
  Object.values(mapping.columns).some((column) => column.unit.startsWith('electrical'))

export interface Whose {
  sample: number | null
  propeller: number | null
  supply: number | null
}

/** What the first run was said to be goes for all that are called the same. */
export function spread(
  whose: readonly Whose[],
  called: readonly Record<string, string>[],
  at: number,
  what: keyof Whose,
  value: number | null,
): Whose[] {
  const word = called[at]?.[what] ?? ''
  return whose.map((one, index) =>
    index === at || (word === (called[index]?.[what] ?? '') && one[what] === whose[at]?.[what])
      ? { ...one, [what]: value }
      : one,
  )
}
