/** A craft as it is typed, and as it is sent. */
import type { Schemas } from '@/api/client'
import { readTyped } from '@/figures/readNumber'

export type Craft = Schemas['Craft']
export type CraftBody = Schemas['CraftWriteRequest']
type Basis = NonNullable<Schemas['CraftItemRequest']['basis']>

export interface ItemDraft {
  name: string
  mass_g: string
  count: string
  basis: Basis
  half_width_g: string
}

/** Numbers that may be left open: what nobody says is no limit. */
export const OPEN = [
  'rated_c',
  'propeller_room_in',
  'esc_rated_a',
  'least_thrust_to_weight',
  'arm_mm',
  'lift_to_drag',
  'cruise_throttle_pct',
  'flight_speed_m_per_s',
  'less_current_from_pct',
  'less_current_to_pct',
] as const
const NEEDED = ['motors', 'cells', 'capacity_mah', 'usable_pct'] as const
type NumberName = (typeof OPEN)[number] | (typeof NEEDED)[number]

export interface CraftDraft {
  name: string
  layout: NonNullable<CraftBody['layout']>
  use: NonNullable<CraftBody['use']>
  items: ItemDraft[]
  numbers: Record<NumberName, string>
  carries_motor: number | null
  carries_propeller: number | null
  lower_motor: number | null
  lower_propeller: number | null
  note: string
}

export const newItem = (name = ''): ItemDraft => ({
  name,
  mass_g: '',
  count: '1',
  basis: 'weighed',
  half_width_g: '',
})

export function newDraft(): CraftDraft {
  const numbers = Object.fromEntries([...OPEN, ...NEEDED].map((name) => [name, ''])) as Record<
    NumberName,
    string
  >
  return {
    name: '',
    layout: 'multirotor',
    use: 'equal',
    items: [newItem('frame'), newItem('pack'), newItem('electronics')],
    numbers: { ...numbers, motors: '4', cells: '4', usable_pct: '80' },
    carries_motor: null,
    carries_propeller: null,
    lower_motor: null,
    lower_propeller: null,
    note: '',
  }
}

const textOf = (value: number | null | undefined) => (value == null ? '' : String(value))

/** A kept craft to change, or to copy under another name with one thing changed. */
export function draftOf(craft: Craft, copy = false): CraftDraft {
  const numbers = Object.fromEntries(
    [...OPEN, ...NEEDED].map((name) => [name, textOf(craft[name])]),
  ) as Record<NumberName, string>
  return {
    name: copy ? `${craft.name}, changed`.slice(0, 80) : craft.name,
    layout: craft.layout ?? 'multirotor',
    use: craft.use ?? 'equal',
    items: craft.items.map((item) => ({
      name: item.name,
      mass_g: textOf(item.mass_g),
      count: textOf(item.count ?? 1),
      basis: item.basis ?? 'weighed',
      half_width_g: textOf(item.half_width_g),
    })),
    numbers,
    carries_motor: craft.carries_motor ?? null,
    carries_propeller: craft.carries_propeller ?? null,
    lower_motor: craft.lower_motor ?? null,
    lower_propeller: craft.lower_propeller ?? null,
    note: craft.note ?? '',
  }
}

type Supply = Schemas['Supply']

/** Packs of the rig that say what a craft has to know of its own. */
export const packsOf = (supplies: readonly Supply[]) =>
  supplies.filter((one) => one.kind === 'pack' && !one.retired && one.cells && one.capacity_mah)

/** The craft flies this pack: its cells, capacity and C-rate; what the pack does not say is empty.
 * Its mass is on no list of the rig: it stays as it was weighed here. */
export function takePack(draft: CraftDraft, pack: Supply) {
  draft.numbers.cells = textOf(pack.cells)
  draft.numbers.capacity_mah = textOf(pack.capacity_mah)
  draft.numbers.rated_c = textOf(pack.rate_c)
}

const LABELS: Record<(typeof NEEDED)[number], string> = {
  motors: 'Motors',
  cells: 'Cells',
  capacity_mah: 'Capacity',
  usable_pct: 'Flown of it',
}

/** What is to be sent, or what still keeps it from being sent. */
export function bodyOf(draft: CraftDraft): { body: CraftBody | null; gaps: string[] } {
  const gaps: string[] = []
  const read = (text: string, label: string, needed: boolean): number | null => {
    const typed = readTyped(text)
    if (typed.kind === 'number') return typed.value
    if (typed.kind === 'wrong') gaps.push(`${label}: ${typed.why}`)
    else if (needed) gaps.push(`${label}: write a number`)
    return null
  }
  if (!draft.name.trim()) gaps.push('Give the craft a name')
  const numbers: Record<string, number | null> = {}
  for (const name of NEEDED) numbers[name] = read(draft.numbers[name], LABELS[name], true)
  for (const name of OPEN)
    numbers[name] = read(draft.numbers[name], name.replaceAll('_', ' '), false)
  const written = draft.items.filter((item) => item.name.trim() || item.mass_g.trim())
  if (!written.length) gaps.push('Name what flies')
  const items = written.map((item) => {
    const label = item.name.trim() || 'an item'
    if (!item.name.trim()) gaps.push('Name every item')
    return {
      name: item.name.trim(),
      mass_g: read(item.mass_g, label, true) ?? 0,
      count: read(item.count, `${label}, how many`, true) ?? 1,
      basis: item.basis,
      half_width_g: read(item.half_width_g, `${label}, ±`, false),
    }
  })
  if (gaps.length) return { body: null, gaps }
  const coaxial = draft.layout === 'coaxial'
  const body = {
    ...numbers,
    name: draft.name.trim(),
    layout: draft.layout,
    use: draft.use,
    items,
    carries_motor: draft.carries_motor,
    carries_propeller: draft.carries_propeller,
    lower_motor: coaxial ? draft.lower_motor : null,
    lower_propeller: coaxial ? draft.lower_propeller : null,
    note: draft.note,
  } as CraftBody
  return { body, gaps: [] }
}

/** Mass of what is typed, without motors [g]; null where an item has no number yet. */
export function massOf(draft: CraftDraft): number | null {
  let total = 0
  for (const item of draft.items) {
    if (!item.name.trim() && !item.mass_g.trim()) continue
    const mass = readTyped(item.mass_g)
    const count = readTyped(item.count)
    if (mass.kind !== 'number' || count.kind !== 'number') return null
    total += mass.value * count.value
  }
  return total
}
