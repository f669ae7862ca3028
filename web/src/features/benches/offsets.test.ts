import { describe, expect, it } from 'vitest'
import { asSent, saidOf } from './ours'
import {
  drawnAt,
  nameOf,
  type Offset,
  offsetText,
  outcomeWords,
  scaleWords,
  spanOf,
} from './offsets'

const offset = (changed: Partial<Offset> = {}): Offset => ({
  condition: 'speed_rpm',
  name: 'thrust_gf',
  offset_pct: 5.17,
  u_pct: 1.97,
  half_width_pct: 3.86,
  outcome: 'different',
  loads: 3,
  motors: 1,
  assumed: true,
  ...changed,
})

describe('what another bench reads apart', () => {
  it('is told with its sign, and never finer than its u', () => {
    expect(offsetText(offset())).toBe('+5.2 ± 2.0\u2009%')
    expect(outcomeWords(offset())).toBe('they read more')
    expect(outcomeWords(offset({ offset_pct: -5.17 }))).toBe('they read less')
    expect(
      outcomeWords(offset({ outcome: 'unresolved', offset_pct: -1, half_width_pct: 3.2 })),
    ).toBe('not told apart: −4.2\u2009% to +2.2\u2009%')
    expect(outcomeWords(offset({ outcome: 'equivalent' }))).toBe('the same, within 2\u2009%')
  })
  it('says what it comes to, and that neither bench knows which is right', () => {
    expect(scaleWords([offset()])).toContain('Their scale shows 5.2 ± 2.0\u2009% more than ours')
    expect(scaleWords([offset({ offset_pct: -5.17 })])).toContain('2.0\u2009% less than ours')
    expect(scaleWords([offset()])).toContain('neither can tell')
    expect(scaleWords([offset({ outcome: 'equivalent', loads: 1 })])).toBe(
      'Over 1 load the two scales agree within 2\u2009%.',
    )
    expect(scaleWords([offset({ outcome: 'unresolved' })])).toContain('not told apart')
    expect(scaleWords([offset({ condition: 'full' })])).toBe('')
    expect(scaleWords([])).toBe('')
  })
  it('names a figure with where it was read', () => {
    expect(nameOf({ condition: 'speed_rpm', name: 'thrust_gf', at: 14000 })).toBe(
      'Thrust at one speed, 14,000\u2009rpm',
    )
    expect(nameOf({ condition: 'full', name: 'current_a', at: null })).toBe(
      'Current at full throttle',
    )
  })
  it('is drawn to one scale that holds every interval and the band', () => {
    const rows = [offset(), offset({ offset_pct: -9, half_width_pct: 4 })]
    const span = spanOf(rows)
    expect(span).toBeCloseTo(13.65)
    for (const row of rows) {
      const drawn = drawnAt(row, span)
      expect(drawn.low).toBeGreaterThanOrEqual(0)
      expect(drawn.high).toBeLessThanOrEqual(100)
      expect(drawn.low).toBeLessThan(drawn.at)
    }
    expect(drawnAt({ offset_pct: 0, half_width_pct: 0 }, span).at).toBe(50)
    expect(spanOf([])).toBeCloseTo(5.25)
  })
})

describe('what somebody says is ours', () => {
  const motors = [
    { key: 'drift', ours: 3, samples: ['A', 'M'] },
    { key: 'other', ours: null, samples: [{ mark: 'X', ours: 9 }] },
  ]
  it('begins with what was proposed or said', () => {
    const said = saidOf(motors, [{ key: 'p1', ours: 4 }])
    expect(said.motors.drift).toEqual({ ours: 3, begin: false, samples: {} })
    expect(said.motors.other?.samples).toEqual({ X: 9 })
    expect(said.propellers).toEqual({ p1: 4 })
  })
  it('names every sample, so that what was taken back is taken back', () => {
    const said = saidOf(motors, [])
    said.motors.drift = { ours: 3, begin: false, samples: { A: 7 } }
    said.motors.other = { ours: null, begin: true, samples: {} }
    expect(JSON.parse(asSent(said, motors))).toEqual({
      motors: { drift: 3, other: 'new' },
      samples: { 'drift/A': 7, 'drift/M': null, 'other/X': null },
      propellers: {},
    })
  })
})
