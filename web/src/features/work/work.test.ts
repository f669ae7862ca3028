import { describe, expect, it } from 'vitest'
import { isAtWork, percentOf, wordOfState } from './work'

describe('long work', () => {
  it('is at work until it has ended', () => {
    expect(['waiting', 'running'].every((state) => isAtWork({ state } as never))).toBe(true)
    for (const [state, word] of [
      ['done', 'done'],
      ['failed', 'failed'],
      ['cancelled', 'stopped'],
      ['lost', 'lost'],
    ] as const) {
      expect(isAtWork({ state })).toBe(false)
      expect(wordOfState({ state })).toBe(word)
    }
  })

  it('knows how far it is, and never more than all', () => {
    expect(percentOf({ done: 1, total: 3 })).toBe(33)
    expect(percentOf({ done: 5, total: null })).toBe(0)
    expect(percentOf({ done: 0, total: 0 })).toBe(0)
    expect(percentOf({ done: 9, total: 3 })).toBe(100)
  })
})
