import { describe, expect, it } from 'vitest'
import CoefficientTable from '@/features/rig/CoefficientTable.vue'
import { serve, show } from './mounting'

const figure = (value: number | null, u: number | null = null, reason = '') => ({
  value,
  u,
  n: value === null ? null : 3,
  origin: value === null ? '' : 'derived',
  reason,
  assumed: false,
})
const row = (propeller: number, load: number | null) => ({
  propeller,
  ct: figure(0.1966, 0.0018),
  cp: load === null ? figure(null, null, 'no current') : figure(0.1213, 0.0015),
  merit: load === null ? figure(null, null, 'no current') : figure(0.573, 0.01),
  load_1e6_m5: load === null ? figure(null, null, 'no current') : figure(load, load / 80),
  runs: 11,
})

describe('what runs tell of propellers', () => {
  it('is a ladder from the lightest load, and what has no place stands last', async () => {
    serve({})
    const { page } = await show(CoefficientTable, {
      props: {
        rows: [row(1, 4.43), row(2, null), row(3, 0.388)],
        names: new Map([
          [1, 'Wickett 5.1x4.2x3'],
          [2, 'Corran 7x3.8x3'],
          [3, 'Sallow 3x3x3'],
        ]),
      },
    })
    const rows = page.findAll('tbody tr').map((one) => one.text())
    expect(rows.map((text) => text.split(' ')[0])).toEqual(['Sallow', 'Wickett', 'Corran'])
    // Each load with the digits that its own u carries.
    expect(rows[0]).toContain('0.388±0.005')
    expect(rows[1]).toContain('4.43±0.06')
    expect(rows[2]).toContain('no current')
    expect(rows[2]).toContain('0.1966')
  })
})
