import { describe, expect, it } from 'vitest'
import {
  answerInWords,
  answerOfKey,
  answerOfSign,
  nextOpen,
  numberFault,
  suggestionOf,
} from './answers'
import { anAttribute } from '@/tests/mounting'

const shape = {
  key: 'magnet_shape',
  step: 'Magnets',
  label: 'Magnet shape',
  choices: [
    { key: 'arc', label: 'arc', suggests: 'even gap', helps: ['power'], costs: ['cost'] },
    { key: 'flat', label: 'flat', suggests: '', helps: [], costs: [] },
  ],
  unit: null,
  integer: false,
  counterpoint: '',
  ordinal_words: ['less', 'about the same', 'more'],
  low: 0,
  high: null,
}
const seen = {
  id: 1,
  sample: 1,
  attribute: 'magnet_shape' as const,
  observed_at: '2026-10-05T09:00:00Z',
  observed_by_name: '',
  reference_name: '',
  reference_short: '',
  reference_changed: false,
}

describe('answers', () => {
  it('are keys in the order they are printed', () => {
    expect(answerOfKey(shape, '1')).toEqual({ status: 'observed', choice: 'arc' })
    expect(answerOfKey(shape, '3')).toBeNull()
    expect(answerOfKey(shape, 'x')).toBeNull()
  })

  it('keep "could not tell" apart from "not looked at"', () => {
    expect(answerOfKey(shape, '0')).toEqual({ status: 'could_not_tell', choice: '' })
    expect(answerInWords(shape, { ...seen, status: 'could_not_tell' })).toBe('could not tell')
    expect(answerInWords(shape, { ...seen, status: 'not_looked' })).toBe('not looked at')
  })

  it('read as words with what they suggest', () => {
    const answer = { ...seen, status: 'observed' as const, choice: 'arc' }
    expect(answerInWords(shape, answer)).toBe('arc')
    expect(suggestionOf(shape, answer)).toBe('even gap')
  })
})

describe('answers that refer to another sample', () => {
  const reference = { id: 8, name: 'sample B', family: true, answered: true }

  it('name it without its maker', () => {
    const of = { ...seen, reference_short: 'Drift 2206 1900 B' }
    expect(answerInWords(shape, { ...of, status: 'same_as', choice: 'arc' })).toBe(
      'arc (same as Drift 2206 1900 B)',
    )
    expect(answerInWords(shape, { ...of, status: 'inferred', choice: 'arc' })).toContain('inferred')
    expect(answerInWords(shape, { ...of, status: 'ordinal', ordinal: 'more' })).toBe(
      'more beside Drift 2206 1900 B',
    )
  })

  it('are one letter or sign', () => {
    expect(answerOfSign(shape, 's', reference)).toEqual({ status: 'same_as', reference: 8 })
    expect(answerOfSign(shape, 'i', reference)).toEqual({ status: 'inferred', reference: 8 })
    expect(answerOfSign(shape, '<', reference)).toMatchObject({ ordinal: 'less', reference: 8 })
    expect(answerOfSign(shape, 'u', null)).toMatchObject({ status: 'could_not_tell' })
    expect(answerOfSign(shape, 'x', null)).toMatchObject({ status: 'not_looked' })
  })

  it('take over only what somebody looked at, and infer only within the family', () => {
    expect(answerOfSign(shape, 's', { ...reference, answered: false })).toBeNull()
    expect(answerOfSign(shape, 'i', { ...reference, family: false })).toBeNull()
    expect(answerOfSign(shape, 's', null)).toBeNull()
    expect(answerOfSign({ ...shape, ordinal_words: [] }, '>', reference)).toBeNull()
  })
})

describe('a number that cannot be', () => {
  const poles = anAttribute('pole_count', { unit: '', integer: true, low: 2, high: 96 })
  const mm = anAttribute('stator_diameter', { unit: 'mm', low: 4, high: 120 })
  it.each([
    [mm, '0.021', 'check the unit'],
    [mm, 'wide', 'Write a number'],
    [poles, '13', 'pairs'],
    [poles, '14.5', 'whole number'],
    [anAttribute('slot_count', { unit: '', integer: true, low: 3, high: 96 }), '10', 'threes'],
  ])('is said so: %#', (attribute, text, says) =>
    expect(numberFault(attribute, text)).toContain(says),
  )
  it('is silent about one that can', () => {
    expect(numberFault(mm, '21,2')).toBe('')
    expect(numberFault(poles, '14')).toBe('')
  })
})

describe('the next open question', () => {
  const keys = ['a', 'b', 'c', 'd']
  it('skips what is answered and comes round', () => {
    expect(nextOpen(keys, new Set(['b']), 0)).toBe(2)
    expect(nextOpen(keys, new Set(['d']), 2)).toBe(0)
  })
  it('goes on in order when everything is answered', () => {
    expect(nextOpen(keys, new Set(keys), 1)).toBe(2)
    expect(nextOpen(keys, new Set(keys), 3)).toBe(3)
  })
})
