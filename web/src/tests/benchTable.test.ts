import { afterEach, describe, expect, it } from 'vitest'
import type { Schemas } from '@/api/client'
import { emptyPlaces, shadeOf, tallyWords, turned } from '@/features/compare/bench'
import { pivotBars } from '@/features/compare/benchStills'
import BenchRows from '@/features/compare/BenchRows.vue'
import BenchTablePage from '@/features/compare/BenchTablePage.vue'
import { deltaTone } from '@/features/compare/cells'
import PivotCell from '@/features/compare/PivotCell.vue'
import PivotTable from '@/features/compare/PivotTable.vue'
import { refusal, serve, session, settle, show } from './mounting'

const figure = (value: number | null) => ({
  value,
  u: value === null ? null : 20,
  n: 1,
  origin: 'measured',
  reason: value === null ? 'never run' : '',
  assumed: false,
})
async function pressIn(dialog: HTMLElement, words: string) {
  const found = [...dialog.querySelectorAll('button')].find(
    (one) => one.textContent?.trim() === words,
  )
  if (!found) throw new Error(`no button says ${words}`)
  found.click()
  await settle()
}
afterEach(() => (document.body.innerHTML = ''))

const LOW = 'bench supply|16'
const HIGH = 'bench supply|24'
const cell = (
  motor: number,
  propeller_name: string,
  value: number | null,
  estimated = false,
  supply = LOW,
): Schemas['PivotCell'] => ({
  motor,
  propeller_name,
  supply,
  made: value === null || estimated ? [] : [11, 12, 13],
  marks: [],
  pick: null,
  figure: figure(value),
  estimated,
  samples: value === null || estimated ? null : 1,
  runs: value === null || estimated ? null : 3,
})
const column = (propeller: number, name: string, effect: number | null, supply = LOW) => ({
  propeller,
  name,
  supply,
  on: `${supply.split('|')[1]} V bench supply`,
  mounted_on: supply === LOW ? 51 : 52,
  effect_pct: effect === null ? null : figure(effect),
})
const pivot: Schemas['Pivot'] = {
  name: 'thrust_gf',
  motors: [
    { motor: 1, name: 'Motor 1', sample: 31, effect_pct: figure(4) },
    { motor: 2, name: 'Motor 2', sample: 32, effect_pct: figure(-4) },
  ],
  propellers: [column(7, 'Light', -12), column(8, 'Heavy', 12)],
  cells: [
    cell(1, 'Light', 1000),
    cell(1, 'Heavy', 1300),
    cell(2, 'Light', 900),
    cell(2, 'Heavy', 1180, true),
  ],
  interaction_pct: 0.8,
  no_effects: '',
}
const delta = (delta_pct: number, outcome = 'different') => ({
  delta: delta_pct * 10,
  delta_pct,
  u_pct: 1.2,
  outcome,
})
const row = (motor: number, more = {}): Schemas['BenchTableRow'] => ({
  key: `${motor}|Light|bench supply|16`,
  motor,
  motor_name: `Motor ${motor}`,
  propeller: 7,
  propeller_name: 'Light',
  on: '16 V bench supply',
  runs: [1],
  baseline: false,
  marks: motor === 1 ? ['strongest'] : [],
  cells: [
    { name: 'thrust_gf', figure: figure(1000), samples: 1, runs: 3, delta: null, group: 0 },
    { name: 'power_w', figure: figure(380), samples: 1, runs: 3, delta: null, group: 0 },
    { name: 'torque_nm', figure: figure(null), samples: null, runs: null, delta: null, group: 0 },
  ],
  levels: [null],
  better: 0,
  equal: 0,
  worse: 0,
  unresolved: 0,
  ...more,
})
const table = (more: Partial<Schemas['BenchTable']> = {}): Schemas['BenchTable'] => ({
  conditions: ['full', 'thrust_gf'],
  condition: 'full',
  level: null,
  craft: null,
  craft_listed: [{ craft: 4, name: 'Five inch' }],
  groups: [
    {
      condition: 'full',
      level: null,
      craft: null,
      words: '',
      figures: ['thrust_gf', 'power_w', 'torque_nm'],
    },
  ],
  same: [],
  supplies: [{ key: 'bench supply|16', words: '16 V bench supply', rows: 3 }],
  supply: 'bench supply|16',
  figures: ['thrust_gf', 'power_w', 'torque_nm'],
  rows: [
    row(1),
    row(2, {
      cells: [
        {
          name: 'thrust_gf',
          figure: figure(900),
          samples: 1,
          runs: 1,
          delta: delta(-10),
          group: 0,
        },
        {
          name: 'power_w',
          figure: figure(376),
          samples: 1,
          runs: 1,
          delta: delta(-1, 'unresolved'),
          group: 0,
        },
        {
          name: 'torque_nm',
          figure: figure(null),
          samples: null,
          runs: null,
          delta: null,
          group: 0,
        },
      ],
      worse: 1,
      unresolved: 1,
    }),
  ],
  pivot,
  motors: [],
  more: 0,
  unreviewed: 2,
  ...more,
})

