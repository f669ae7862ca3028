import { describe, expect, it } from 'vitest'
import { roleIncludes } from './useSession'

describe('roles', () => {
  it('include those before them', () => {
    expect(roleIncludes('editor', 'reviewer')).toBe(true)
    expect(roleIncludes('reviewer', 'editor')).toBe(false)
    expect(roleIncludes('reader', 'reviewer')).toBe(false)
    expect(roleIncludes(undefined, 'reader')).toBe(false)
  })
})
