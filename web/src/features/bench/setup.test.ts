import { describe, expect, it } from 'vitest'
import {
  armBody,
  CHECKLIST,
  EMPTY_DRAFT,
  gapsOf,
  nearness,
  profileSeconds,
  readLevels,
} from './setup'

const all = new Set(CHECKLIST.map((item) => item.key))
const ready = { ...EMPTY_DRAFT, sample: 1, propeller: 2, supply: 3, stand: 4 }

describe('before a run', () => {
  it('reads plateaus however they are separated', () => {
    expect(readLevels('20 40, 60;80')).toEqual([20, 40, 60, 80])
    expect(readLevels('20 forty')).toBeNull()
    expect(readLevels('')).toBeNull()
  })

  it('tells how long the profile takes', () => {
    // 3 + 20/40 + 3 + 40/40 + 3 + 60/40 + 3
    expect(profileSeconds([20, 60], 3, 40)).toBe(15)
  })

  it('names every gap and none when all is there', () => {
    expect(gapsOf(EMPTY_DRAFT, new Set())).toHaveLength(5)
    expect(gapsOf(ready, all)).toEqual([])
    expect(gapsOf({ ...ready, levels: '120' }, all)).toEqual([
      'Plateaus are above 0 and at most 100 %',
    ])
    expect(gapsOf({ ...ready, current_a: '' }, all)).toEqual(['Set a current limit'])
    expect(gapsOf(ready, new Set(['eye_protection']))).toEqual(['Confirm the checklist (5 open)'])
  })

  it('sends only what was confirmed, and nothing for what is empty', () => {
    const body = armBody({ ...ready, motor_temp_c: '' }, new Set(['mount_clamped']), 'x')
    expect(body.checklist).toEqual(['mount_clamped'])
    expect(body.limits).toEqual({
      current_a: 40,
      motor_temp_c: null,
      thrust_gf: 4000,
      voltage_floor_v: null,
    })
    expect(body.air_temp_c).toBeNull()
    expect(body.profile.levels_pct).toEqual([20, 40, 60, 80, 100])
  })
})

describe('nearness to a limit', () => {
  it('warns from 80 % on', () => {
    expect(nearness(31, 40)).toBe(0)
    expect(nearness(32, 40)).toBe(1)
    expect(nearness(40.1, 40)).toBe(2)
    expect(nearness(50, null)).toBe(0)
    expect(nearness(undefined, 40)).toBe(0)
  })
})
