import { describe, expect, it } from 'vitest'
import { type LimitName, type LimitTexts, proposed, usualLimits } from './limits'
import { armBody, checklist, checklistOf, faultsOf, freshDraft, gapsOf, nearness } from './setup'

const all = new Set(checklist().map((item) => item.key))
const ready = (changed: Partial<LimitTexts> = {}, off: LimitName[] = []) => ({
  ...freshDraft(),
  sample: 1,
  propeller: 2,
  supply: 3,
  stand: 4,
  limits: {
    ...usualLimits(),
    power_w: '640',
    speed_rpm: '33 500',
    voltage_floor_v: '13,2',
    ...changed,
  },
  off,
})

describe('before a run', () => {
  it('names every gap and none when all is there', () => {
    expect(gapsOf(freshDraft(), new Set())).toHaveLength(8)
    expect(gapsOf(ready(), all)).toEqual([])
    expect(gapsOf({ ...ready(), values: { steps: { levels_pct: '120' } } }, all)).toEqual([
      'Plateaus: 0.1 to 100 % throttle',
    ])
    expect(gapsOf(ready({ current_a: '' }), all)).toEqual(['Current: Set a limit.'])
    expect(gapsOf(ready(), new Set(['eye_protection']))).toEqual(['Confirm the checklist (5 open)'])
  })

  it.each(['', '  ', 'ninety', '9O', '90 °C', '-', 'NaN', '0', '-90'])(
    'blocks arming on a limit typed as "%s", beside its field',
    (text) => {
      const draft = ready({ motor_temp_c: text })
      expect(faultsOf(draft).motor_temp_c).toBeTruthy()
      expect(gapsOf(draft, all)[0]).toMatch(/^Motor: /)
    },
  )

  it.each([
    ['90,0', 'motor_temp_c', 90],
    ['13,2', 'voltage_floor_v', 13.2],
    ['2 000', 'thrust_gf', 2000],
    ['2,000', 'thrust_gf', 2000],
    ['2\u00a0000', 'thrust_gf', 2000],
  ] as const)('sends %s for %s as the number that was meant', (text, name, value) => {
    const draft = ready({ [name]: text })
    expect(gapsOf(draft, all)).toEqual([])
    expect(armBody(draft, all).limits[name]).toBe(value)
  })

  it('switches a limit off only by a choice that is named on the checklist', () => {
    const draft = ready({ thrust_gf: '' }, ['thrust_gf'])
    const items = checklistOf(draft)
    expect(items.at(-1)).toEqual({
      key: 'off_thrust_gf',
      text: 'Thrust does not cut this run: my choice',
    })
    expect(gapsOf(draft, all)).toEqual(['Confirm the checklist (1 open)'])
    const body = armBody(draft, new Set([...all, 'off_thrust_gf']))
    expect(body.limits.thrust_gf).toBeNull()
    expect(body.limits_off).toEqual(['thrust_gf'])
    expect(body.checklist).toContain('off_thrust_gf')
  })

  it('has a run that outlives its page for longer confirmed', () => {
    const draft = { ...ready(), page_grace_s: 5 }
    expect(checklistOf(draft).at(-1)?.key).toBe('longer_page_grace')
    expect(armBody(draft, all).page_grace_s).toBe(5)
  })

  it('makes no id and sends only what was confirmed', () => {
    const body = armBody(ready(), new Set(['mount_clamped']))
    expect(body).not.toHaveProperty('run_id')
    expect(body.checklist).toEqual(['mount_clamped'])
    expect(body.limits_off).toEqual([])
    expect(body.air_temp_c).toBeNull()
    expect(armBody({ ...ready(), air_temp_c: '−5,5' }, all).air_temp_c).toBe(-5.5)
    expect(body.profile.levels_pct).toEqual([20, 40, 60, 80, 100])
  })

  it('never sends what is no number', () => {
    expect(() => armBody(ready({ thrust_gf: 'many' }), all)).toThrow('no number')
    expect(() => armBody({ ...ready(), air_pressure_hpa: '98S' }, all)).toThrow('no number')
    expect(faultsOf({ ...ready(), air_pressure_hpa: '98S' }).air_pressure_hpa).toContain('98S')
  })

  it('proposes power and speed from what is chosen', () => {
    expect(proposed('power_w', '40', 16.8, 1900)).toBe('672')
    expect(proposed('speed_rpm', '40', 16.8, 1900)).toBe('35500')
    expect(proposed('speed_rpm', '40', 16.8, null)).toBe('')
    expect(proposed('power_w', 'x', 16.8, 1900)).toBe('')
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
