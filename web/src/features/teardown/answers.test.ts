import { describe, expect, it } from 'vitest'
import { answerInWords, answerOfKey, nextOpen, readNumber, suggestionOf } from './answers'

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
}
const seen = {
  id: 1,
  sample: 1,
  attribute: 'magnet_shape' as const,
  observed_at: '2026-10-05T09:00:00Z',
  observed_by_name: '',
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

describe('numbers typed at the bench', () => {
  it.each([
    ['21.2', 21.2],
    ['21,2', 21.2],
    [' 14 ', 14],
  ])('%s', (text, value) => expect(readNumber(text)).toBe(value))

  it.each(['', 'tight', '1e3', '-2', '2..1'])('refuses %s', (text) =>
    expect(readNumber(text)).toBeNull(),
  )
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