describe('the pivot', () => {
  it('is shaded on one scale, and a lonely value lies in the middle of it', () => {
    const shade = shadeOf(pivot)
    expect(pivot.cells.map(shade)).toEqual([0.25, 1, 0, 0.7])
    const alone = { ...pivot, cells: [cell(1, 'Light', 5), cell(2, 'Light', null)] }
    expect(alone.cells.map(shadeOf(alone))).toEqual([0.5, null])
  })

  it('turns, and keeps every cell in its place', () => {
    const up = turned(pivot, false)
    expect(up.rows.map((one) => one.places.map((p) => p.cell?.figure.value))).toEqual([
      [1000, 1300],
      [900, 1180],
    ])
    const over = turned(pivot, true)
    expect(over.heads.map((one) => one.name)).toEqual(['Motor 1', 'Motor 2'])
    expect(over.rows.map((one) => one.places.map((p) => p.cell?.figure.value))).toEqual([
      [1000, 900],
      [1300, 1180],
    ])
  })

  it('shows what was never run in italics, offers to run it, and says the effects', async () => {
    serve({})
    const { page } = await show(PivotTable, { props: { pivot, mayRun: true } })
    expect(page.findAll('.figure.estimated')).toHaveLength(1)
    expect(page.find('button[aria-label="plan it: Heavy on Motor 2"]').exists()).toBe(true)
    expect(page.text()).toContain('they hardly depend on each other')
    expect(page.text()).toContain('Motor 2 −4 ± 20\u2009%')
    await page.find('button').trigger('click')
    expect(page.find('tbody th').text()).toBe('Light')
  })

  it('puts an empty cell, or all of them, into the plan', async () => {
    serve({})
    const { page } = await show(PivotTable, { props: { pivot, mayRun: true } })
    await page.find('button[aria-label="plan it: Heavy on Motor 2"]').trigger('click')
    expect(page.emitted('plan')).toEqual([
      [{ title: 'Motor 2 on Heavy', samples: [32], propellers: [8], supplies: [51] }],
    ])
    // One is put there by its own key.
    expect(page.text()).not.toContain('empty cells into the plan')
    const more = { ...pivot, cells: pivot.cells.slice(0, 2) }
    expect(emptyPlaces(turned(more, true))).toEqual({
      count: 2,
      samples: [32],
      propellers: [7, 8],
      supplies: [51],
    })
  })

  it('sets up at the bench what the rig has no such supply for', async () => {
    serve({})
    const propellers = pivot.propellers.map((one) => ({ ...one, mounted_on: null }))
    const { page } = await show(PivotTable, {
      props: { pivot: { ...pivot, propellers }, mayRun: true },
    })
    await page.find('button[aria-label="run it: Heavy on Motor 2"]').trigger('click')
    expect(page.emitted('run')).toEqual([[2, 8]])
  })

  it('says of what nobody ran only that, to who may not write', async () => {
    serve({})
    const cells = pivot.cells.slice(0, 2)
    const { page } = await show(PivotTable, {
      props: { pivot: { ...pivot, cells }, mayRun: false },
    })
    expect(page.findAll('td [data-reason="never run"]')).toHaveLength(2)
    expect(page.findAll('td button')).toHaveLength(2)
  })

  it('offers nothing to be planned that cannot be mounted', () => {
    const motors = pivot.motors.map((one) => ({ ...one, sample: null }))
    expect(emptyPlaces(turned({ ...pivot, motors }, false)).count).toBe(0)
    const propellers = pivot.propellers.map((one) => ({ ...one, mounted_on: null }))
    expect(emptyPlaces(turned({ ...pivot, propellers }, false)).count).toBe(0)
  })

  it('has a column for each propeller on each supply, each cell in its own', () => {
    const two = {
      ...pivot,
      propellers: [column(7, 'Light', null), column(7, 'Light', null, HIGH)],
      cells: [cell(1, 'Light', 1000), cell(1, 'Light', 1900, false, HIGH), cell(2, 'Light', 900)],
    }
    const up = turned(two, false)
    expect(up.heads.map((one) => one.name)).toEqual([
      'Light, 16 V bench supply',
      'Light, 24 V bench supply',
    ])
    expect(up.rows.map((one) => one.places.map((p) => p.cell?.figure.value))).toEqual([
      [1000, 1900],
      [900, undefined],
    ])
    expect(emptyPlaces(turned(two, false))).toEqual({
      count: 1,
      samples: [32],
      propellers: [7],
      supplies: [52],
    })
    expect(pivotBars(two).map((one) => one.name)).toEqual([
      'Motor 1, Light, 16 V bench supply',
      'Motor 1, Light, 24 V bench supply',
      'Motor 2, Light, 16 V bench supply',
    ])
  })

  it('marks the strongest and what somebody picked; a cell opens to pick it', async () => {
    const asked = serve({
      'POST /api/v1/compare/picks/': { id: 4, version: 1, why: 'calm', by: 'Ilse' },
    })
    const [first, ...others] = pivot.cells
    if (!first) throw new Error('no cell')
    const pick = { id: 4, version: 3, why: 'cheap', by: 'Tomas' }
    const marked = { ...pivot, cells: [{ ...first, marks: ['strongest'], pick }, ...others] }
    const { page } = await show(PivotTable, { props: { pivot: marked, mayRun: true } })
    expect(page.find('td').text()).toContain('strongest')
    expect(page.find('td').text()).toContain('picked')
    await page.find('button[aria-label="3 runs: Heavy on Motor 1"]').trigger('click')
    await settle()
    const dialog = document.body.querySelector('.el-dialog') as HTMLElement
    expect(dialog.textContent).toContain('Motor 1 on Heavy')
    expect(dialog.textContent).toContain('run 11')
    const why = document.body.querySelector('#pick-why') as HTMLInputElement
    why.value = 'calm'
    why.dispatchEvent(new Event('input'))
    await pressIn(dialog, 'Pick it')
    await settle()
    expect(asked.at(-1)?.body).toEqual({
      motor: 1,
      propeller: 8,
      supply: 'bench supply',
      voltage_v: 16,
      why: 'calm',
    })
  })
})

