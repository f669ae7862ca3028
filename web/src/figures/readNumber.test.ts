import { describe, expect, it } from 'vitest'
import { numberFault, numberOf, numberOrNull, readNumber, readTyped } from './readNumber'

describe('what is typed as a number', () => {
  it.each([
    ['90', 90],
    ['90,0', 90],
    ['13,2', 13.2],
    ['2 000', 2000],
    ['2\u00a0000', 2000],
    ['2\u202f000,5', 2000.5],
    ["12'345.6", 12345.6],
    ['1.234,5', 1234.5],
    ['1,234.5', 1234.5],
    ['1,234,567', 1234567],
    ['0,212', 0.212],
    ['.5', 0.5],
    ['5.', 5],
    ['-5', -5],
    ['−5,5', -5.5],
    ['+3', 3],
    ['\u200e985,2 ', 985.2],
    ['21.205', 21.205],
  ])('%s', (text, value) => {
    expect(readTyped(text)).toEqual({ kind: 'number', value })
  })

  it.each([
    '19oo',
    '79.60 EUR',
    '20 40',
    '1 00',
    '9O',
    '12,3,4',
    '1e3',
    'NaN',
    'Infinity',
    '--5',
    '5-',
    '٣',
  ])('no number: %s', (text) => {
    expect(readTyped(text).kind).toBe('wrong')
    expect(numberFault(text)).toContain(text.trim())
    expect(readNumber(text)).toBeNull()
    expect(() => numberOf(text)).toThrow(TypeError)
    expect(() => numberOrNull(text)).toThrow(TypeError)
  })

  it('asks where a comma can be either', () => {
    expect(numberFault('2,000')).toBe('2,000 can be 2000 or 2.000: write it one way.')
  })

  it('takes the reading that is possible', () => {
    expect(readTyped('2,000', [10, 50_000])).toEqual({ kind: 'number', value: 2000 })
    expect(readTyped('13,200', [1, 100])).toEqual({ kind: 'number', value: 13.2 })
    expect(readTyped('2,000', [1, 5000]).kind).toBe('wrong')
    expect(readTyped('2,000', [3, 4]).kind).toBe('wrong')
  })

  it('knows empty from wrong', () => {
    expect(readTyped('  ')).toEqual({ kind: 'empty' })
    expect(numberOrNull('')).toBeNull()
    expect(numberFault('')).toBe('')
    expect(() => numberOf('')).toThrow('missing')
  })

  it('takes no negative one where none can be', () => {
    expect(readNumber('-3')).toBeNull()
    expect(readNumber('3,5')).toBe(3.5)
  })
})
