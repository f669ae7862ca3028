/** What is known of a stand, a supply or an ESC, field by field: how it is shown, typed and kept. */
import { numberFault } from '@/figures/readNumber'
import { choices } from '@/words/words'
import { asKept, asText } from './percent'

export type Typed = Record<string, string>
export type Row = { id: number; version: number } & Record<string, unknown>

export interface Field {
  key: string
  label: string
  /** The name of the record's field, where it is another. */
  kept?: string
  unit?: string
  number?: boolean
  /** What is typed is so many times what is kept: percent, milliohm. */
  times?: number
  choices?: () => readonly { key: string; label: string }[]
  /** Cannot be changed afterwards. */
  fixed?: boolean
  /** Shown, and never sent. */
  told?: boolean
  usual?: string
  width?: 'narrow' | 'usual' | 'wide'
  when?: (typed: Typed) => boolean
  fault?: (text: string) => string
  read: (row: Row | null) => string
}

const text = (key: string, label: string, more: Partial<Field> = {}): Field => ({
  key,
  label,
  read: (row) => String(row?.[key] ?? ''),
  ...more,
})
const number = (key: string, label: string, unit: string, more: Partial<Field> = {}): Field => ({
  key,
  label,
  unit,
  number: true,
  width: 'narrow',
  fault: (typed) => numberFault(typed),
  read: (row) => asText(row?.[more.kept ?? key] as number | null, more.times ?? 1),
  ...more,
})
const yesNo = (key: string, label: string, words: [string, string]): Field => ({
  key,
  label,
  choices: () => [
    { key: '', label: 'nobody knows' },
    { key: 'yes', label: words[0] },
    { key: 'no', label: words[1] },
  ],
  read: (row) => (row?.[key] == null ? '' : row[key] ? 'yes' : 'no'),
})
const ofPack = (typed: Typed) => typed.kind === 'pack' && !typed.joined
const notJoined = (typed: Typed) => !typed.joined
const ofSupply = (typed: Typed) => typed.kind !== 'pack'

export const NAME = text('name', 'Name', { fault: (typed) => (typed.trim() ? '' : 'A name.') })

export const SUPPLY: readonly Field[] = [
  NAME,
  text('kind', 'Kind', { choices: () => choices('supply_kind'), usual: 'psu', fixed: true }),
  text('joined', 'Joined', {
    choices: () => choices('joined'),
    fixed: true,
    told: true,
    when: (typed) => Boolean(typed.joined),
  }),
  number('nominal_voltage_v', 'Set to', 'V', { when: ofSupply }),
  number('trip_a', 'Its limit', 'A', { when: ofSupply }),
  text('folds_back', 'At its limit it', {
    when: ofSupply,
    usual: 'no',
    choices: () => [
      { key: 'no', label: 'switches off' },
      { key: 'yes', label: 'lowers its voltage' },
    ],
    read: (row) => (row?.folds_back ? 'yes' : 'no'),
  }),
  text('chemistry', 'Chemistry', {
    when: ofPack,
    usual: 'lipo',
    choices: () => choices('chemistry'),
    width: 'usual',
  }),
  number('cells', 'Cells', '', { when: ofPack }),
  number('capacity_mah', 'Capacity', 'mAh', { when: ofPack }),
  number('rate_c', 'Rate', 'C', { when: ofPack }),
  number('mohm', 'Resistance', 'mΩ', {
    kept: 'resistance_ohm',
    times: 1000,
    when: notJoined,
  }),
  number('cycles', 'Cycles', '', { when: (typed) => typed.kind === 'pack' }),
  text('note', 'Note', { width: 'wide' }),
]

