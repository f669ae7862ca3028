/** The sheet that is being typed: it outlives a reload and a lost server. */
import { localDay } from '@/figures/format'
import type { Cells, Units } from './sheet'

export interface BlockDraft {
  sample: number | null
  propeller: number | null
  supply: number
  kind: 'held' | 'maxima'
  averaged: boolean
  rows: Cells[]
  note: string
  purpose: string
  overrun_reason: string
  pack_state: string
  pack_rest_v: string
  noticed: Record<string, string>
}
export interface SheetDraft {
  day: string
  stand: number
  columns: string[] | null
  units: Units
  blocks: BlockDraft[]
}

const firstRows = (): Cells[] => [{ throttle_pct: '0' }, {}, {}]

export function newBlock(like?: BlockDraft): BlockDraft {
  return {
    sample: like?.sample ?? null,
    propeller: null,
    supply: like?.supply ?? 0,
    kind: like?.kind ?? 'held',
    averaged: like?.averaged ?? false,
    rows: firstRows(),
    note: '',
    purpose: like?.purpose ?? '',
    overrun_reason: '',
    pack_state: '',
    pack_rest_v: '',
    noticed: {},
  }
}

export function newSheet(): SheetDraft {
  return { day: localDay(), stand: 0, columns: null, units: {}, blocks: [newBlock()] }
}

/** What was kept by this browser, also by an older version of this page; nothing of it is lost. */
export function asDraft(kept: unknown): SheetDraft {
  if (typeof kept !== 'object' || kept === null) return newSheet()
  const old = kept as Partial<SheetDraft> & Partial<BlockDraft>
  const blocks = old.blocks?.length ? old.blocks : [old]
  return {
    ...newSheet(),
    day: old.day ?? localDay(),
    stand: old.stand ?? 0,
    columns: old.columns ?? null,
    units: old.units ?? {},
    blocks: blocks.map((block) => {
      const known = newBlock()
      const own = Object.fromEntries(
        Object.entries(block).filter(([name]) => name in known),
      ) as Partial<BlockDraft>
      return { ...known, ...own }
    }),
  }
}

/** After a sheet was kept: the evening goes on with the same day, stand, motor and supply. */
export function goOn(draft: SheetDraft): SheetDraft {
  const last = draft.blocks.at(-1)
  return { ...draft, blocks: [{ ...newBlock(last), propeller: last?.propeller ?? null }] }
}
