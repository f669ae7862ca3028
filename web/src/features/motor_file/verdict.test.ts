import { describe, expect, it } from 'vitest'
import { aMotorFile } from '@/tests/mounting'
import { contradicted, howWell, verdictOf } from './verdict'

const file = (motor: object, rest: object = {}) =>
  aMotorFile({ ...rest, motor: { ...aMotorFile().motor, ...motor } }) as never
const on = (...runs: number[][]) => ({ propellers: runs.map((ids) => ({ runs: ids })) }) as never
const against = (rest: object) => ({
  quantity: 'kv_rpm_per_v',
  label: 'kV',
  source: 'label',
  resolved: true,
  deviation_pct: { value: -3.14, u: 0.4 },
  ...rest,
})

describe('how well a motor is known', () => {
  it.each([
    [{}, undefined, 'Nothing is known of it but its name.'],
    [{ claim_count: 3 }, undefined, 'Known by its claims alone.'],
    [{ observation_count: 12 }, on(), 'Looked at, never spun.'],
    [{ run_count: 1 }, undefined, '1 run on record.'],
    [{ run_count: 2 }, on(), '2 runs on record, none with plateaus on a propeller.'],
    [
      { run_count: 9 },
      on([1, 2, 3], [4]),
      'Measured and repeated: 9 runs on 2 combinations of propeller and voltage.',
    ],
  ])('%j with %j', (motor, performance, sentence) => {
    expect(howWell(file(motor), performance)).toBe(sentence)
  })

  it('does not call it repeated for many runs on many propellers', () => {
    expect(howWell(file({ run_count: 4 }), on([1, 2], [3], [4]))).toContain('none repeated 3 times')
  })
})

describe('what is contradicted', () => {
  it('is told with its side and no finer than its u', () => {
    const rows = [
      against({}),
      against({
        quantity: 'mass_g',
        label: 'Mass',
        source: 'web page',
        deviation_pct: { value: 12.34, u: 5 },
      }),
      against({ label: 'Thrust', resolved: false }),
      against({ label: 'Power', deviation_pct: { value: null, u: null } }),
    ]
    expect(contradicted(file({}, { against_claims: rows }))).toEqual([
      'kV is 3.1 % below the label',
      'mass is 12 % above the web page',
    ])
  })

  it('says that nothing is, only where something was held against a claim', () => {
    const none = file({ claim_count: 1 }, { open_points: [] })
    expect(verdictOf(none, undefined)).toBe('Known by its claims alone.')
    const held = file(
      { run_count: 1 },
      { against_claims: [against({ resolved: false })], open_points: ['x', 'y'] },
    )
    expect(verdictOf(held, undefined)).toBe(
      '1 run on record. No claim is contradicted. 2 open points.',
    )
  })
})
