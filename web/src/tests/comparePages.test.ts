/** Compare's page of curves as one uses it. */
import { config } from '@vue/test-utils'
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest'
import type { Schemas } from '@/api/client'
import ComparePage from '@/features/compare/ComparePage.vue'
import ConditionBar from '@/features/compare/ConditionBar.vue'
import CurveSheet from '@/features/compare/CurveSheet.vue'
import FeelSheet from '@/features/compare/FeelSheet.vue'
import KeptComparisons from '@/features/compare/KeptComparisons.vue'
import TorqueSheet from '@/features/compare/TorqueSheet.vue'
import { runMarks } from '@/figures/motorMark'
import { aComparison, statedFigure } from './comparisonServer'
import { pick, refusal, serve, session, settle, show } from './mounting'

afterEach(() => {
  serve({})
  document.body.innerHTML = ''
})

// What stands around a chart is looked at here; it is drawn elsewhere.
const { stubs } = config.global
beforeAll(() => {
  config.global.stubs = {
    ...stubs,
    Echarts: { template: '<svg class="drawn" />', props: ['option'] },
  }
})
afterAll(() => {
  config.global.stubs = stubs
})

const comparison = aComparison()
const torque: Schemas['TorqueChart'] = {
  motor: 3,
  motor_name: 'Ostrel Drift 2206 1900',
  voltages: [16],
  propellers: [{ propeller: 1, name: 'Wickett 5.1x4.2x3' }],
  rests_on: 'sample A: identified from 8 runs',
  estimated: false,
  motor_lines: [{ name: '16 V', voltage_v: 16, speed_rpm: [20000, 30000], torque_nm: [0.2, 0] }],
  load_lines: [
    {
      name: 'Wickett 5.1x4.2x3',
      propeller: 1,
      estimated: true,
      speed_rpm: [0, 30000],
      torque_nm: [0, 0.3],
    },
  ],
  meetings: [
    {
      propeller: 1,
      propeller_name: 'Wickett 5.1x4.2x3',
      voltage_v: 16,
      figures: [
        { name: 'speed_rpm', figure: statedFigure(24555, 233) },
        { name: 'torque_nm', figure: statedFigure(0.1445, 0.0029) },
      ],
    },
  ],
  measured: [],
  reason: '',
}
const answers = {
  'GET /api/v1/session/': session(),
  'GET /api/v1/compare/': comparison,
  'GET /api/v1/compare/saved/': [],
  'GET /api/v1/compare/torque/': torque,
  'GET /api/v1/runs/': { count: 0, results: [] },
  'GET /api/v1/motors/': { count: 0, results: [] },
  'GET /api/v1/motors/3/': { id: 3, full_name: 'Ostrel Drift 2206 1900' },
  'GET /api/v1/propellers/': { count: 0, results: [] },
}

describe('the page of curves', () => {
  it('asks what its address says, and what is changed goes into the address', async () => {
    const asked = serve(answers)
    const { page, path } = await show(ComparePage, {
      path: '/compare?runs=7,8,13&by=model&condition=thrust_gf',
    })
    const first = asked.find((one) => one.path === '/api/v1/compare/')
    expect(first?.query).toMatchObject({ runs: '7,8,13', by: 'model' })
    expect(page.findAll('.chart-sheet')).toHaveLength(2)
    expect(page.text()).toContain('Bands are ±2u of the mean: scatter only')
    await pick(page, 'input[aria-label="Held against"]', 'the one before')
    expect(path()).toContain('against=previous')
    await pick(page, 'input[aria-label="Drawn over"]', 'Power')
    expect(path()).toContain('axes=thrust_gf:power_w,efficiency_g_per_w:thrust_gf')
  })

  it('lists nobody where everybody was left out', async () => {
    serve(answers)
    const { page, path } = await show(ComparePage, { path: '/compare?runs=7,8&baseline=8' })
    expect(page.findAll('.subject')).toHaveLength(2)
    const out = page.findAll('.subject button').find((one) => one.text().startsWith('Leave out'))
    await out?.trigger('click')
    await settle()
    expect(path()).not.toContain('runs=')
    expect(page.findAll('.subject')).toHaveLength(0)
  })

  it('says beside the levels what is wrong with them, and keeps the last answer', async () => {
    serve({
      ...answers,
      'GET /api/v1/compare/': (_: unknown, query: Record<string, string>) =>
        query.levels === '6oo'
          ? refusal(400, 'No.', { fields: { levels: ['levels must be numbers.'] } })
          : comparison,
    })
    const { page } = await show(ComparePage, { path: '/compare?runs=7,8,13' })
    const levels = page.get('#compare-levels')
    await levels.setValue('6oo')
    await levels.trigger('change')
    await settle()
    expect(page.get('[role=alert]').text()).toContain('levels must be numbers.')
    expect(page.findAll('.chart-sheet')).toHaveLength(2)
  })

  it('begins with a kept comparison that its address names', async () => {
    const saved = {
      id: 4,
      name: 'Sable, both',
      asked: { runs: '7,13', by: 'run' },
      marks: [],
      note: 'for the video',
      saved_by_name: 'Ilse',
      saved_at: '',
      version: 1,
    }
    serve({ ...answers, 'GET /api/v1/compare/saved/': [saved] })
    const { page, path } = await show(ComparePage, { path: '/compare?saved=4' })
    await settle()
    expect(path()).toContain('runs=7,13')
    expect(page.text()).toContain('for the video')
  })
})

