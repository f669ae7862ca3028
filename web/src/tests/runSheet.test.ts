import { afterEach, describe, expect, it, vi } from 'vitest'
import NextRun from '@/features/board/NextRun.vue'
import RunSheet from '@/features/plan/RunSheet.vue'
import { totalWords } from '@/features/plan/sheet'
import { alerts, press, refusal, serve, session, settle, show } from './mounting'

afterEach(() => {
  serve({})
  localStorage.clear()
  document.body.innerHTML = ''
})

const step = (kind: string, words: string, rest = {}) => ({
  kind,
  sample: 1,
  propeller: 2,
  motor_name: 'Ostrel Drift 2206 1900 A',
  propeller_name: 'Wickett 5.1x4.2x3',
  words,
  reference: false,
  starts_min: 0,
  minutes: 1.5,
  thrust_gf: kind === 'run' ? 1123.4 : null,
  thrust_u_gf: kind === 'run' ? 40.2 : null,
  current_a: kind === 'run' ? 29.41 : null,
  current_u_a: kind === 'run' ? 1.24 : null,
  ...rest,
})
const sheet = {
  campaign: 'Which of them?',
  supply: 4,
  supply_name: 'Pack 4-3',
  drift: 'reference',
  steps: [
    step('mount', 'Mount Ostrel Drift'),
    step('run', 'Run 1 of 2', { starts_min: 6 }),
    step('cool', 'Let it cool', { starts_min: 7.5, minutes: 3.2 }),
    step('run', 'Run 2 of 2', { starts_min: 10.7 }),
  ],
  minutes: 12.2,
  runs: 2,
  motor_swaps: 1,
  propeller_swaps: 0,
  cooling_minutes: 3.2,
  propellers: ['Wickett 5.1x4.2x3'],
  packs: 1,
  left_out: ['Hollin Pale on Corran: full throttle would pass a limit.'],
  reference: 'Ostrel Drift 2206 1900 A on Wickett 5.1x4.2x3',
}
const at = 'GET /api/v1/campaigns/7/sheet/'
const open = (props = {}) => show(RunSheet, { props: { campaign: 7, supply: 4, ...props } })

describe('the run sheet', () => {
  it('names what a day comes to, what to lay out and to charge, and what was left out', async () => {
    const asked = serve({ [at]: sheet })
    const { page } = await open()
    await settle()
    expect(asked[0]?.query).toEqual({ supply: '4', drift: 'reference' })
    const text = page.text().replaceAll(/\s+/g, ' ')
    expect(text).toContain('2 runs in 12 min, of which cooling takes 3 min; 1 motor to mount')
    expect(text).toContain('Charge 1 pack (assumed')
    expect(text).toContain('Lay out: Wickett 5.1x4.2x3')
    expect(text).toContain('1 left out')
    expect(text).toContain('glasses on')
    expect(page.findAll('tbody tr')).toHaveLength(4)
    expect(page.findAll('.figure').map((one) => one.text().replaceAll(/\s+/g, ' '))).toEqual([
      '~1,120±40gf',
      '~29.4±1.2A',
      '~1,120±40gf',
      '~29.4±1.2A',
    ])
    expect(page.findAll('a[download]').map((one) => one.attributes('href'))).toEqual([
      '/api/v1/campaigns/7/sheet.pdf?drift=reference&supply=4',
      '/api/v1/campaigns/7/sheet.csv?drift=reference&supply=4',
    ])
  })

  it('is taken to the bench, which says what it puts away there', async () => {
    const there = {
      title: 'The other one',
      supply_name: 'Pack 6-1',
      taken_at: '2026-10-05T08:00:00Z',
    }
    const asked = serve({
      [at]: sheet,
      'GET /api/v1/session/': session(),
      'GET /api/v1/day-sheets/in-use/': { found: there },
      'POST /api/v1/campaigns/7/day-sheets/': { id: 3 },
    })
    const { page, path } = await open()
    await settle()
    expect(page.text()).toContain('“The other one” on Pack 6-1')
    await press(page, 'Take it to the bench')
    expect(asked.find((one) => one.method === 'POST')?.body).toEqual({
      supply: 4,
      drift: 'reference',
    })
    expect(path()).toBe('/bench')
  })

  it('stays here when it could not be taken, and says why', async () => {
    serve({
      [at]: sheet,
      'GET /api/v1/session/': session(),
      'POST /api/v1/campaigns/7/day-sheets/': refusal(400, 'Nothing is left to run on Pack 4-3.'),
    })
    const { page, path } = await open()
    await settle()
    await press(page, 'Take it to the bench')
    expect(alerts(page)).toContain('Nothing is left to run on Pack 4-3.')
    expect(path()).toBe('/')
  })

  it('sets a run up and prints', async () => {
    serve({ [at]: sheet })
    const print = vi.fn()
    vi.stubGlobal('print', print)
    const { page } = await open()
    await settle()
    const buttons = page.findAll('button')
    await buttons.find((one) => one.text() === 'Set up')?.trigger('click')
    expect(page.findComponent(RunSheet).emitted('load')).toEqual([[1, 2]])
    await buttons.find((one) => one.text() === 'Print')?.trigger('click')
    expect(print).toHaveBeenCalledOnce()
  })

  it('says that nothing is left, and that it could not be read', async () => {
    serve({ [at]: { ...sheet, steps: [], runs: 0, left_out: [] } })
    const { page } = await open()
    await settle()
    expect(page.text()).toContain('Nothing is left to run on Pack 4-3.')
    page.unmount()
    serve({ [at]: refusal(409, 'A day is planned for at most 400 runs.') })
    const failed = await open()
    await settle()
    expect(failed.page.text()).toContain('at most 400 runs')
  })

  it('tells long days in hours', () => {
    expect(totalWords({ ...sheet, minutes: 200, cooling_minutes: 0 } as never)).toContain(
      '2 runs in 3.3 h; 1 motor',
    )
  })
})

describe('the next run on the Board', () => {
  const found = {
    campaign: 7,
    title: 'Which of them?',
    supply: 4,
    supply_name: 'Supply 16 V',
    next: { sample: 1, propeller: 2, minutes: 4, takes_off_pct: 12, sentence: 'Drift on Wickett.' },
    nothing_next: '',
    waits: [],
  }
  const key = (name: string, from: EventTarget = document.body) =>
    from.dispatchEvent(new KeyboardEvent('keydown', { key: name, bubbles: true }))

  it('is set up at the bench by B, but not while somebody types', async () => {
    serve({ 'GET /api/v1/plan/next/': { found } })
    const { page, path } = await show(NextRun, { props: { may: true } })
    await settle()
    expect(page.text()).toContain('Drift on Wickett.')
    const field = document.createElement('input')
    document.body.append(field)
    key('b', field)
    await settle()
    expect(path()).toBe('/')
    key('b')
    await settle()
    expect(path()).toBe('/bench?sample=1&propeller=2&supply=4')
  })

  it('is read, not loaded, by a reader; and says why there is none', async () => {
    serve({
      'GET /api/v1/plan/next/': {
        found: { ...found, next: null, nothing_next: 'Every cell is known within 2 %.' },
      },
    })
    const { page } = await show(NextRun, { props: { may: false } })
    await settle()
    expect(page.text()).toContain('known within 2 %')
    expect(page.find('button').exists()).toBe(false)
  })

  it('is not there without an open campaign', async () => {
    serve({ 'GET /api/v1/plan/next/': { found: null } })
    const { page } = await show(NextRun, { props: { may: true } })
    await settle()
    expect(page.find('section').exists()).toBe(false)
  })
})