export const ESC: readonly Field[] = [
  NAME,
  number('rated_a', 'Rated', 'A'),
  number('burst_a', 'Burst', 'A'),
  number('mass_g', 'Mass', 'g'),
  number('bec_v', 'BEC gives', 'V'),
  number('bec_a', 'up to', 'A'),
  text('protocol', 'Protocol'),
  yesNo('linear', 'Throttle to duty', ['linear', 'not linear']),
  text('settings', 'Settings, name = value; …', {
    width: 'wide',
    fault: (typed) => settingsFault(typed),
    read: (row) =>
      Object.entries((row?.settings ?? {}) as Record<string, string>)
        .map(([name, value]) => `${name} = ${value}`)
        .join('; '),
  }),
  text('note', 'Note', { width: 'wide' }),
]

/** A size of an adapter, asked for where its kind has it. */
const size = (key: string, label: string, ...kinds: string[]): Field =>
  number(key, label, 'mm', { when: (typed) => kinds.includes(typed.kind ?? ''), width: 'usual' })

export const ADAPTER: readonly Field[] = [
  NAME,
  text('kind', 'Kind', { choices: () => choices('adapter_kind'), usual: 'ring', fixed: true }),
  size('inner_mm', 'Hole for the shaft', 'ring', 'bolt_on', 'clamp_plate'),
  size('outer_mm', 'Outside', 'ring'),
  size('height_mm', 'Height', 'ring'),
  size('least_mm', 'Thinnest shaft', 'collet'),
  size('most_mm', 'Thickest shaft', 'collet'),
  size('grip_mm', 'Grips so deep', 'collet'),
  size('hole_circle_mm', 'Circle of screw holes', 'bolt_on', 'clamp_plate'),
  size('hole_mm', 'Screw holes', 'bolt_on', 'clamp_plate'),
  size('stud_mm', 'Stud for the propeller', 'collet', 'bolt_on'),
  size('free_length_mm', 'Free stud', 'collet', 'bolt_on'),
  size('nut_mm', 'Nut', 'collet', 'bolt_on'),
  size('washer_mm', 'Washer', 'collet', 'bolt_on'),
  text('note', 'Note', { width: 'wide' }),
]

export const STAND: readonly Field[] = [
  NAME,
  text('kind', 'Kind', { choices: () => choices('stand_kind'), usual: 'direct', width: 'wide' }),
  number('repeatability', 'Repeatability of one run', '%', {
    kept: 'repeatability_rel',
    times: 100,
    width: 'usual',
  }),
  number('calibration', 'u of its thrust, declared', '%', {
    kept: 'calibration_rel',
    times: 100,
    width: 'usual',
  }),
  text('live', 'Its readings come', {
    width: 'wide',
    usual: 'no',
    choices: () => [
      { key: 'yes', label: 'live, to this bench' },
      { key: 'no', label: 'typed or as logs' },
    ],
    read: (row) => (row?.live ? 'yes' : 'no'),
  }),
  text('note', 'Note', { width: 'wide' }),
]

/** What a form holds, as the server takes it: unknown is null, and text that is none is refused. */
export function bodyOf(fields: readonly Field[], typed: Typed): Record<string, unknown> {
  const body: Record<string, unknown> = {}
  for (const field of fields) {
    const name = field.kept ?? field.key
    const said = typed[field.key] ?? ''
    if (field.told || (field.when && !field.when(typed))) continue
    if (field.number) body[name] = asKept(said, field.times)
    else if (field.key === 'settings') body[name] = settingsOf(said)
    else if (field.key === 'linear') body[name] = said ? said === 'yes' : null
    else if (['live', 'folds_back'].includes(field.key)) body[name] = said === 'yes'
    else body[name] = said
  }
  return body
}

function settingsFault(typed: string): string {
  const wrong = typed
    .split(';')
    .map((part) => part.trim())
    .find((part) => part && !/^[^=]+=/.test(part))
  return wrong ? `“${wrong}” has no value: write it as name = value.` : ''
}

function settingsOf(typed: string): Record<string, string> {
  const pairs = typed
    .split(';')
    .map((part) => part.split('='))
    .filter(([name]) => name?.trim())
    .map(([name, ...value]) => [name?.trim(), value.join('=').trim()])
  return Object.fromEntries(pairs) as Record<string, string>
}