describe('a picked cell', () => {
  const pick = { id: 4, version: 3, why: 'cheap', by: 'Tomas' }
  const held = { ...cell(1, 'Light', 1000), pick }

  it('says who picked it, and is taken back at the version it was read in', async () => {
    const asked = serve({ 'DELETE /api/v1/compare/picks/4/': null })
    const { page } = await show(PivotCell, { props: { pivot, cell: null, mayWrite: true } })
    await page.setProps({ cell: held })
    await settle()
    const dialog = document.body.querySelector('.el-dialog') as HTMLElement
    expect(dialog.textContent).toContain('Tomas would take it on 16 V bench supply')
    expect((document.body.querySelector('#pick-why') as HTMLInputElement).value).toBe('cheap')
    await pressIn(dialog, 'Take the pick back')
    await settle()
    expect(asked.at(-1)).toMatchObject({ method: 'DELETE', query: { version: '3' } })
    expect(page.emitted('close')).toHaveLength(1)
  })

  it('stays open, and says why, where the pick is refused', async () => {
    serve({ 'POST /api/v1/compare/picks/': refusal(409, 'Somebody changed this.') })
    const { page } = await show(PivotCell, { props: { pivot, cell: null, mayWrite: true } })
    await page.setProps({ cell: held })
    await settle()
    const dialog = document.body.querySelector('.el-dialog') as HTMLElement
    await pressIn(dialog, 'Keep the reason')
    await settle()
    expect(dialog.querySelector('[role=alert]')?.textContent).toContain('Somebody changed this')
    expect(page.emitted('close')).toBeUndefined()
  })

  it('is only told to who may not write', async () => {
    serve({})
    const { page } = await show(PivotCell, { props: { pivot, cell: null, mayWrite: false } })
    await page.setProps({ cell: held })
    await settle()
    const dialog = document.body.querySelector('.el-dialog') as HTMLElement
    expect(dialog.textContent).toContain('Tomas would take it. cheap')
    expect(dialog.querySelector('.el-dialog__footer')).toBeNull()
  })
})

