/** Plan: the matrix, what it proposes, and how it is walked by keys. */
import { beforeEach, describe, expect, it } from 'vitest'
import type { Schemas } from '@/api/client'
import PlanPage from '@/features/plan/PlanPage.vue'
import {
  barOf,
  type Cell,
  mayPassWords,
  moved,
  rowOrder,
  shareWords,
  standing,
  throttleWords,
  sitsWords,
  worthWords,
} from '@/features/plan/cells'
import { refusal, serve, session, settle, show } from './mounting'

const cell = (changed: Partial<Cell> = {}): Cell => ({
  thrust_gf: 1100,
  thrust_u_gf: 42,
  current_a: 25.9,
  current_u_a: 1,
  power_w: 427,
  power_u_w: 17,
  speed_rpm: 26_410,
  speed_u_rpm: 300,
  efficiency_g_per_w: 2.576,
  efficiency_u_g_per_w: 0.07,
  common_g_per_w: 3.834,
  common_u_g_per_w: 0.09,
  common_duty_pct: 61,
  winding_rise_k: 33,
  winding_rise_u_k: 6,
  tip_mach: 0.51,
  tip_u_mach: 0.006,
  limits: [
    { name: 'rated current', used: 0.68, u: 0.027, may_pass: false },
    { name: 'tip speed', used: 0.4, u: 0.005, may_pass: false },
  ],
  tightest: 'rated current',
  used: 0.68,
  most_duty_pct: 100,
  unknown_pct: 3.6,
  worth: true,
  runs: 1,
  why_not: '',
  sits: 'good' as const,
  sits_words: '',
  barred: false,
  away: '',
  ...changed,
})
const unknown = cell({
  thrust_gf: null,
  current_a: null,
  common_g_per_w: null,
  used: null,
  limits: [],
  tightest: '',
  most_duty_pct: null,
  why_not: 'the motor has no kV on its label and was never run',
  sits: 'unknown' as const,
  sits_words: 'Measure the shaft and its free length.',
  barred: false,
})

describe('a cell', () => {
  it('says whether its propeller sits, and by what', () => {
    expect(sitsWords(cell())).toBe('The propeller sits on it.')
    expect(sitsWords(cell({ sits_words: 'with a ring' }))).toBe(
      'The propeller sits on it: with a ring.',
    )
    const tight = { sits: 'impossible' as const, sits_words: 'It does not go over the shaft.' }
    expect(sitsWords(cell({ ...tight, barred: true }))).toBe(
      'By its measures it cannot be mounted: It does not go over the shaft.',
    )
    expect(sitsWords(cell(tight))).toContain('cannot be mounted, though it ran')
    expect(sitsWords(unknown)).toContain('not known: Measure the shaft and its free length.')
  })

  it('stands to its limits', () => {
    expect([0.3, 0.9, 1.0, 1.01].map((used) => standing(cell({ used })))).toEqual([
      'within',
      'near',
      'near',
      'beyond',
    ])
    expect(standing(unknown)).toBe('unknown')
    // Far from a limit, and not told all the same.
    const unsure = cell({ limits: [{ name: 'winding', used: 0.68, u: 0.2, may_pass: true }] })
    expect(standing(unsure)).toBe('near')
    expect(mayPassWords(unsure)).toBe('It is not told whether full throttle keeps: winding.')
    expect(mayPassWords(cell())).toBe('')
    expect(cell().limits.map(shareWords)).toEqual(['68.0 ± 2.7\u2009%', '40.0 ± 0.5\u2009%'])
    expect([null, 0.4, 1.7].map(barOf)).toEqual([0, 40, 100])
  })

  it('says what a run there teaches, and how far it may be run', () => {
    expect(worthWords(cell())).toBe('known within 3.6 %')
    expect(worthWords(cell({ worth: false, unknown_pct: 1.1 }))).toBe(
      'not worth running: known within 1.1 %',
    )
    expect(worthWords(unknown)).toContain('no kV on its label')
    const barred = cell({ barred: true, sits: 'impossible', sits_words: 'too tight.' })
    expect(worthWords(barred)).toBe('cannot be mounted: too tight.')
    expect(worthWords(cell({ away: 'It is not at hand.', worth: false }))).toBe(
      'predicted only: known within 3.6 %',
    )
    expect(throttleWords(cell())).toBe('')
    expect(throttleWords(cell({ most_duty_pct: 80.4 }))).toBe(
      'within its limits up to a duty of about 80 %',
    )
  })

  it('orders rows by their best cell, unknown ones last', () => {
    const rows = [
      [cell({ thrust_gf: 900, used: 0.9 }), unknown],
      [unknown, unknown],
      [cell({ thrust_gf: 1200, used: 1.3 }), cell({ thrust_gf: 700, used: 0.2 })],
    ]
    expect(rowOrder(rows, 'as_named')).toEqual([0, 1, 2])
    expect(rowOrder(rows, 'thrust_gf')).toEqual([2, 0, 1])
    expect(rowOrder(rows, 'used')).toEqual([2, 0, 1])
  })

  it('is reached by arrows, which stop at the edges', () => {
    expect(moved('ArrowDown', [0, 0], 3, 2)).toEqual([1, 0])
    expect(moved('ArrowUp', [0, 1], 3, 2)).toEqual([0, 1])
    expect(moved('ArrowRight', [0, 1], 3, 2)).toEqual([0, 1])
    expect(moved('End', [2, 0], 3, 2)).toEqual([2, 1])
    expect(moved('x', [0, 0], 3, 2)).toBeNull()
  })
})

