import { describe, expect, it } from 'vitest'
import {
  count,
  decimalsFor,
  deltaLine,
  deltaText,
  duration,
  figureLine,
  figureText,
  fileSize,
  formatNumber,
} from './format'
import { choices, headOf, labelOf, midSentence, runKind, unitOf, wordOf } from '@/words/words'

describe('figures for people', () => {
  it.each([
    [1175.3, 8.2, '1,175', '8'],
    [1175.31, 1.24, '1,175.3', '1.2'],
    [2.4218, 0.0038, '2.422', '0.004'],
    [28.66, 0.0376, '28.66', '0.04'],
    [0.04328, 0.000021, '0.043280', '0.000021'],
    [19640, 27, '19,640', '27'],
  ])('%s with u %s reads %s ± %s', (value, u, shown, shownU) => {
    expect(figureText(value, u)).toEqual({ value: shown, u: shownU })
  })

  it('gives a declared number four digits at most, and no zeros that nobody wrote', () => {
    expect(figureText(1175.349).value).toBe('1,175')
    expect(figureText(0.21).value).toBe('0.21')
    expect(figureText(16).value).toBe('16')
    expect(figureText(5.1).value).toBe('5.1')
    expect(figureText(1000).value).toBe('1,000')
    expect(figureText(0).value).toBe('0')
  })

  it('never drops the unit and keeps it near', () => {
    expect(figureLine(1175, 8, 'gf')).toBe('1,175 ± 8\u2009gf')
    expect(figureLine(1.02, 0.011, '')).toBe('1.020 ± 0.011')
  })

  it('has no negative zero', () => {
    expect(formatNumber(-0.001, 1)).toBe('0.0')
    expect(formatNumber(-3.25, 1)).toBe('−3.3')
  })

  it.each([
    [3.14, 0.7, '+3.1', '0.7'],
    [-10, 0.52, '−10.0', '0.5'],
    [12.34, 3.1, '+12', '3'],
    // Never exact, and what rounds to nothing has no sign.
    [1.5, 0.0004, '+1.50', '<0.01'],
    [0.002, 0.04, '0.00', '0.04'],
    [-0.2, 40, '0', '40'],
    [-0.04, null, '0.0', ''],
    [2.25, 0, '+2.3', ''],
  ])('signs a difference: %d %% with u %s as %s ± %s', (percent, u, shown, shownU) => {
    expect(deltaText(percent, u)).toEqual({ value: shown, u: shownU })
  })

  it('tells a difference in one line, with no ± where nobody knows it', () => {
    expect(deltaLine(3.14, 0.7)).toBe('+3.1 ± 0.7\u2009%')
    expect(deltaLine(-3.14, null)).toBe('−3.1\u2009%')
  })

  it('counts, and tells the size of a file', () => {
    expect(count(1334.4)).toBe('1,334')
    expect([1, 999_001, 1_000_000, 12_345_678, 2.5e9].map(fileSize)).toEqual([
      '1 kB',
      '1,000 kB',
      '1.0 MB',
      '12.3 MB',
      '2.5 GB',
    ])
  })

  it('rounds u up to the next digit without losing places', () => {
    expect(decimalsFor(0.0296)).toBe(2)
    expect(decimalsFor(1000)).toBe(-2)
    expect(decimalsFor(29.4)).toBe(0)
    expect(decimalsFor(30)).toBe(-1)
    expect(decimalsFor(0)).toBe(3)
  })

  it.each([
    [84_170, 5546, '84,000', '6,000'],
    [19_534, 34, '19,530', '30'],
    [19_534, 26, '19,534', '26'],
    [-19_535, 34, '−19,540', '30'],
    [4, 34, '0', '30'],
    [-4, 34, '0', '30'],
    [149_999, 96, '150,000', '100'],
  ])('writes %d ± %d without digits that u does not carry', (value, u, shown, uShown) => {
    expect(figureText(value, u)).toEqual({ value: shown, u: uShown })
  })

  it('tells durations in minutes', () => {
    expect(duration(42.4)).toBe('42\u2009s')
    expect(duration(236.8)).toBe('3\u2009min 57\u2009s')
  })
})

describe('names of quantities', () => {
  it('carry their unit', () => {
    expect(headOf('thrust_gf')).toBe('Thrust (gf)')
    expect(headOf('top_end_ratio')).toBe('Top-end ratio')
    expect(unitOf('motor_temp_c')).toBe('°C')
    expect(labelOf('something_else')).toBe('something_else')
  })
})

describe('the words that were told', () => {
  it('stand within a sentence without losing a symbol', () => {
    expect(midSentence('Largest thrust')).toBe('largest thrust')
    expect(midSentence('Best gf/W')).toBe('best gf/W')
    expect(midSentence('kV, raw')).toBe('kV, raw')
    expect(midSentence('ESC')).toBe('ESC')
  })

  it('name what the record keeps as a key, and keep a key that nobody told', () => {
    expect(wordOf('turning', 'ccw')).toBe('Counter-clockwise')
    expect(wordOf('turning', 'sideways')).toBe('sideways')
    expect(wordOf('turning', null)).toBe('')
    expect(choices('motor_kind').map((one) => one.key)).toEqual(['outrunner', 'brushed'])
    expect(runKind('no_load')?.needs_propeller).toBe(false)
    expect(runKind('dance')).toBeUndefined()
  })
})
