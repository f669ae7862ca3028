import { QueryClient } from '@tanstack/vue-query'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { useInHand } from '@/app/useInHand'
import KeyHelp from '@/app/KeyHelp.vue'
import SpindleRail from '@/app/SpindleRail.vue'
import ComparisonTable from '@/features/compare/ComparisonTable.vue'
import LikeWithLike from '@/features/compare/LikeWithLike.vue'
import { firstPair } from '@/features/compare/firstPair'
import RunPicker from '@/features/compare/RunPicker.vue'
import BoardPage from '@/features/board/BoardPage.vue'
import PublishPage from '@/features/publish/PublishPage.vue'
import { runMarks } from '@/figures/motorMark'
import { useBench } from '@/live/useBench'
import { aRun, serve, session, settle, show } from './mounting'

afterEach(() => {
  // Requests that come late must not leave the test.
  serve({})
  localStorage.clear()
  document.body.innerHTML = ''
})

const cell = (changed: object) => ({
  value: 150,
  u: 1,
  absent_reason: '',
  absent_note: '',
  delta: null,
  delta_pct: null,
  u_pct: null,
  outcome: '',
  ...changed,
})

const comparison = {
  runs: [aRun(7), aRun(13, { motor: 5, motor_name: 'Brackwater No. 4 2306 1800' })],
  baseline: 7,
  thrusts_gf: [600],
  margin_pct: 2,
  curves: [[], []],
  rows: [
    {
      thrust_gf: 600,
      name: 'efficiency_g_per_w',
      cells: [
        cell({ value: 3.51, u: 0.03 }),
        cell({
          value: 3.57,
          u: 0.03,
          delta: 0.06,
          delta_pct: 1.7,
          u_pct: 0.7,
          outcome: 'different',
        }),
      ],
    },
    {
      thrust_gf: 600,
      name: 'power_w',
      cells: [
        cell({}),
        cell({
          value: null,
          u: null,
          absent_reason: 'not_reached',
          absent_note: 'measured from 0 to 500 gf',
        }),
      ],
    },
  ],
  crossings: [],
  factors: [
    { name: 'motor', values: ['Drift A', 'No. 4 A'], state: 'differs' },
    { name: 'propeller', values: ['5.1x4.2x3', '5x3.6x3'], state: 'differs' },
    { name: 'air density', values: ['1.19 kg/m³', '—'], state: 'unknown' },
    { name: 'stand', values: ['Yard stand', 'Yard stand'], state: 'same' },
  ],
  confounded: ['motor', 'propeller'],
  remarks: ['Run 13 names no stand; a repeatability of 2 % is assumed for it.'],
}

describe('the table at equal thrust', () => {
  const props = { comparison, marks: runMarks([3, 5]) }

  it('says what may be said of each difference', async () => {
    const { page } = await show(ComparisonTable, { props })
    const row = page.get('tbody tr').text().replaceAll(/\s+/g, '')
    expect(row).toContain('600')
    expect(row).toContain('+1.7±0.7%different')
    expect(page.get('thead').text()).toContain('baseline')
    expect(page.text()).toContain('Run 13 names no stand')
  })

  it('shows another figure on demand, and "not reached" with its reason', async () => {
    const { page } = await show(ComparisonTable, { props })
    const power = page.findAll('.el-segmented__item').find((one) => one.text() === 'Power')
    await power?.get('input').setValue(true)
    await settle()
    const missing = page.findAll('tbody td').at(-1)
    expect(missing?.text()).toBe('not reached')
    expect(missing?.get('span').attributes('data-reason')).toBe('measured from 0 to 500 gf')
  })
})

describe('like with like', () => {
  it('lists what differs and warns when it cannot be told apart', async () => {
    const { page } = await show(LikeWithLike, { props: { comparison } })
    expect(page.get('.warn').text()).toContain('motor and propeller differ at the same time')
    const states = page.findAll('tbody tr').map((row) => row.get('.tag').text())
    expect(states).toEqual(['differs', 'differs', 'not known for all'])
    expect(page.text()).toContain('stand (Yard stand)')
  })
})