const campaign: Schemas['Campaign'] = {
  id: 4,
  version: 1,
  title: 'Five-inch motors',
  question: 'comparison',
  samples: [1, 2],
  propellers: [7, 8],
  supplies: [3],
  common_thrust_gf: 500,
  goal_pct: 2,
  runs_wanted: 2,
  note: '',
  closed: false,
  begun_by_name: 'Ilse',
  begun_at: '2026-11-01T09:00:00Z',
}
const matrix: Schemas['Matrix'] = {
  supply: 3,
  supply_name: 'Supply 16 V',
  rows: [
    {
      away: '',
      sample: 1,
      motor: 1,
      name: 'Drift',
      mark: 'A',
      basis: 'identified',
      words: 'from 6 runs',
    },
    { away: '', sample: 2, motor: 1, name: 'Drift', mark: 'B', basis: 'siblings', words: 'as A' },
  ],
  columns: [
    { away: '', propeller: 7, name: 'Wickett 5x3.6x3', basis: 'identified', words: 'from 4 runs' },
    { away: '', propeller: 8, name: 'Corran 6x4x2', basis: 'guessed', words: 'guessed' },
  ],
  cells: [
    [cell(), cell({ used: 1.19, tightest: 'rated current', most_duty_pct: 80 })],
    [cell({ runs: 0 }), unknown],
  ],
  brackets: [],
  next: {
    sample: 2,
    propeller: 7,
    minutes: 7.5,
    takes_off_pct: 40,
    sentence: 'Drift B on Wickett 5x3.6x3: it takes 40 % off what is uncertain.',
  },
  nothing_next: '',
}
const page = (results: unknown[] = [campaign]) => ({ count: results.length, next: null, results })
const answers = (changed: Record<string, unknown> = {}) => ({
  'GET /api/v1/session/': session(),
  'GET /api/v1/campaigns/': page(),
  'GET /api/v1/campaigns/4/matrix/': matrix,
  'GET /api/v1/supplies/': page([{ id: 3, name: 'Supply 16 V' }]),
  'GET /api/v1/hindsight/': { figures: [] },
  'GET /api/v1/campaigns/4/meanwhile/': { waits: '', supply: null, supply_name: '', next: null },
  'GET /api/v1/campaigns/4/overrides/': [],
  'GET /api/v1/campaigns/4/requests/': [],
  'GET /api/v1/day-sheets/in-use/': { found: null },
  ...changed,
})

