/** What the rig's forms send: numbers as typed on a bench, percents and mΩ brought to the API's units. */
import { readNumber } from '@/figures/readNumber'

/** A number that must be there; NaN is refused by the server with the field's name. */
const needed = (text: string): number => readNumber(text) ?? NaN
const optional = (text: string): number | null => (text.trim() ? needed(text) : null)

export interface StandDraft {
  name: string
  kind: string
  repeatability: string
  calibration: string
  live: boolean
}

export function standBody(draft: StandDraft) {
  return {
    name: draft.name,
    kind: draft.kind as 'direct' | 'lever',
    repeatability_rel: needed(draft.repeatability) / 100,
    calibration_rel: needed(draft.calibration) / 100,
    live: draft.live,
  }
}

export interface SupplyDraft {
  name: string
  kind: string
  volts: string
  trip: string
  cells: string
  mah: string
  mohm: string
}

export function supplyBody(draft: SupplyDraft) {
  const pack = draft.kind === 'pack'
  return {
    name: draft.name,
    kind: draft.kind as 'psu' | 'pack',
    resistance_ohm: needed(draft.mohm) / 1000,
    nominal_voltage_v: pack ? null : optional(draft.volts),
    trip_a: pack ? null : optional(draft.trip),
    cells: pack ? optional(draft.cells) : null,
    capacity_mah: pack ? optional(draft.mah) : null,
  }
}