describe('the compared runs', () => {
  const listed = [aRun(7), aRun(13), aRun(14), aRun(15, { comparable: false })]
  const props = { runs: listed, marks: runMarks([3, 3]), chosen: [7, 13], baseline: null }
  const answers = { 'GET /api/v1/runs/': { count: 4, results: listed } }

  it('have the first as baseline until another is chosen', async () => {
    serve(answers)
    const { page } = await show(RunPicker, { props })
    const radios = page.findAll('input[type=radio]')
    expect((radios[0]?.element as HTMLInputElement).checked).toBe(true)
    await radios[1]?.setValue(true)
    expect(page.emitted('update:baseline')?.[0]).toEqual([13])
  })

  it('can be left out, and the name of one on its way is not made up', async () => {
    serve(answers)
    const { page } = await show(RunPicker, { props: { ...props, runs: [aRun(7)] } })
    expect(page.findAll('.run')[1]?.text()).toContain('#13')
    expect(page.findAll('.run')[1]?.text()).toContain('reading…')
    await page.findAll('.run button')[0]?.trigger('click')
    expect(page.emitted('update:chosen')?.[0]).toEqual([[13]])
  })

  it('are found among all runs by the server, and only runs with figures are offered', async () => {
    const asked = serve(answers)
    const { page } = await show(RunPicker, { props })
    const field = page.get('.add input')
    await field.trigger('click')
    await field.setValue('pale 1250')
    await vi.waitFor(() => expect(asked.at(-1)?.query.search).toBe('pale 1250'))
    await settle()
    const offered = [...document.querySelectorAll('.el-select-dropdown__item')]
    expect(offered.map((item) => item.textContent?.trim().slice(0, 3))).toEqual(['#14'])
    ;(offered[0] as HTMLElement).click()
    await settle()
    expect(page.emitted('update:chosen')?.[0]).toEqual([[7, 13, 14]])
  })

  it('are eight at most', async () => {
    serve(answers)
    const eight = [1, 2, 3, 4, 5, 6, 7, 8]
    const { page } = await show(RunPicker, { props: { ...props, chosen: eight } })
    expect(page.get('.add input').attributes('disabled')).toBeDefined()
  })
})

describe('what is compared first', () => {
  const other = aRun(20, { motor: 9, supply_name: 'Supply 16 V' })
  const pair = (runs: object[], motor: number | null) => {
    serve({ 'GET /api/v1/runs/': { count: runs.length, results: runs } })
    return firstPair(new QueryClient(), motor)
  }

  it('is the motor in hand against another on the same propeller and supply', async () => {
    expect(await pair([aRun(7), other], 3)).toEqual([7, 20])
  })

  it('is one run where no other is like it', async () => {
    expect(await pair([aRun(7), aRun(8)], 3)).toEqual([7])
    expect(await pair([aRun(7), { ...other, supply_name: 'Pack' }], 3)).toEqual([7])
  })

  it('is never a rejected run, nor one without figures, nor anything where there is nothing', async () => {
    const unfit = [aRun(7, { review: 'rejected' }), aRun(8, { comparable: false })]
    expect(await pair([...unfit, other], null)).toEqual([20])
    expect(await pair(unfit, 3)).toEqual([])
  })
})

const boardRow = {
  id: 3,
  full_name: 'Ostrel Drift 2206 1900',
  samples: 2,
  claims: 4,
  observations: 10,
  runs: 3,
  most_repeats: 3,
  gaps: ['Only one sample'],
  next_station: 'bench',
  next_act: 'Repeat a run',
  urgency: 3,
}
const DAY = {
  day: '2026-10-08',
  today: false,
  runs: 4,
  not_completed: 1,
  rejected: 0,
  first_at: '2026-10-08T09:00:00Z',
  last_at: '2026-10-08T15:20:00Z',
}
const board = {
  bench_day: DAY as typeof DAY | null,
  motors: [boardRow],
  motor_count: 1,
  in_hand: boardRow,
  unreviewed: [],
  unreviewed_count: 0,
  later: [],
  later_count: 0,
  attribute_count: 20,
}

describe('the spindle', () => {
  it('links every station, and fills rings for the motor in hand', async () => {
    useInHand().value = 3
    serve({ 'GET /api/v1/session/': session(), 'GET /api/v1/board/': board })
    const { page } = await show(SpindleRail, { path: '/bench' })
    const station = (name: string) =>
      page.findAll('.station').find((s) => s.text() === name) as ReturnType<typeof page.get>
    expect(station('Rank').attributes('href')).toBe('/rank')
    expect(station('Match').attributes('href')).toBe('/match')
    expect(station('Bench').classes()).toContain('here')
    expect(station('Teardown').attributes('title')).toContain('50 %')
    expect(station('Intake').attributes('href')).toBe('/intake')
  })
})

describe('the motor in hand', () => {
  it('is on the spindle wherever it stands on a long board', async () => {
    useInHand().value = 3
    const long = { ...board, motors: [], motor_count: 2000 }
    serve({ 'GET /api/v1/session/': session(), 'GET /api/v1/board/': long })
    const { page } = await show(SpindleRail, { path: '/bench' })
    expect(page.get('.in-hand').text()).toContain('Ostrel Drift 2206 1900')
  })

  it('is nothing when none was taken', async () => {
    serve({
      'GET /api/v1/session/': session(),
      'GET /api/v1/board/': { ...board, in_hand: null },
    })
    const { page } = await show(SpindleRail, { path: '/bench' })
    expect(page.find('.in-hand').exists()).toBe(false)
  })
})

