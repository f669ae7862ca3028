import { describe, expect, it } from 'vitest'
import { missWords } from '@/features/runs/expected'
import { againstLimit } from './expected'

describe('what is expected against a limit', () => {
  it('counts two u, so that a wide guess warns early', () => {
    expect(againstLimit(29, 1, 40)).toEqual({ state: 'far', words: '73 % of the limit' })
    expect(againstLimit(36, 0.5, 40)?.state).toBe('near')
    expect(againstLimit(30, 6, 40)).toEqual({
      state: 'near',
      words: '75 % of the limit; it may be cut',
    })
    expect(againstLimit(41, 2, 40)?.words).toContain('will probably be cut')
    expect(againstLimit(50, 2, 40)?.words).toContain('will be cut before it gets there')
  })

  it('says nothing where no limit is set', () => {
    expect(againstLimit(29, 1, null)).toBeNull()
    expect(againstLimit(29, 1, 0)).toBeNull()
  })

  it('says a miss in words', () => {
    expect([0.4, -1.7, 2.5, -9, null].map(missWords)).toEqual([
      'as expected',
      'within two u',
      'above what was expected',
      'far below what was expected',
      '',
    ])
  })
})