it('holds everything that a comparison is asked for', async () => {
  const { page } = await show(ConditionBar, { props: { comparison, problem: '' } })
  await pick(page, 'input[aria-label="What counts as one"]', 'models')
  await pick(page, 'input[aria-label="Condition"]', 'equal electrical power')
  await page.get('input[type=checkbox]').setValue(true)
  expect(page.emitted('ask')).toEqual([
    [{ by: 'model' }],
    [{ condition: 'power_w', levels: undefined }],
    [{ correct: 'true' }],
  ])
})

describe('a chart', () => {
  const props = {
    comparison,
    marks: runMarks([3, 5]),
    x: 'throttle_pct',
    y: 'thrust_gf',
    noted: [],
    mayMark: true,
  }

  it('is marked where it was clicked, with a text', async () => {
    const { page } = await show(CurveSheet, { props })
    expect(page.text()).toContain('a click on the chart picks a place')
    page.getComponent({ name: 'ChartSheet' }).vm.$emit('pick', 89.97)
    await settle()
    await page.get('input[aria-label="Text of the mark"]').setValue(' bends here ')
    await page.get('form').trigger('submit')
    expect(page.emitted('note')?.[0]).toEqual([
      [{ x_name: 'throttle_pct', y_name: 'thrust_gf', x: 89.97, text: 'bends here' }],
    ])
  })

  it('says why there is nothing to draw', async () => {
    const empty = { ...comparison.curves[0]?.[0], x: [], y: [], u: [], points: [], reason: 'so' }
    const none = aComparison({ curves: [[empty], [empty]] as Schemas['Comparison']['curves'] })
    const { page } = await show(CurveSheet, { props: { ...props, comparison: none } })
    expect(page.text()).toContain('Nothing to draw: so.')
  })
})

it('says what the stick does, and draws the expo', async () => {
  const { page } = await show(FeelSheet, { props: { comparison, marks: runMarks([3, 5]) } })
  expect(page.text()).toContain('it is what the others are made to feel like')
  expect(page.text()).toContain('0.18')
  expect(page.findAll('.drawn')).toHaveLength(1)
})

describe('torque over speed', () => {
  const motors = [{ motor: 3, name: 'Ostrel Drift 2206 1900' }]

  it('reads where a load line meets the motor', async () => {
    serve(answers)
    const { page } = await show(TorqueSheet, { props: { motors } })
    const row = page.get('tbody tr').text().replaceAll(/\s+/g, '')
    expect(row).toContain('Wickett5.1x4.2x316~24,560±230~0.1445±0.0029')
    expect(page.text()).toContain('identified from 8 runs')
  })

  it('takes voltages of one’s own, and says why there are no lines', async () => {
    const asked = serve({
      ...answers,
      'GET /api/v1/compare/torque/': { ...torque, reason: 'it has no sample' },
    })
    const { page } = await show(TorqueSheet, { props: { motors } })
    expect(page.text()).toContain('No lines: it has no sample.')
    await page.get('input[placeholder="those it was run at"]').setValue('12 24')
    await vi.waitFor(() => expect(asked.at(-1)?.query.voltages).toBe('12,24'))
  })
})

describe('kept comparisons', () => {
  const saved = {
    id: 4,
    name: 'Sable, both',
    asked: { runs: '7' },
    marks: [],
    note: '',
    saved_by_name: 'Ilse',
    saved_at: '',
    version: 2,
  }
  const props = { open: 4, asked: { runs: '7,13' }, marks: [], mayWrite: true }

  it('are kept under a name, and a name that is taken is said beside it', async () => {
    const asked = serve({
      'GET /api/v1/compare/saved/': [saved],
      'POST /api/v1/compare/saved/': refusal(400, 'No.', { fields: { name: ['Taken already.'] } }),
    })
    const { page } = await show(KeptComparisons, { props })
    const button = page.findAll('button').find((one) => one.text() === 'Keep under a name')
    await button?.trigger('click')
    await settle()
    const name = document.querySelector<HTMLInputElement>('.el-dialog input')
    if (!name) throw new Error('no dialog')
    name.value = 'Sable'
    name.dispatchEvent(new Event('input'))
    document.querySelector('.el-dialog form')?.dispatchEvent(new Event('submit'))
    await settle()
    expect(asked.at(-1)?.body).toMatchObject({ name: 'Sable', asked: { runs: '7,13' } })
    expect(document.querySelector('.el-dialog')?.textContent).toContain('Taken already.')
  })

  it('take changes from the version that was read, and say a refusal', async () => {
    const asked = serve({
      'GET /api/v1/compare/saved/': [saved],
      'PATCH /api/v1/compare/saved/4/': refusal(409, 'Somebody changed this.'),
    })
    const { page } = await show(KeptComparisons, { props })
    await settle()
    const button = page.findAll('button').find((one) => one.text() === 'Keep the changes')
    await button?.trigger('click')
    await settle()
    expect(asked.at(-1)?.body).toMatchObject({ version: 2, asked: { runs: '7,13' } })
    expect(page.get('[role=status]').text()).toContain('Somebody changed this.')
  })
})
