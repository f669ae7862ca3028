import { describe, expect, it } from 'vitest'
import words from '@/tests/words.json'
import { tell } from '@/words/words'
import {
  isElectrical,
  type LogMapping,
  NOTHING,
  roleOf,
  roles,
  spread,
  together,
  unitsOf,
  withColumn,
  withHeader,
  withRole,
} from './mapping'

tell(words as never)
const MAPPING: LogMapping = {
  format: 'log-mapping/1',
  columns: {
    Time: { channel: 'time_s', unit: 'ms', certainty: 0.9 },
    load: { channel: 'thrust_gf', unit: 'N', certainty: 0.4 },
  },
  names: { Motor: 'motor' },
  pole_count: null,
  header: {},
  idle_s: 8,
}

describe('a mapping', () => {
  it('knows what a column is', () => {
    expect(roleOf(MAPPING, 'load')).toBe('thrust_gf')
    expect(roleOf(MAPPING, 'Motor')).toBe('name:motor')
    expect(roleOf(MAPPING, 'other')).toBe(NOTHING)
    expect(roles().map(({ key }) => key)).toContain('name:propeller')
    expect(unitsOf('thrust_gf')).toContain('oz')
    expect(unitsOf('luck')).toEqual([])
  })

  it('gives a role to one column only', () => {
    const next = withRole(MAPPING, 'weight', 'thrust_gf')
    expect(next.columns.load).toBeUndefined()
    expect(next.columns.weight).toEqual({ channel: 'thrust_gf', unit: 'gf', certainty: 1 })
    const named = withRole(MAPPING, 'load', 'name:motor')
    expect(named.names).toEqual({ load: 'motor' })
    expect(named.columns.load).toBeUndefined()
    expect(withRole(MAPPING, 'load', NOTHING).columns).toEqual({ Time: MAPPING.columns.Time })
    expect(MAPPING.columns.load?.unit).toBe('N')
  })

  it('is sure of what somebody said', () => {
    expect(withColumn(MAPPING, 'load', { unit: 'kgf' }).columns.load).toMatchObject({
      unit: 'kgf',
      certainty: 1,
    })
    expect(withColumn(MAPPING, 'load', {}).columns.load).toMatchObject({ unit: 'N', certainty: 1 })
    expect(withColumn(MAPPING, 'nobody', { unit: 'kgf' })).toBe(MAPPING)
  })

  it('takes a column together with another, and alone again', () => {
    const both = together(MAPPING, 'load', 'plus', 'load 2')
    expect(both.columns.load).toEqual({
      channel: 'thrust_gf',
      unit: 'N',
      certainty: 1,
      how: 'plus',
      other: 'load 2',
    })
    // How without which column, or the other way round, is nothing yet.
    expect(together(MAPPING, 'load', 'plus', '').columns.load).not.toHaveProperty('how')
    expect(together(both, 'load', '', 'load 2').columns.load).not.toHaveProperty('other')
    expect(together(MAPPING, 'nobody', 'plus', 'load')).toBe(MAPPING)
    // Another role begins alone.
    expect(withRole(both, 'load', 'power_w').columns.load).not.toHaveProperty('how')
  })

  it('has a kind, or none', () => {
    const kind = withHeader(MAPPING, 'kind', 'ramp')
    expect(kind.header).toEqual({ kind: 'ramp' })
    expect(withHeader(kind, 'kind', '').header).toEqual({})
    expect(isElectrical(MAPPING)).toBe(false)
    const speed = withColumn(withRole(MAPPING, 'n', 'speed_rpm'), 'n', { unit: 'electrical rpm' })
    expect(isElectrical(speed)).toBe(true)
  })
})

it('says of all that are called alike what it says of one', () => {
  const nobody = { sample: null, propeller: null, supply: null }
  const whose = [nobody, nobody, { ...nobody, sample: 4 }, nobody]
  const called = ['drift', 'drift', 'drift', 'pale'].map((sample) => ({ sample }))
  const next = spread(whose, called, 0, 'sample', 7)
  // Who was said to be another one stays it.
  expect(next.map((one) => one.sample)).toEqual([7, 7, 4, null])
})
