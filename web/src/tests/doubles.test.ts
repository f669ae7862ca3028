import { describe, expect, it } from 'vitest'
import { ApiError, mergedInto } from '@/api/client'
import { movesWords } from '@/features/doubles/doubles'
import DoublesPage from '@/features/doubles/DoublesPage.vue'
import { type Asked, alerts, refusal, serve, settle, show } from './mounting'

const PAIR = {
  thing: 'motor',
  stays: 3,
  stays_name: 'Quillmoor Sable 2105.5 1950',
  gone: 9,
  gone_name: 'Quill moor sable',
  why: 'the same name; one lacks size or kV',
}
const WOULD = {
  stays: 3,
  stays_name: PAIR.stays_name,
  stays_version: 2,
  gone_name: PAIR.gone_name,
  gone_version: 5,
  moved: [
    { what: 'samples', count: 2 },
    { what: 'parcel', count: 1 },
  ],
  renamed: [{ before: 'A', after: 'C' }],
  dropped: [],
  set_apart: ['mass_g 31 (page, of Quill moor sable)'],
  filled: ['note'],
  differs: [{ what: 'kv label rpm per v', stays: '1950.0', gone: '2000.0' }],
}
const MERGED = {
  id: 1,
  thing: 'motor',
  gone: 12,
  gone_name: 'Sable II',
  stays: 3,
  merged_at: '2026-11-28T10:00:00Z',
}

async function open(changes: object = {}, role = 'editor', answers: object = {}) {
  const asked: Asked[] = serve({
    'GET /api/v1/session/': { user: { id: 1, username: 'ilse', role } },
    'GET /api/v1/doubles/': { pairs: [PAIR], more: 0, merged: [], ...changes },
    'POST /api/v1/doubles/look/': WOULD,
    'POST /api/v1/doubles/': WOULD,
    ...answers,
  })
  const { page } = await show(DoublesPage, {})
  return { page, asked }
}
const press = async (page: Awaited<ReturnType<typeof open>>['page'], words: string) => {
  const found = page.findAll('button').find((one) => one.text().includes(words))
  expect(found, words).toBeTruthy()
  await found?.trigger('click')
  await settle()
}

describe('doubles', () => {
  it('says what hangs on one in words', () => {
    expect(movesWords(WOULD.moved)).toBe('2 samples, 1 parcel.')
    expect(movesWords([])).toBe('Nothing hangs on it.')
  })

  it('an empty bench has none, and says so', async () => {
    const { page } = await open({ pairs: [] })
    expect(page.text()).toContain('No two names are alike')
    expect(page.text()).not.toContain('Merged before')
  })

  it('what would come of it is shown before anything is done', async () => {
    const { page, asked } = await open()
    await press(page, 'Look at them')
    const told = page.get('[aria-labelledby=merge]').text()
    for (const words of [
      '2 samples, 1 parcel',
      'A becomes C',
      '1950.0 stands',
      'mass_g 31',
      'note',
    ])
      expect(told).toContain(words)
    const sent = asked.filter((one) => one.method === 'POST')
    expect(sent.map((one) => [one.path, one.body])).toEqual([
      ['/api/v1/doubles/look/', { thing: 'motor', stays: 3, gone: 9 }],
    ])
  })

  it('the other may be the one that stays', async () => {
    const { page, asked } = await open()
    await press(page, 'Look at them')
    await press(page, 'Turn them')
    const looks = asked.filter((one) => one.path === '/api/v1/doubles/look/')
    expect(looks.at(-1)?.body).toEqual({ thing: 'motor', stays: 9, gone: 3 })
  })

  it('is merged from the versions that were looked at, once it was said twice', async () => {
    const { page, asked } = await open()
    await press(page, 'Look at them')
    await press(page, 'Merge them …')
    expect(asked.some((one) => one.path === '/api/v1/doubles/' && one.method === 'POST')).toBe(
      false,
    )
    const sure = [...document.querySelectorAll('button')].find(
      (one) => one.textContent?.trim() === 'Merge them',
    )
    sure?.click()
    await settle()
    const sent = asked.find((one) => one.path === '/api/v1/doubles/' && one.method === 'POST')
    expect(sent?.body).toEqual({
      thing: 'motor',
      stays: 3,
      gone: 9,
      stays_version: 2,
      gone_version: 5,
    })
    expect(page.get('.said').text()).toBe(`${PAIR.gone_name} is ${PAIR.stays_name} now.`)
  })

  it('what cannot be one is refused with its reason, and nothing can be pressed', async () => {
    const { page } = await open({}, 'editor', {
      'POST /api/v1/doubles/look/': refusal(409, 'Both have a verdict.'),
    })
    await press(page, 'Look at them')
    expect(alerts(page)).toContain('Both have a verdict.')
    const merge = page.findAll('button').find((one) => one.text().includes('Merge them'))
    expect(merge?.attributes('disabled')).toBeDefined()
  })

  it('who may not merge sees them and no button', async () => {
    const { page } = await open({ merged: [MERGED] }, 'reviewer')
    expect(page.text()).toContain(PAIR.gone_name)
    expect(page.text()).toContain('An editor can merge them.')
    expect(page.findAll('button').length).toBe(0)
    expect(page.get('a[href="/motors/3"]').text()).toBe('what it is now')
  })

  it('an old address leads to the motor it is, and no other error does', () => {
    const body = (code: string, current: object | null) =>
      ({ code, message: '', fields: {}, where: null, current }) as never
    expect(mergedInto(new ApiError(404, body('merged', { stays: 7 })))).toBe(7)
    expect(mergedInto(new ApiError(404, body('not_found', null)))).toBeNull()
    expect(mergedInto(new ApiError(409, body('changed_meanwhile', { version: 3 })))).toBeNull()
    expect(mergedInto(new TypeError('network'))).toBeNull()
  })
})
