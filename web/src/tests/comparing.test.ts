import { QueryClient } from '@tanstack/vue-query'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { useInHand } from '@/app/useInHand'
import KeyHelp from '@/app/KeyHelp.vue'
import SpindleRail from '@/app/SpindleRail.vue'
import ComparisonTable from '@/features/compare/ComparisonTable.vue'
import WarmthSheet from '@/features/compare/WarmthSheet.vue'
import LikeWithLike from '@/features/compare/LikeWithLike.vue'
import { firstPair } from '@/features/compare/firstPair'
import LevelTable from '@/features/compare/LevelTable.vue'
import QuestionBar from '@/features/compare/QuestionBar.vue'
import SubjectList from '@/features/compare/SubjectList.vue'
import BoardPage from '@/features/board/BoardPage.vue'
import PublishPage from '@/features/publish/PublishPage.vue'
import { runMarks } from '@/figures/motorMark'
import { useBench } from '@/live/useBench'
import { aCell, aComparison, aSubject } from './comparisonServer'
import { aRun, pick, serve, session, settle, show } from './mounting'

afterEach(() => {
  // Requests that come late must not leave the test.
  serve({})
  localStorage.clear()
  document.body.innerHTML = ''
})

const comparison = aComparison()

describe('the table under a condition', () => {
  const props = { comparison, marks: runMarks([3, 5]) }

  it('says what may be said of each difference, and on how many runs a mean rests', async () => {
    const { page } = await show(ComparisonTable, { props })
    const row = page.get('tbody tr').text().replaceAll(/\s+/g, '')
    expect(row).toContain('600')
    expect(row).toContain('+1.7±0.7%different')
    expect(row).toContain('2runs')
    expect(page.get('thead').text()).toContain('baseline')
    expect(page.text()).toContain('Run 13 without a stand')
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

  it('has every figure as a row at full throttle, and stands upright with many', async () => {
    const rows = comparison.rows.map((row) => ({ ...row, at: null }))
    const full = aComparison({ condition: 'full', levels: [], rows })
    const { page } = await show(ComparisonTable, { props: { ...props, comparison: full } })
    expect(page.findAll('tbody tr').map((row) => row.get('td').text())).toEqual([
      'Thrust per power gf/W',
      'Power W',
    ])
    expect(page.text()).toContain('quoted most')
    const six = [1, 2, 3, 4, 5, 6]
    const many = aComparison({
      subjects: six.map((key) => aSubject(key, { samples: [`S${key}`] })),
      rows: [{ at: 600, name: 'power_w', cells: six.map(() => aCell()) }],
    })
    const { page: tall } = await show(ComparisonTable, {
      props: { comparison: many, marks: runMarks(six) },
    })
    expect(tall.findAll('tbody tr')).toHaveLength(6)
    expect(tall.get('thead').text()).toContain('at 600 gf')
  })

  it('says that nobody reads under a condition', async () => {
    const none = aComparison({ condition: 'shaft_power_w', rows: [], levels: [] })
    const { page } = await show(ComparisonTable, { props: { ...props, comparison: none } })
    expect(page.text()).toContain('None of the runs reads under this condition')
  })
})

describe('below the table', () => {
  it('stand crossings with their interval, the envelope, and what a correction did', async () => {
    const told = aComparison({
      crossings: [
        { a: 7, b: 13, x_name: 'thrust_gf', y_name: 'power_w', at: 705.3, low: 600, high: 820 },
      ],
      envelope: [
        { low: 80, high: 420, best: [7] },
        { low: 420, high: 900, best: [7, 13] },
      ],
      correction: [
        {
          run: 7,
          way: 'model',
          changed: [{ name: 'thrust_gf', pct: 3.21 }],
          left_out: 1,
          reason: '',
        },
        { run: 13, way: '', changed: [], left_out: 0, reason: 'the air was not noted' },
      ],
    })
    const { page } = await show(LevelTable, {
      props: { comparison: told, marks: runMarks([3, 5]) },
    })
    const text = page.text().replaceAll(/\s+/g, ' ')
    expect(text).toContain('cross at 705 gf; they differ measurably below 600 and above 820 gf')
    expect(text).toContain('80 to 420 gf Drift 2206 1900; 420 to 900 gf')
    expect(text).toContain('(not told apart)')
    expect(text).toContain('by its identified model, at its strongest point: thrust +3.2 %')
    expect(text).toContain('Run 13 stands as it was measured: the air was not noted')
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

describe('what is compared', () => {
  const listed = [aRun(7), aRun(13), aRun(14), aRun(15, { comparable: false })]
  const props = {
    subjects: comparison.subjects,
    marks: runMarks([3, 5]),
    chosen: [7, 8, 13],
    baseline: null,
    most: 160,
  }
  const answers = { 'GET /api/v1/runs/': { count: 4, results: listed } }

  it('has the first as baseline until another is chosen', async () => {
    serve(answers)
    const { page } = await show(SubjectList, { props })
    const radios = page.findAll('input[type=radio]')
    expect((radios[0]?.element as HTMLInputElement).checked).toBe(true)
    await radios[1]?.setValue(true)
    expect(page.emitted('baseline')?.[0]).toEqual([13])
  })

  it('is left out with all of its runs', async () => {
    serve(answers)
    const { page } = await show(SubjectList, { props })
    const out = page.findAll('.subject button').filter((one) => one.text().startsWith('Leave out'))
    await out[0]?.trigger('click')
    expect(page.emitted('chosen')?.[0]).toEqual([[13]])
    expect(page.text()).toContain('2 runs')
  })

  it('is found among all runs by the server, and only runs with figures are offered', async () => {
    const asked = serve(answers)
    const { page } = await show(SubjectList, { props })
    const field = page.get('.add input')
    await field.trigger('click')
    await field.setValue('pale 1250')
    await vi.waitFor(() => expect(asked.at(-1)?.query.search).toBe('pale 1250'))
    await settle()
    const offered = [...document.querySelectorAll('.el-select-dropdown__item')]
    expect(offered.map((item) => item.textContent?.trim().slice(0, 3))).toEqual(['#14'])
    ;(offered[0] as HTMLElement).click()
    await settle()
    expect(page.emitted('chosen')?.[0]).toEqual([[7, 8, 13, 14]])
  })

  it('ends at its most, and says what is not drawn', async () => {
    serve(answers)
    const { page } = await show(SubjectList, {
      props: { ...props, most: 3, subjects: [aSubject(7, { drawn: false })] },
    })
    expect(page.get('.add input').attributes('disabled')).toBeDefined()
    expect(page.text()).toContain('in the table only')
  })
})

describe('a question about a motor', () => {
  const answers = {
    'GET /api/v1/motors/': { count: 0, results: [] },
    'GET /api/v1/motors/3/': { id: 3, full_name: 'Ostrel Drift 2206 1900' },
    'GET /api/v1/propellers/': { count: 0, results: [] },
  }
  const choice = { what: 'samples', words: '', by: 'sample', runs: [7, 9], differ: 2, why_none: '' }

  it('finds the runs that differ in one thing', async () => {
    const asked = serve({ ...answers, 'GET /api/v1/compare/choices/': choice })
    const { page } = await show(QuestionBar, { props: { motor: 3 } })
    await page.get('form').trigger('submit')
    expect(page.get('[role=status]').text()).toBe('Choose what is to differ.')
    await pick(page, 'input', 'samples of this model')
    await page.get('form').trigger('submit')
    await settle()
    expect(asked.at(-1)?.query).toMatchObject({ what: 'samples', motor: '3' })
    expect(page.emitted('take')).toEqual([[[7, 9], 'sample']])
  })

  it('says that nothing differs, and takes nothing', async () => {
    const why = 'There is nothing to compare: no two samples of one model were run alike.'
    serve({
      ...answers,
      'GET /api/v1/compare/choices/': { ...choice, differ: 1, why_none: why },
    })
    const { page } = await show(QuestionBar, { props: { motor: 3 } })
    await pick(page, 'input', 'samples of this model')
    await page.get('form').trigger('submit')
    await settle()
    expect(page.text()).toContain(why)
    expect(page.emitted('take')).toBeUndefined()
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

describe('warmth', () => {
  const stated = (value: number | null, reason = '') => ({
    value,
    u: value === null ? null : 0.6,
    n: 1,
    origin: 'measured',
    assumed: false,
    reason,
  })
  const run = (changed: object = {}) => ({
    run: 12,
    before: stated(21),
    after: stated(48),
    rise: stated(27),
    air_c: null,
    span_s: null,
    readings: 3,
    runs_before: 0,
    ...changed,
  })
  const warmth = {
    runs: [run(), run({ run: 13, rise: stated(19), span_s: 61.4, readings: 1 })],
    more: 0,
    refused: '',
    unknown: ['how long each was loaded'],
    against: [stated(0), stated(-8)],
  }
  it('stands beside each other, and says what was taken to be alike', async () => {
    serve({})
    const { page } = await show(WarmthSheet, { props: { warmth } })
    expect(page.text()).toContain('nobody noted it: how long each was loaded')
    const rows = page.findAll('tbody tr').map((one) => one.text())
    expect(rows[0]).toContain('3 readings')
    expect(rows[1]).toMatch(/61\s*s/)
    expect(rows[1]).toMatch(/−8\.0\s*±\s*0\.6\s*K/)
  })
  it('is not compared where it must not be, and says why', async () => {
    serve({})
    const refused = 'They did not begin equally warm: 21 and 35 °C.'
    const none = { ...warmth, refused, against: [], more: 3 }
    const { page } = await show(WarmthSheet, { props: { warmth: none } })
    expect(page.text()).toContain(refused)
    expect(page.text()).not.toContain('Against the first')
    expect(page.text()).toContain('3 more runs are not shown')
  })
})
