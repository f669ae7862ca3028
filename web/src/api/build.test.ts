import { afterEach, describe, expect, it } from 'vitest'
import { noteBuild, olderThanServer, openedAnew } from './build'

const answer = (build?: string) =>
  new Response('{}', { headers: build ? { 'X-Spindle-Build': build } : {} })

describe('a page and its server', () => {
  afterEach(openedAnew)

  it('are one version until an answer names another build', () => {
    noteBuild(answer('one'))
    noteBuild(answer('one'))
    expect(olderThanServer.value).toBe(false)
    noteBuild(answer('two'))
    expect(olderThanServer.value).toBe(true)
    noteBuild(answer('one'))
    expect(olderThanServer.value).toBe(true)
  })

  it('are not apart for an answer that names none', () => {
    noteBuild(answer())
    noteBuild(answer('one'))
    noteBuild(answer())
    expect(olderThanServer.value).toBe(false)
  })
})