it('counts what is better, worse, equal and not resolved', () => {
  expect(tallyWords(row(1, { better: 3, unresolved: 2 }))).toBe('3 better, 2 not resolved')
  expect(tallyWords(row(1))).toBe('')
})

it.each([
  ['thrust_gf', 5, 'different', 'better'],
  ['thrust_gf', -5, 'different', 'worse'],
  ['power_w', 5, 'different', 'worse'],
  ['voltage_v', 5, 'different', ''],
  ['thrust_gf', 5, 'unresolved', ''],
] as const)('%s by %d, %s, is %s', (name, by, outcome, tone) => {
  expect(deltaTone(name, { outcome, delta: by })).toBe(tone)
})

describe('the page', () => {
  const answers = { 'GET /api/v1/session/': session(), 'GET /api/v1/compare/bench/': table() }

  it('says of each row what differs from the row before, and leaves empty columns out', async () => {
    serve(answers)
    const { page } = await show(BenchTablePage, { path: '/compare/bench' })
    await settle()
    const text = page.text()
    expect(text).toContain('Each held against the row before')
    expect(text).toContain('−10.0')
    expect(text).toContain('not resolved')
    expect(text).toContain('1 worse, 1 not resolved')
    expect(text).toContain('strongest')
    expect(text).toContain('2 of the runs nobody has reviewed')
    expect(text).not.toContain('Torque')
  })

  it('holds the others against a row, by the address', async () => {
    const asked = serve(answers)
    const { page, path } = await show(BenchTablePage, { path: '/compare/bench' })
    await settle()
    const hold = page.findAll('button').find((one) => one.text().includes('hold the others'))
    await hold?.trigger('click')
    await settle()
    expect(decodeURIComponent(path())).toContain('baseline=1|Light|bench')
    expect(asked.at(-1)?.query.baseline).toBe('1|Light|bench supply|16')
  })

  it('says a level that is none at its field, and keeps it there', async () => {
    serve({
      ...answers,
      'GET /api/v1/compare/bench/': (_: unknown, query: Record<string, string>) =>
        query.level
          ? refusal(400, 'no', { fields: { level: ['A valid number is required.'] } })
          : table({ condition: 'thrust_gf', level: 500 }),
    })
    const { page } = await show(BenchTablePage, { path: '/compare/bench?condition=thrust_gf' })
    await settle()
    await page.find('#bench-level').setValue('much')
    await page.find('#bench-level').trigger('change')
    await settle()
    expect(page.text()).toContain('A valid number is required.')
  })

  it('says a level beside it that is none, and the table stays', async () => {
    const first = table().groups[0]
    if (!first) throw new Error('no group')
    const beside = { ...first, condition: 'thrust_gf', level: 600 }
    serve({
      ...answers,
      'GET /api/v1/compare/bench/': (_: unknown, query: Record<string, string>) =>
        query.also === 'thrust_gf@6oo'
          ? refusal(400, 'no', { fields: { also: ["'thrust_gf@6oo' is no condition."] } })
          : table({ groups: [first, beside] }),
    })
    const { page } = await show(BenchTablePage, { path: '/compare/bench?also=thrust_gf@600' })
    await settle()
    const level = page.get('input[aria-label="Level of equal thrust"]')
    await level.setValue('6oo')
    await level.trigger('change')
    await settle()
    expect(page.get('[role=alert]').text()).toContain("'thrust_gf@6oo' is no condition.")
    expect(page.text()).toContain('Each held against the row before')
  })

  it('turns the page of a long table, and is at its first for another one', async () => {
    const rows = Array.from({ length: 95 }, (_, k) => row(k + 1))
    serve({})
    const { page } = await show(BenchRows, { props: { rows, groups: table().groups } })
    expect(page.findAll('.el-table__body tbody tr')).toHaveLength(40)
    expect(page.text()).toContain('Total 95')
    await page.get('.btn-next').trigger('click')
    await page.get('.btn-next').trigger('click')
    expect(page.findAll('.el-table__body tbody tr')).toHaveLength(15)
    await page.setProps({ rows: rows.slice(0, 50) })
    expect(page.findAll('.el-table__body tbody tr')).toHaveLength(40)
  })

  it('leads somebody with an empty bench to a run', async () => {
    serve({
      ...answers,
      'GET /api/v1/compare/bench/': table({ supplies: [], rows: [], supply: '' }),
    })
    const { page } = await show(BenchTablePage, { path: '/compare/bench' })
    await settle()
    expect(page.text()).toContain('Nothing to compare yet')
  })
})
