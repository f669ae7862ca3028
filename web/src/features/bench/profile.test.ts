import { describe, expect, it } from 'vitest'
import { runKind } from '@/words/words'
import {
  kindOf,
  parameterFault,
  playedKinds,
  profileBody,
  profileFaults,
  readLevels,
  usualValues,
  valuesOf,
} from './profile'

const draft = (kind: string, typed: Record<string, string> = {}) => ({
  kind,
  values: { [kind]: typed },
})

describe('what a kind of run is asked for', () => {
  it('plays every kind but typed readings', () => {
    expect(playedKinds().map((kind) => kind.key)).toEqual([
      'steps',
      'ramp',
      'peak',
      'hold',
      'no_load',
      'flywheel',
      'response',
      'soak',
      'direction',
    ])
    expect(kindOf(draft('readings that are gone')).key).toBe('steps')
  })

  it('reads plateaus however they are separated', () => {
    expect(readLevels('20 40, 60;80')).toEqual([20, 40, 60, 80])
    expect(readLevels('20,5 40')).toEqual([20.5, 40])
    expect(readLevels('20 forty')).toBeNull()
    expect(readLevels('20,40')).toBeNull()
    expect(readLevels('')).toBeNull()
  })

  it('takes what is usual until somebody types', () => {
    expect(usualValues('response').cycles).toBe('8')
    expect(valuesOf(draft('response', { cycles: '3' }))).toMatchObject({
      cycles: '3',
      low_pct: '15',
      high_pct: '55',
    })
    expect(profileBody(draft('response', { cycles: '3' }))).toEqual({
      kind: 'response',
      low_pct: 15,
      high_pct: 55,
      cycles: 3,
      dwell_s: 1,
      rest_s: 3,
    })
  })

  it('asks for what nobody can know, and leaves out what nobody need say', () => {
    expect(Object.keys(profileFaults(draft('flywheel')))).toEqual([
      'inertia_kg_mm2',
      'rated_speed_rpm',
    ])
    expect(profileBody(draft('flywheel'))).toBeNull()
    const soak = profileBody(draft('soak', { level_pct: '55' }))
    expect(soak).not.toHaveProperty('until_c')
    expect(profileBody(draft('soak', { level_pct: '55', until_c: '70' }))).toMatchObject({
      until_c: 70,
    })
  })

  it.each(['9O', 'ninety', '', '0', '-3', '700'])('never sends a level typed as "%s"', (text) => {
    expect(profileFaults(draft('soak', { level_pct: text })).level_pct).toBeTruthy()
    expect(profileBody(draft('soak', { level_pct: text }))).toBeNull()
  })

  it('names the range in the words of the registry', () => {
    const fault = (name: string, text: string) =>
      runKind('steps')
        ?.parameters.filter((one) => one.name === name)
        .map((one) => parameterFault(one, text))
    expect(fault('dwell_s', '0.5')).toEqual(['Dwell on each: 1.5 to 60 s'])
    expect(fault('levels_pct', '20 x')?.[0]).toContain('write numbers')
    expect(fault('levels_pct', '20 120')).toEqual(['Plateaus: 0.1 to 100 % throttle'])
    expect(fault('levels_pct', '20 40')).toEqual([''])
  })
})