describe('Plan', () => {
  beforeEach(() => localStorage.clear())

  it('shows every combination and proposes a run', async () => {
    serve(answers())
    const { page: shown } = await show(PlanPage, { path: '/plan' })
    expect(shown.findAll('[role=gridcell]')).toHaveLength(4)
    expect(shown.get('[aria-label="What to run next"]').text()).toContain('takes 40 % off')
    const sheet = shown.get('[aria-label="The cell in hand"]').text()
    expect(sheet).toContain('Drift A')
    // Nothing that is predicted stands there without how well.
    expect(sheet).toMatch(/Power~427±17W.*~26,400±300rpm.*~3\.83±0\.09.*~33±6K/)
    // A cell that cannot be predicted says why, and is no zero.
    const last = shown.findAll('[role=gridcell]')[3]
    expect(last?.text()).toBe('—')
    expect(last?.get('[data-reason]').attributes('data-reason')).toContain('no kV')
    expect(shown.findAll('[role=gridcell]')[1]?.classes()).toContain('beyond')
    shown.unmount()
  })

  it('is walked by arrows, and says of a cell beyond its limits how far it may be run', async () => {
    serve(answers())
    const { page: shown } = await show(PlanPage, { path: '/plan' })
    const grid = shown.get('[role=grid]')
    await grid.trigger('keydown', { key: 'ArrowRight' })
    await settle()
    const sheet = shown.get('[aria-label="The cell in hand"]')
    expect(sheet.text()).toContain('Corran 6x4x2')
    expect(sheet.text()).toContain('up to a duty of about 80 %')
    expect(document.activeElement?.getAttribute('aria-selected')).toBe('true')
    await grid.trigger('keydown', { key: 'ArrowDown' })
    await settle()
    expect(shown.get('[aria-label="The cell in hand"]').text()).toContain('no kV on its label')
    shown.unmount()
  })

  it('shows what is not at hand, and does not set it up', async () => {
    const away = 'Drift is not at hand; the nearest that is: Lite A (kV 3 % higher).'
    const row = { ...matrix.rows[1], sample: null, mark: '', away }
    const cells = [matrix.cells[0], matrix.cells[1]?.map((one) => ({ ...one, away, worth: false }))]
    serve(
      answers({
        'GET /api/v1/campaigns/4/matrix/': { ...matrix, rows: [matrix.rows[0], row], cells },
      }),
    )
    const { page: shown, path } = await show(PlanPage, { path: '/plan' })
    const grid = shown.get('[role=grid]')
    await grid.trigger('keydown', { key: 'ArrowDown' })
    await settle()
    const sheet = shown.get('[aria-label="The cell in hand"]')
    expect(sheet.text()).toContain(away)
    expect(sheet.text()).not.toContain('Set this cell up')
    await grid.trigger('keydown', { key: 'Enter' })
    await settle()
    expect(path()).toBe('/plan')
    await grid.trigger('keydown', { key: 'ArrowUp' })
    await grid.trigger('keydown', { key: 'Enter' })
    await settle()
    expect(path()).toBe('/bench?sample=1&propeller=7&supply=3')
    shown.unmount()
  })

  it('says that there is no campaign, and that the server is away', async () => {
    serve(answers({ 'GET /api/v1/campaigns/': page([]) }))
    const { page: empty } = await show(PlanPage, { path: '/plan' })
    expect(empty.text()).toContain('No campaign yet')
    empty.unmount()
    serve(answers({ 'GET /api/v1/campaigns/4/matrix/': refusal(503, 'The database is away.') }))
    const { page: away } = await show(PlanPage, { path: '/plan' })
    expect(away.text()).toContain('The database is away.')
    away.unmount()
  })

  it('tells whether the stated u was right', async () => {
    const row = {
      name: 'max_thrust_gf',
      count: 23,
      scale: 1.9,
      low: 1.5,
      high: 2.7,
      within_1u: 0.4,
      within_2u: 0.7,
      bias_pct: -5.6,
      verdict: 'too_small',
      misses: [],
    }
    serve(answers({ 'GET /api/v1/hindsight/': { figures: [row] } }))
    const { page: shown } = await show(PlanPage, { path: '/plan' })
    const sheet = shown.get('[aria-label="Were the predictions right?"]').text()
    expect(sheet).toContain('the stated u is too small')
    expect(sheet).toContain('−5.6 %')
    shown.unmount()
  })
})
