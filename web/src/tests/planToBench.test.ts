/** From the plan to the bench: what is passed over, limits, readers' requests, the sheet in use. */
import { afterEach, describe, expect, it } from 'vitest'
import type { Schemas } from '@/api/client'
import LetterForm from '@/features/afterwards/LetterForm.vue'
import DaySheetPanel from '@/features/bench/DaySheetPanel.vue'
import BracketSheet from '@/features/plan/BracketSheet.vue'
import NextSheet from '@/features/plan/NextSheet.vue'
import { askedFor, cellAsked, readersOf } from '@/features/plan/asked'
import { alerts, press, refusal, serve, session, settle, show } from './mounting'

afterEach(() => {
  serve({})
  document.body.innerHTML = ''
})

const matrix = {
  supply: 3,
  supply_name: 'Supply 16 V',
  rows: [
    { away: '', sample: 1, motor: 11, name: 'Drift', mark: 'A', basis: 'identified', words: '' },
    { sample: 2, motor: 11, name: 'Drift', mark: 'B', basis: 'identified', words: '' },
  ],
  columns: [
    { propeller: 7, name: 'Wickett 5x3.6x3', basis: '', words: '' },
    { propeller: 8, name: 'Corran 6x4x2', basis: '', words: '' },
  ],
  cells: [],
  brackets: [],
  next: {
    sample: 1,
    propeller: 7,
    minutes: 7.5,
    takes_off_pct: 40,
    sentence: 'Drift A takes 40 %.',
  },
  nothing_next: '',
} as unknown as Schemas['Matrix']
const nobodyWaits = { waits: '', supply: null, supply_name: '', next: null }
const override = (changed: object = {}) => ({
  id: 5,
  version: 2,
  supply: 3,
  supply_name: 'Supply 16 V',
  sample: 2,
  sample_name: 'Drift B',
  propeller: 8,
  propeller_name: 'Corran 6x4x2',
  chosen_name: '',
  reason: 'its bearing is out',
  active: true,
  decided_by_name: 'Ilse',
  decided_at: '2026-10-05T08:00:00Z',
  ...changed,
})

async function next(changed: Record<string, unknown> = {}, props: object = {}) {
  const asked = serve({
    'GET /api/v1/session/': session(),
    'GET /api/v1/campaigns/4/meanwhile/': nobodyWaits,
    'GET /api/v1/campaigns/4/overrides/': [],
    'POST /api/v1/campaigns/4/overrides/': override(),
    'PATCH /api/v1/overrides/5/': override({ active: false }),
    ...changed,
  })
  const { page } = await show(NextSheet, { props: { campaign: 4, matrix, cell: null, ...props } })
  await settle()
  return { page, asked, loads: () => page.findComponent(NextSheet).emitted('load') }
}

describe('what to run next', () => {
  it('is set up at the bench on the supply that is looked at', async () => {
    const { page, loads } = await next()
    await press(page, 'Set it up at the bench')
    expect(loads()).toEqual([[1, 7, 3]])
  })

  it('is passed over with a reason, never without one', async () => {
    const { page, asked, loads } = await next()
    await press(page, 'Not this one')
    const go = page.findAll('button').find((one) => one.text() === 'Pass over it')
    expect(go?.attributes('disabled')).toBeDefined()
    await page.get('input').setValue('   ')
    expect(go?.attributes('disabled')).toBeDefined()
    await page.get('input').setValue('the hub is too tight')
    await page.get('form').trigger('submit')
    await settle()
    expect(asked.find((one) => one.method === 'POST')?.body).toEqual({
      supply: 3,
      sample: 1,
      propeller: 7,
      reason: 'the hub is too tight',
      chosen_sample: null,
      chosen_propeller: null,
    })
    expect(loads()).toBeUndefined()
    expect(page.find('form').exists()).toBe(false)
  })

  it('offers the cell in hand in its place, and sets it up', async () => {
    const cell = { sample: 2, propeller: 8, name: 'Drift B on Corran 6x4x2' }
    const { page, asked, loads } = await next({}, { cell })
    await press(page, 'Not this one')
    await page.get('input:not([type=checkbox])').setValue('readers wait for it')
    await page.get('input[type=checkbox]').setValue(true)
    await page.get('form').trigger('submit')
    await settle()
    expect(asked.find((one) => one.method === 'POST')?.body).toMatchObject({
      chosen_sample: 2,
      chosen_propeller: 8,
    })
    expect(loads()).toEqual([[2, 8, 3]])
  })

  it('does not offer the proposed run in its own place', async () => {
    const { page } = await next({}, { cell: { sample: 1, propeller: 7, name: 'itself' } })
    await press(page, 'Not this one')
    expect(page.find('input[type=checkbox]').exists()).toBe(false)
  })

  it('keeps what was typed when it was refused', async () => {
    const { page } = await next({
      'POST /api/v1/campaigns/4/overrides/': refusal(400, 'This run is passed over already.'),
    })
    await press(page, 'Not this one')
    await page.get('input').setValue('again')
    await page.get('form').trigger('submit')
    await settle()
    expect(alerts(page).join()).toContain('passed over already')
    expect((page.get('input').element as HTMLInputElement).value).toBe('again')
  })

  it('lists what was passed over on this supply and proposes it again', async () => {
    const { page, asked } = await next({
      'GET /api/v1/campaigns/4/overrides/': [
        override(),
        override({ id: 6, active: false, reason: 'rain' }),
        override({ id: 7, supply: 9, reason: 'elsewhere' }),
      ],
    })
    expect(page.get('summary').text()).toBe('1 passed over, 1 taken back')
    expect(page.text()).toContain('“its bearing is out”')
    expect(page.text()).not.toContain('elsewhere')
    await press(page, 'Propose it again')
    expect(asked.find((one) => one.method === 'PATCH')?.body).toEqual({ active: false, version: 2 })
  })

  it('says why a pack waits and what runs meanwhile', async () => {
    const { page, loads } = await next({
      'GET /api/v1/campaigns/4/meanwhile/': {
        waits: 'Pack 4-1 is on the charger',
        supply: 12,
        supply_name: 'Supply 24 V',
        next: { ...matrix.next, sample: 2, sentence: 'Drift B takes 12 %.' },
      },
    })
    expect(page.get('.waits').text()).toContain('Meanwhile on Supply 24 V: Drift B takes 12 %.')
    await press(page, 'Set that up')
    expect(loads()).toEqual([[2, 7, 12]])
  })
})

