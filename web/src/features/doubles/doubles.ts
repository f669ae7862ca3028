/** Words of doubles. */
import type { Schemas } from '@/api/client'

export type Thing = Schemas['Double']['thing']
export interface Two {
  thing: Thing
  stays: number
  gone: number
}

export const THINGS: Record<Thing, string> = {
  maker: 'Maker',
  motor: 'Motor',
  propeller: 'Propeller',
}

/** Where one of them is looked at; a maker and a propeller have no page of their own. */
export const ADDRESS: Record<Thing, string> = { maker: '', motor: '/motors/', propeller: '' }

/** What moves, as one says it: "3 samples, 1 parcel"; a motor that was only named has nothing. */
export function movesWords(moved: readonly { what: string; count: number }[]): string {
  if (!moved.length) return 'Nothing hangs on it.'
  return `${moved.map((one) => `${one.count} ${one.what}`).join(', ')}.`
}
