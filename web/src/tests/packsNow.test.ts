/** How packs stand, and how it is said of them by one key. */
import { afterEach, describe, expect, it } from 'vitest'
import PacksNow from '@/features/rig/PacksNow.vue'
import { alerts, refusal, serve, session, settle, show } from './mounting'

afterEach(() => {
  serve({})
  document.body.innerHTML = ''
})

const pack = (changed: object = {}) => ({
  supply: 4,
  name: 'Pack 4-1',
  state: 'part_used',
  words: 'part used, about 15 % of it',
  waits: '',
  used_mah: { value: 200, u: 4, why: '' },
  left_mah: { value: 840.2, u: 4, why: '' },
  capacity_mah: 1300,
  runs: 2,
  said_at: '2026-10-05T08:00:00Z',
  joined: false,
  ...changed,
})
const open = async (packs: object[], role = 'reviewer', more: Record<string, unknown> = {}) => {
  const asked = serve({
    'GET /api/v1/session/': session(role),
    'GET /api/v1/packs-now/': packs,
    'PUT /api/v1/packs-now/4/': pack({ state: 'full' }),
    ...more,
  })
  const { page } = await show(PacksNow)
  await settle()
  return { page, asked, puts: () => asked.filter((one) => one.method === 'PUT') }
}

describe('packs now', () => {
  it('says what is left, with its u and as an estimate', async () => {
    const { page } = await open([pack()])
    const text = page.text().replaceAll(/\s+/g, ' ')
    expect(text).toContain('part used, about 15 % of it')
    expect(text).toMatch(/left ~840 ?± ?4 ?mAh/)
    expect(text).toContain('2 runs since')
    expect(page.find('.tag.caution').exists()).toBe(false)
  })

  it('says of a pack that has to wait that it does, and never less than nothing left', async () => {
    const words = 'part used, about 90 % of it: charge it first'
    const { page } = await open([
      pack({ words, waits: `Pack 4-1 is ${words}`, left_mah: { value: -130, u: 4, why: '' } }),
    ])
    expect(page.get('.tag.caution').text()).toBe(words)
    expect(page.text()).not.toContain('−130')
  })

  it.each([
    ['f', 'full'],
    ['P', 'part_used'],
    ['c', 'charging'],
    ['R', 'resting'],
  ])('takes %s for %s', async (key, state) => {
    const { page, puts } = await open([pack()])
    await page.get('[role=radiogroup]').trigger('keydown', { key })
    await settle()
    expect(puts().map((one) => one.body)).toEqual([{ state, used_mah: null }])
  })

  it('takes what a charger said was used, where the runs do not tell it', async () => {
    const why = 'how much was used before is not known'
    const { page, puts } = await open([pack({ used_mah: { value: null, u: null, why } })])
    expect(page.get('.used').text()).toContain(why)
    await page.get('.used').trigger('submit')
    await page.get('.used input').setValue('much')
    await page.get('.used').trigger('submit')
    await settle()
    expect(puts()).toEqual([])
    await page.get('.used input').setValue('1100')
    await page.get('.used').trigger('submit')
    await settle()
    expect(puts().map((one) => one.body)).toEqual([{ state: 'part_used', used_mah: 1100 }])
  })

  it('shows in brief only what somebody spoke of, and takes the keys there too', async () => {
    serve({
      'GET /api/v1/session/': session(),
      'GET /api/v1/packs-now/': [
        pack(),
        pack({ supply: 5, name: 'Pack 6-1', state: 'unknown', words: 'nobody said' }),
        pack({ supply: 9, name: '4-1 + 4-2', joined: true }),
      ],
      'PUT /api/v1/packs-now/4/': pack({ state: 'charging' }),
    })
    const { page } = await show(PacksNow, { props: { brief: true } })
    await settle()
    expect(page.findAll('li').map((one) => one.text())).toEqual([
      'Pack 4-1part used, about 15 % of it',
    ])
    await page.get('li a').trigger('keydown', { key: 'c' })
    await settle()
    expect(alerts(page)).toEqual([])
  })

  it('takes no other key, and none with Ctrl', async () => {
    const { page, puts } = await open([pack()])
    const group = page.get('[role=radiogroup]')
    await group.trigger('keydown', { key: 'x' })
    await group.trigger('keydown', { key: 'f', ctrlKey: true })
    await settle()
    expect(puts()).toEqual([])
  })

  it('is said of the packs and not of what is joined of them, and not by a reader', async () => {
    const { page } = await open([pack(), pack({ supply: 9, name: '4-1 + 4-2', joined: true })])
    expect(page.findAll('.say')).toHaveLength(1)
    page.unmount()
    const reader = await open([pack()], 'reader')
    expect(reader.page.find('.say').exists()).toBe(false)
  })

  it('says what was refused, and that it could not be read', async () => {
    const { page } = await open([pack()], 'reviewer', {
      'PUT /api/v1/packs-now/4/': refusal(400, 'It holds 850 mAh.'),
    })
    await page.get('[role=radiogroup]').trigger('keydown', { key: 'f' })
    await settle()
    expect(alerts(page)).toContain('It holds 850 mAh.')
    page.unmount()
    const away = await open([], 'reviewer', {
      'GET /api/v1/packs-now/': refusal(503, 'The database is away.'),
    })
    expect(alerts(away.page)).toContain('The database is away.')
    away.page.unmount()
    const none = await open([])
    expect(none.page.text()).toBe('')
  })
})
