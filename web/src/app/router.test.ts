import { describe, expect, it } from 'vitest'
import { guard, router, routes } from './router'
import { STATIONS } from './stations'

const importing = routes.find((route) => route.name === 'import') as { meta: object }

describe('the addresses', () => {
  it('have a name each, and every built station has one', () => {
    const names = routes.map((route) => route.name)
    expect(new Set(names).size).toBe(routes.length)
    expect(names).not.toContain(undefined)
    for (const station of STATIONS.filter((one) => one.built)) expect(names).toContain(station.key)
  })

  it.each([
    ['reader', { name: 'runs' }],
    ['reviewer', true],
    ['editor', true],
    // Who works is not known yet, or the session has ended: the login has its own way.
    [undefined, true],
  ])('lead %s from the import to %j', (role, to) => {
    expect(guard(importing, role)).toEqual(to)
  })

  it('leave everybody in what asks for no role, and lead elsewhere to the board', () => {
    expect(guard({ meta: {} }, 'reader')).toBe(true)
    expect(guard({ meta: { needs: 'administrator' } }, 'editor')).toEqual({ name: 'board' })
  })

  it('show another page from its top, and leave another look at one page where it is', () => {
    const page = document.createElement('main')
    page.className = 'page'
    document.body.append(page)
    page.scrollTop = 340
    const at = (path: string) => ({ path }) as never
    void router.options.scrollBehavior?.(at('/plan'), at('/plan'), null)
    expect(page.scrollTop).toBe(340)
    void router.options.scrollBehavior?.(at('/bench'), at('/plan'), null)
    expect(page.scrollTop).toBe(0)
    page.remove()
  })
})