describe('a limit', () => {
  it('names both ends, and what is foreseen apart from what was run', async () => {
    const end = (name: string, tried: boolean) => ({
      propeller: 1,
      name,
      used: 0.874,
      used_u: 0.021,
      tried,
    })
    const row = {
      sample: 1,
      name: 'Drift A',
      below: end('Wickett 5x3.6x3', true),
      above: null,
      next: end('Corran 6x4x2', false),
      tried: false,
      words: 'None is known to pass one.',
    }
    const { page } = await show(BracketSheet, { props: { brackets: [row] } })
    const cells = page.findAll('td').map((one) => one.text().replaceAll(/\s+/g, ' '))
    expect(cells[0]).toBe('Wickett 5x3.6x3was run ~87.4 ± 2.1 % of the tightest limit')
    expect(cells[1]).toBe('—')
    expect(cells[2]).toContain('Corran 6x4x2')
    expect(page.findAll('.foreseen').map((one) => one.text())).toEqual(['Corran 6x4x2'])
    expect(page.get('[data-reason]').attributes('data-reason')).toContain('None is known')
  })
})

describe('what readers ask', () => {
  const letter = (changed: object = {}) =>
    ({ motor: 11, propeller: 8, supply: null, readers: 7, person: '', ...changed }) as never

  it('is told by how many, by when and by whom', () => {
    expect(askedFor(letter())).toBe('7 readers')
    expect(askedFor(letter({ readers: 1, wanted_by: '2026-12-04', person: 'Ana' }))).toBe(
      'one reader, by 2026-12-04; Ana',
    )
  })

  it('leads to its cell where it names one of this matrix on this supply', () => {
    expect(cellAsked(letter(), matrix)).toEqual([0, 1])
    expect(cellAsked(letter({ supply: 3 }), matrix)).toEqual([0, 1])
    for (const other of [{ supply: 9 }, { motor: 99 }, { propeller: 99 }, { propeller: null }])
      expect(cellAsked(letter(other), matrix)).toBeNull()
  })

  it('is added up for every sample of the motor', () => {
    const all = [letter(), letter({ readers: 2 }), letter({ supply: 9, readers: 50 })]
    expect(readersOf(all, matrix, 0, 1)).toBe(9)
    expect(readersOf(all, matrix, 1, 1)).toBe(9)
    expect(readersOf(all, matrix, 0, 0)).toBe(0)
    expect(readersOf(all, matrix, 5, 0)).toBe(0)
  })
})

describe('a request that is noted', () => {
  afterEach(() => localStorage.clear())
  const form = async (readers: string) => {
    const kept = { kind: 'request', text: 'The two-blade?', received_on: '2026-10-05', readers }
    localStorage.setItem('spindle.letter-any', JSON.stringify(kept))
    const asked = serve({
      'GET /api/v1/session/': session(),
      'GET /api/v1/supplies/': { count: 0, next: null, results: [] },
      'GET /api/v1/propellers/': { count: 0, next: null, results: [] },
      'GET /api/v1/motors/': { count: 0, next: null, results: [] },
      'POST /api/v1/letters/': { id: 1 },
    })
    const { page } = await show(LetterForm)
    await settle()
    return { page, posts: () => asked.filter((one) => one.method === 'POST') }
  }

  it('says how many asked', async () => {
    const { page, posts } = await form('12')
    await page.get('form').trigger('submit')
    await settle()
    expect(posts()[0]?.body).toMatchObject({
      kind: 'request',
      readers: 12,
      wanted_by: null,
      propeller: null,
      supply: null,
    })
    page.unmount()
  })

  it.each(['many', '', ' '])('waits while “%s” readers is no number', async (readers) => {
    const { page, posts } = await form(readers)
    await page.get('form').trigger('submit')
    await settle()
    expect(posts()).toEqual([])
    page.unmount()
  })
})