describe('the board', () => {
  it('proposes the next act and takes the motor in hand', async () => {
    serve({ 'GET /api/v1/session/': session(), 'GET /api/v1/board/': board })
    const { page, path } = await show(BoardPage)
    expect(page.get('.next').text()).toContain('Repeat a run: Ostrel Drift 2206 1900')
    await page.get('.next button').trigger('click')
    await settle()
    expect(path()).toBe('/bench?motor=3')
    expect(useInHand().value).toBe(3)
  })

  const empty = { ...board, motors: [], motor_count: 0, bench_day: null }
  const stand = { id: 1, name: 'Simulated stand', live: true }
  const rig = {
    'GET /api/v1/session/': session(),
    'GET /api/v1/propellers/': { results: [] },
    'GET /api/v1/supplies/': { results: [{ id: 1, name: 'Supply' }] },
    'GET /api/v1/stands/': { results: [stand] },
  }

  it('leads an empty bench through its first three steps', async () => {
    serve({ ...rig, 'GET /api/v1/board/': empty })
    const { page } = await show(BoardPage)
    expect(page.text()).toContain('The bench is empty')
    const acts = () =>
      page.findAll('.steps button').map((b) => [b.text(), b.classes('el-button--primary')])
    expect(acts()).toEqual([
      ['Take in a motor', true],
      ['Choose propellers', false],
      ['Go to the bench', false],
    ])
    expect(page.text()).toContain('Simulated stand is there to try it on: nothing turns')
  })

  it('goes on where the bench has got to, and leads a reader nowhere', async () => {
    const begun = { ...board, bench_day: null }
    const bare = { 'GET /api/v1/stands/': { results: [] }, 'GET /api/v1/board/': begun }
    serve({ ...rig, ...bare, 'GET /api/v1/propellers/': { results: [{ id: 1 }] } })
    const { page } = await show(BoardPage)
    expect(page.findAll('.steps li.done')).toHaveLength(2)
    expect(page.get('.steps button').text()).toBe('Go to the rig')
    serve({ ...rig, 'GET /api/v1/session/': session('reader'), 'GET /api/v1/board/': empty })
    const { page: read } = await show(BoardPage)
    expect(read.find('.steps').exists()).toBe(false)
    expect(read.text()).toContain('No motor is on the bench yet.')
  })

  it('says when a motor is warm and when it is ready, and what the day brought', async () => {
    serve({
      ...rig,
      'GET /api/v1/board/': { ...board, bench_day: { ...DAY, runs: 1, last_at: DAY.first_at } },
    })
    const { page } = await show(BoardPage)
    expect(page.get('[aria-label="The bench now"]').text()).toContain('the agent is away')
    expect(page.text()).toContain('The last bench day, 2026-10-08: 1 run, 1 cut short, at ')
    const frame = {
      state: 'idle',
      link: true,
      time_s: null,
      values: { motor_temp_c: 61.3 },
      ready_in_s: 125,
      title: 'Drift A',
      set_aside: [],
    }
    useBench().take(frame as never)
    await settle()
    expect(page.get('[aria-label="The bench now"]').text()).toMatch(
      /warm Drift A 61°C, ready at about \d\d:\d\d, in 2.min 05.s/,
    )
    useBench().take({ ...frame, ready_in_s: 0, values: {} } as never)
    await settle()
    expect(page.text()).toContain('The stand tells no motor temperature.')
  })

  it('does not take a lost server for an empty bench', async () => {
    serve({ 'GET /api/v1/session/': session() })
    const { page: lost } = await show(BoardPage)
    expect(lost.get('[role=alert]').text()).toContain('cannot be reached')
  })
})

describe('publish', () => {
  it('lists frozen copies with who froze them', async () => {
    const snapshot = {
      id: 1,
      title: 'Drift against No. 4',
      frozen_at: '2026-10-20T10:00:00Z',
      frozen_by_name: 'Tomas Rook',
      content: comparison,
    }
    serve({ 'GET /api/v1/snapshots/': { results: [snapshot] } })
    const { page } = await show(PublishPage)
    expect(page.get('summary').text()).toContain('by Tomas Rook')
  })

  it('says how to begin when there is none', async () => {
    serve({ 'GET /api/v1/snapshots/': { results: [] } })
    const { page } = await show(PublishPage)
    expect(page.text()).toContain('An editor freezes a comparison')
  })
})

describe('the keys of a screen', () => {
  const press = (key: string) =>
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }))

  it('are shown and hidden with "?", with those of the page first', async () => {
    const { page } = await show(KeyHelp, { path: '/teardown/7' })
    expect(page.find('aside').exists()).toBe(false)
    press('?')
    await settle()
    expect(page.get('dt').text()).toBe('1 … 9')
    press('?')
    await settle()
    expect(page.find('aside').exists()).toBe(false)
  })
})
