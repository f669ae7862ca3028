/** Verdicts as a list, and one as it is spoken. */
import { describe, expect, it } from 'vitest'
import NotesPage from '@/features/verdict/NotesPage.vue'
import VerdictTable from '@/features/verdict/VerdictTable.vue'
import { pick, serve, session, settle, show } from './mounting'

describe('speaking notes', () => {
  it('are lines with the time they take', async () => {
    serve({
      'GET /api/v1/verdicts/4/notes/': {
        subject: 'Ostrel Drift 2206 1900',
        seconds: 92,
        sections: [{ title: 'Limits', lines: ['It pulls about 1,180 grams.'], seconds: 4 }],
      },
    })
    const { page } = await show(NotesPage, { path: '/v/4', at: '/v/:id' })
    expect(page.text()).toContain('1\u2009min 32\u2009s at an easy pace')
    expect(page.findAll('.line').map((one) => one.text())).toEqual(['It pulls about 1,180 grams.'])
  })
})

describe('the list of verdicts', () => {
  const row = (id: number, changed: object) => ({
    id,
    version: 1,
    subject: `Motor ${id}`,
    motor: id,
    comparison: null,
    ranking: null,
    kind: 'motor',
    runs: [],
    sentence: '',
    sentence_version: 1,
    stale: 0,
    blocked: 0,
    matters: false,
    grade: 'Thin evidence',
    changed_at: '2026-10-08T09:00:00Z',
    ...changed,
  })
  it('says how each stands and begins one', async () => {
    const asked = serve({
      'GET /api/v1/session/': session(),
      'GET /api/v1/verdicts/': {
        count: 3,
        results: [row(1, { stale: 2 }), row(2, { blocked: 3 }), row(3, { matters: true })],
      },
      'GET /api/v1/compare/saved/': [{ id: 5, name: 'One against the other' }],
      'GET /api/v1/rank/kept/': [{ id: 7, title: 'Five-inch', asked: {}, motors: 3 }],
      'GET /api/v1/motors/': { count: 0, results: [] },
      'POST /api/v1/verdicts/': { id: 4 },
    })
    const { page, path } = await show(VerdictTable)
    const said = page.findAll('tbody tr').map((one) => one.text())
    expect(said[0]).toContain('2 stale figures')
    expect(said[1]).toContain('3 to do')
    expect(said[2]).toContain('ready to publish, discloses an interest')
    const field = '[aria-label="On a kept comparison or ranking"]'
    const begin = () => page.findAll('button').find((one) => one.text() === 'Write it on that')
    await pick(page, field, 'One against the other')
    await begin()?.trigger('click')
    await settle()
    await pick(page, field, 'Five-inch (ranking)')
    await begin()?.trigger('click')
    await settle()
    const begun = asked.filter((one) => one.method === 'POST').map((one) => one.body)
    expect(begun).toEqual([{ comparison: 5 }, { ranking: 7 }])
    expect(path()).toBe('/publish/verdict/4')
  })
})