describe('the run sheet at the bench', () => {
  const step = (kind: string, words: string, done = false) => ({
    kind,
    words,
    done,
    sample: 1,
    propeller: 7,
    motor_name: 'Drift A',
    propeller_name: 'Wickett 5x3.6x3',
    reference: false,
    starts_min: 0,
    minutes: 2,
    thrust_gf: null,
    thrust_u_gf: null,
    current_a: null,
    current_u_a: null,
  })
  const sheet = (steps: object[], next: number | null) => ({
    found: {
      id: 3,
      version: 1,
      campaign: 4,
      title: 'Which of them?',
      supply: 3,
      supply_name: 'Supply 16 V',
      taken_at: '2026-10-05T08:00:00Z',
      taken_by: 'Ilse',
      put_away: false,
      reference: '',
      steps,
      next,
    },
  })
  const steps = [
    step('mount', 'Mount Drift A with Wickett', true),
    step('run', 'Run 1 of 2', true),
    step('cool', 'Let Drift A cool'),
    step('run', 'Run 2 of 2'),
    step('swap', 'Swap to Corran'),
    step('run', 'Run 1 of 1'),
  ]
  /** Every panel hears the keys until it is gone. */
  const open: { unmount: () => void }[] = []
  afterEach(() => open.splice(0).forEach((page) => page.unmount()))
  async function panel(found: object, props: object = { may: true }) {
    const asked = serve({
      'GET /api/v1/day-sheets/in-use/': found,
      'POST /api/v1/day-sheets/3/steps/': {},
      'POST /api/v1/day-sheets/3/put-away/': {},
    })
    const { page } = await show(DaySheetPanel, { props })
    open.push(page)
    await settle()
    const posts = () => asked.filter((one) => one.method === 'POST')
    return { page, posts, loads: () => page.findComponent(DaySheetPanel).emitted('load') }
  }
  const key = (name: string, from: EventTarget = document.body, more = {}) =>
    from.dispatchEvent(new KeyboardEvent('keydown', { key: name, bubbles: true, ...more }))

  it('shows what comes next, and all of it when asked', async () => {
    const { page } = await panel(sheet(steps, 2))
    expect(page.text()).toContain('1 of 3 runs done')
    expect(page.findAll('li')).toHaveLength(3)
    expect(page.get('li.next').text()).toContain('Let Drift A cool')
    await press(page, 'All 6 steps')
    expect(page.findAll('li')).toHaveLength(6)
  })

  it('ticks what is done by hand, and sets a run up, by N', async () => {
    const { posts, loads } = await panel(sheet(steps, 2))
    key('n')
    await settle()
    expect(posts().map((one) => one.body)).toEqual([{ step: 2, done: true }])
    expect(loads()).toBeUndefined()
    open.splice(0).forEach((one) => one.unmount())
    const at = await panel(sheet(steps, 3))
    key('N')
    await settle()
    expect(at.loads()).toEqual([[1, 7, 3]])
    expect(at.posts()).toEqual([])
  })

  it('does nothing while somebody types, with Ctrl, or for who may not', async () => {
    const { posts } = await panel(sheet(steps, 2))
    const field = document.createElement('input')
    document.body.append(field)
    key('n', field)
    key('n', document.body, { ctrlKey: true })
    await settle()
    expect(posts()).toEqual([])
    open.splice(0).forEach((one) => one.unmount())
    const watching = await panel(sheet(steps, 2), { may: false })
    key('n')
    await settle()
    expect(watching.posts()).toEqual([])
    expect(
      watching.page.findAll('input').every((one) => one.attributes('disabled') !== undefined),
    ).toBe(true)
  })

  it('is put away when everything is done, and is nothing without a sheet', async () => {
    const done = steps.map((one) => ({ ...one, done: true }))
    const { page, posts } = await panel(sheet(done, null))
    expect(page.text()).toContain('Everything on it is done.')
    await press(page, 'Put it away')
    expect(posts().map((one) => [one.path, one.body])).toEqual([
      ['/api/v1/day-sheets/3/put-away/', { version: 1 }],
    ])
    const none = await panel({ found: null })
    expect(none.page.text()).toBe('')
  })
})
