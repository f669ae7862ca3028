/** What runs tell of motors, what was expected of a run, and what one is about to do. */
import { describe, expect, it } from 'vitest'
import type { Schemas } from '@/api/client'
import ExpectedRun from '@/features/bench/ExpectedRun.vue'
import RunSteps from '@/features/bench/RunSteps.vue'
import IdentifiedSheet from '@/features/motor_file/IdentifiedSheet.vue'
import RunExpected from '@/features/runs/RunExpected.vue'
import { serve, settle, show } from './mounting'

const figure = (value: number | null, u = 0.1, changed: object = {}): Schemas['StatedFigure'] => ({
  value,
  u: value === null ? null : u,
  n: value === null ? null : 6,
  origin: value === null ? '' : 'derived',
  reason: value === null ? 'needs no-load runs' : '',
  assumed: false,
  ...changed,
})
const named = (name: string, value: number | null, u?: number) => ({
  name,
  figure: figure(value, u),
})

describe('the constants of a motor', () => {
  const known: Schemas['IdentifiedMotor'] = {
    samples: [
      {
        sample: 1,
        mark: 'A',
        figures: [named('kv_rpm_per_v', 1943, 8), named('kt_nm_per_a', null)],
        resistance_at_c: 32.2,
        no_load_speed_rpm: 30_000,
        heat: [named('rise_k_per_kj', 11.2, 0.9), named('case_k_per_w', null)],
        soaks: [8, 9],
        runs: [1, 2, 3],
        why_not: '',
        stale: true,
        remarks: [{ code: 'start_temperatures_differ', message: 'A: runs started warm.' }],
      },
      {
        sample: 2,
        mark: 'B',
        figures: [],
        resistance_at_c: null,
        no_load_speed_rpm: null,
        heat: [],
        soaks: [],
        runs: [],
        why_not: 'No run of this sample is accepted.',
        stale: false,
        remarks: [],
      },
    ],
    model: [named('kv_rpm_per_v', 1937, 30)],
    prior: { words: 'label 1,950 rpm/V', figures: [named('kv_rpm_per_v', 1929, 79)] },
    mix_up: ['Sample A measures 2,600 rpm/V: were samples or labels mixed up?'],
    torque_curve: null,
  }

  it('stand beside the model and the guess, each with what it rests on', async () => {
    serve({ 'GET /api/v1/motors/1/identified/': known })
    const { page } = await show(IdentifiedSheet, { props: { motor: 1 } })
    const rows = page.findAll('tbody tr').map((row) => row.text())
    expect(rows[4]).toContain('11.2')
    expect(rows[4]).toContain('soak 8')
    expect(rows).toHaveLength(5)
    expect(rows[0]).toContain('1,943')
    expect(rows[0]).toContain('3 runs, case at 32 °C')
    expect(rows[0]).toContain('being made again')
    expect(rows[1]).toContain('No run of this sample is accepted.')
    expect(rows[2]).toContain('The model')
    expect(rows[3]).toContain('~')
    expect(page.get('[role=status]').text()).toContain('mixed up')
    expect(page.find('td [data-reason="needs no-load runs"]').exists()).toBe(true)
    page.unmount()
  })
})

describe('what was expected of a run', () => {
  it('stands beside what it gave, in words', async () => {
    const told: Schemas['RunExpected'] = {
      rests_on: 'motor: identified from 2 runs',
      figures: [
        {
          name: 'max_thrust_gf',
          predicted: figure(1125, 23, { origin: 'estimated' }),
          measured: figure(1110, 10),
          off_pct: -1.4,
          z: -0.6,
        },
        {
          name: 'max_current_a',
          predicted: figure(29.4, 0.7),
          measured: figure(null),
          off_pct: null,
          z: null,
        },
      ],
    }
    serve({ 'GET /api/v1/runs/20/expected/': told })
    const { page } = await show(RunExpected, { props: { run: 20 } })
    const rows = page.findAll('tbody tr').map((row) => row.text())
    expect(rows[0]).toContain('as expected')
    expect(rows[0]).toContain('−1.4')
    expect(rows[1]).toContain('—')
    expect(page.text()).toContain('identified from 2 runs')
    page.unmount()
  })

  it('is not there where nothing was expected', async () => {
    serve({ 'GET /api/v1/runs/20/expected/': { rests_on: '', figures: [] } })
    const { page } = await show(RunExpected, { props: { run: 20 } })
    expect(page.find('section').exists()).toBe(false)
    page.unmount()
  })
})

describe('what a run is about to do', () => {
  const props = {
    kind: 'steps',
    needsPropeller: true,
    sample: 1,
    propeller: 2,
    supply: 3,
    highest_pct: 100,
    limits: { current_a: '30', thrust_gf: '4000', power_w: '' },
    off: ['power_w'],
  }

  it('is held against the limits that are set', async () => {
    const asked = serve({
      'GET /api/v1/expectation/': {
        rests_on: 'motor: identified from 6 runs',
        figures: [
          named('max_thrust_gf', 1111, 33),
          named('max_current_a', 29.6, 1),
          named('max_power_w', 461, 16),
        ],
      },
    })
    const { page } = await show(ExpectedRun, { props })
    const rows = page.findAll('li').map((row) => row.text())
    expect(rows[0]).toContain('28 % of the limit')
    expect(rows[1]).toContain('it may be cut')
    // A limit that is off limits nothing.
    expect(rows[2]).not.toContain('limit')
    expect(asked[0]?.query).toMatchObject({ sample: '1', propeller: '2', highest_pct: '100' })
    page.unmount()
  })

  it('says why nothing can be expected, and is silent before a choice', async () => {
    serve({
      'GET /api/v1/expectation/': {
        rests_on: 'Below full throttle needs an ESC declared linear',
        figures: [named('max_thrust_gf', null)],
      },
    })
    const { page } = await show(ExpectedRun, { props })
    expect(page.text()).toContain('Nothing can be expected')
    page.unmount()
    const none = serve({})
    const { page: silent } = await show(ExpectedRun, { props: { ...props, propeller: null } })
    expect(silent.find('section').exists()).toBe(false)
    expect(none).toHaveLength(0)
    silent.unmount()
  })

  it('ticks off what is done', async () => {
    const frame = {
      progress: { elapsed_s: 3, total_s: 9, label: 'b', steps: ['a', 'b', 'c'], step: 1 },
      expected: [{ name: 'max_thrust_gf', value: 1125, u: 23 }],
    }
    const { page } = await show(RunSteps, { props: { frame } }, settle)
    expect(page.findAll('li').map((row) => row.classes().join(' '))).toEqual(['done', 'now', ''])
    expect(page.get('[aria-current=step]').text()).toContain('b')
    expect(page.text()).toContain('1,125')
    page.unmount()
  })
})
