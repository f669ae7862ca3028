import { describe, expect, it } from 'vitest'
import { absentText, deltaOf, deltaTone } from './cells'

const cell = {
  value: 150,
  u: 1,
  absent_reason: '',
  absent_note: '',
  delta: -7.5,
  delta_pct: -5,
  u_pct: 0.8,
  outcome: 'different' as const,
  samples: 1,
  runs: 1,
  spread: null,
}

describe('a difference', () => {
  it('is better with less power or more thrust per power', () => {
    expect(deltaTone('power_w', cell)).toBe('better')
    expect(deltaTone('efficiency_g_per_w', cell)).toBe('worse')
  })

  it('has no tone while it is not a finding, or where neither way is better', () => {
    expect(deltaTone('power_w', { ...cell, outcome: 'unresolved' })).toBe('')
    expect(deltaTone('power_w', { ...cell, outcome: 'equivalent' })).toBe('')
    expect(deltaTone('speed_rpm', cell)).toBe('')
  })

  it('is never shown finer than its uncertainty', () => {
    expect(deltaOf(cell)).toEqual({ value: '−5.0', u: '0.8' })
    expect(deltaOf({ ...cell, delta_pct: null, u_pct: null })).toBeNull()
  })
})

it('says why a figure is not there', () => {
  expect(absentText({ ...cell, value: null, absent_reason: 'not_reached' })).toBe('not reached')
  expect(absentText({ ...cell, value: null, absent_reason: 'too_few_points' })).toBe('not measured')
})
