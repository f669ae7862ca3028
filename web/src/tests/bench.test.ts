import { afterEach, describe, expect, it } from 'vitest'
import { reactive } from 'vue'
import BenchStrip from '@/app/BenchStrip.vue'
import BenchResult from '@/features/bench/BenchResult.vue'
import BenchSetup from '@/features/bench/BenchSetup.vue'
import LiveFigures from '@/features/bench/LiveFigures.vue'
import SafetyChecklist from '@/features/bench/SafetyChecklist.vue'
import { CHECKLIST, EMPTY_DRAFT } from '@/features/bench/setup'
import { type Frame, useBench } from '@/live/useBench'
import { aRun, serve, session, settle, show } from './mounting'

afterEach(() => {
  // Requests that come late must not leave the test.
  serve({})
  localStorage.clear()
  document.body.innerHTML = ''
})

function aFrame(changed: Partial<Frame> = {}): Frame {
  return {
    number: 1,
    state: 'running',
    message: 'Running.',
    link: true,
    simulated: true,
    time_s: 12.5,
    values: { throttle_pct: 60, thrust_gf: 481, current_a: 7.5, motor_temp_c: 41.2 },
    progress: { elapsed_s: 9, total_s: 26, label: '2 of 5: 60 %' },
    run_id: 'uid-27',
    title: 'Drift A · Wickett',
    limits: { current_a: 9, motor_temp_c: 90, thrust_gf: 400 },
    end: null,
    ready_in_s: 185,
    waiting_runs: 0,
    delivery_problem: '',
    ...changed,
  }
}

describe('the bench strip', () => {
  it('says link, state, temperature, when it is ready and what runs', async () => {
    serve({ 'GET /api/v1/session/': session() })
    const { page } = await show(BenchStrip)
    useBench().take(aFrame())
    await settle()
    const text = page.text().replaceAll(/\s+/g, ' ')
    expect(text).toContain('Simulated stand')
    expect(page.get('[role=status]').text()).toBe('RUNNING')
    expect(text).toContain('41.2 °C')
    expect(text).toContain('ready in ~3 min 05 s')
    expect(text).toContain('2 of 5: 60 %')
  })

  it('stops by its button, only when there is something to stop', async () => {
    const asked = serve({
      'GET /api/v1/session/': session(),
      'POST /api/v1/bench/stop/': aFrame({ state: 'aborting', message: 'stopped by reviewer' }),
    })
    const { page } = await show(BenchStrip)
    const stop = page.get('.stop')
    expect(stop.attributes('disabled')).toBeDefined()
    useBench().take(aFrame())
    await settle()
    expect(stop.attributes('disabled')).toBeUndefined()
    await stop.trigger('click')
    await settle()
    expect(asked.some((a) => a.method === 'POST' && a.path === '/api/v1/bench/stop/')).toBe(true)
    expect(page.get('[role=status]').text()).toBe('MAKING SAFE')
  })

  it('says when the agent or the stand is away', async () => {
    serve({ 'GET /api/v1/session/': session() })
    const { page } = await show(BenchStrip)
    expect(page.text()).toContain('Bench agent away')
    useBench().take(aFrame({ state: 'idle', link: false }))
    await settle()
    expect(page.text()).toContain('No stand')
  })
})

describe('the live state', () => {
  it('is hot from arming until it is safe', async () => {
    await show(BenchStrip)
    const bench = useBench()
    const hot = (['idle', 'armed', 'running', 'aborting', 'safe', 'faulted'] as const).map(
      (state) => {
        bench.take(aFrame({ state }))
        return bench.hot
      },
    )
    expect(hot).toEqual([false, true, true, true, false, false])
  })

  it('shouts when a stop did not arrive', async () => {
    serve({})
    await show(BenchStrip)
    const bench = useBench()
    await bench.stop()
    expect(bench.stopProblem).toContain('hardware kill switch')
  })

  it('keeps a trail of values for the chart', async () => {
    await show(BenchStrip)
    const bench = useBench()
    bench.take(aFrame({ time_s: 1 }))
    bench.take(aFrame({ time_s: 2, values: {} }))
    bench.take(aFrame({ time_s: 3 }))
    expect(bench.trail.map((point) => point.time_s)).toEqual([1, 3])
  })
})

describe('the live figures', () => {
  it('say in words how near each is to its limit', async () => {
    const { page } = await show(LiveFigures, { props: { frame: aFrame() } })
    const cell = (name: string) => page.findAll('dl > div').find((d) => d.text().includes(name))
    expect(cell('Thrust')?.text()).toContain('over its limit')
    expect(cell('Thrust')?.classes()).toContain('near-2')
    expect(cell('Current')?.text()).toContain('near its limit')
    expect(cell('Motor temperature')?.text()).not.toContain('near its limit')
    expect(cell('Motor temperature')?.text()).toContain('cut at 90 °C')
  })

  it('show a dash for what the stand does not give', async () => {
    const { page } = await show(LiveFigures, { props: { frame: aFrame() } })
    const voltage = page.findAll('dl > div').find((d) => d.text().includes('Voltage'))
    expect(voltage?.get('dd').text()).toContain('—')
  })
})

describe('the checklist', () => {
  it('asks for everything and shows the cautions', async () => {
    const { page } = await show(SafetyChecklist, {
      props: { modelValue: new Set(), disabled: false },
    })
    expect(page.findAll('input')).toHaveLength(CHECKLIST.length)
    expect(page.text()).toContain("maker's instructions, local codes and")
    expect(page.text()).toContain('does not make a run safe')
  })

  it('adds and takes back', async () => {
    const { page } = await show(SafetyChecklist, {
      props: { modelValue: new Set(['mount_clamped']), disabled: false },
    })
    const boxes = page.findAll('input')
    await boxes[0]?.setValue(true)
    await boxes[4]?.setValue(false)
    const sets = page.emitted('update:modelValue') as [Set<string>][]
    expect([...(sets[0]?.[0] ?? [])].sort()).toEqual(['eye_protection', 'mount_clamped'])
    expect([...(sets[1]?.[0] ?? [])]).toEqual(['eye_protection'])
  })
})

const RIG = {
  'GET /api/v1/motors/': {
    results: [
      {
        id: 3,
        full_name: 'Ostrel Drift 2206 1900',
        samples: [{ id: 7, motor: 3, mark: 'A' }],
      },
      { id: 4, full_name: 'Hollin Pale 2807 1250', samples: [{ id: 9, motor: 4, mark: 'B' }] },
    ],
  },
  'GET /api/v1/propellers/': { results: [{ id: 1, full_name: 'Wickett 5.1x4.2x3' }] },
  'GET /api/v1/supplies/': {
    results: [
      { id: 1, name: 'Supply 16 V', trip_a: 55, cells: null, floor_v: 12.8 },
      { id: 2, name: 'Pack 4-1', trip_a: null, cells: 4, floor_v: 13.2 },
    ],
  },
  'GET /api/v1/stands/': {
    results: [
      { id: 1, name: 'Yard stand', live: true },
      { id: 2, name: 'Lever and scale', live: false },
    ],
  },
}

describe('what to run', () => {
  it('begins with the wanted motor and the only live stand', async () => {
    serve(RIG)
    const draft = { ...EMPTY_DRAFT }
    const { page } = await show(BenchSetup, {
      props: { modelValue: draft, wantedMotor: 4, disabled: false },
    })
    expect(draft.sample).toBe(9)
    expect(draft.stand).toBe(1)
    expect(page.text()).not.toContain('Lever and scale')
  })

  it("brings the supply's floor along and names its trip", async () => {
    serve(RIG)
    const { page } = await show(BenchSetup, {
      props: { modelValue: reactive({ ...EMPTY_DRAFT }), wantedMotor: null, disabled: false },
    })
    await page.get('#supply').setValue('2')
    await settle()
    const floor = page.findAll('label').find((l) => l.text().startsWith('Below, V'))
    expect((floor?.get('input').element as HTMLInputElement).value).toBe('13.2')
    await page.get('#supply').setValue('1')
    await settle()
    expect(page.text()).toContain('Supply 16 V trips at 55 A.')
    expect((floor?.get('input').element as HTMLInputElement).value).toBe('12.8')
  })

  it('forgets a propeller that is not on the bench any more', async () => {
    serve(RIG)
    const draft = { ...EMPTY_DRAFT, propeller: 99 }
    await show(BenchSetup, { props: { modelValue: draft, wantedMotor: null, disabled: false } })
    expect(draft.propeller).toBeNull()
  })

  it('tells how long the profile takes', async () => {
    serve(RIG)
    const { page } = await show(BenchSetup, {
      props: {
        modelValue: { ...EMPTY_DRAFT, levels: '20 60' },
        wantedMotor: null,
        disabled: false,
      },
    })
    expect(page.get('.takes').text()).toContain('15\u2009s')
  })
})

describe('the result at the end', () => {
  const end = { outcome: 'stopped', code: 'stopped', reason: 'stopped by reviewer' }

  it('waits until the recording is on record', async () => {
    serve({ 'GET /api/v1/session/': session(), 'GET /api/v1/runs/': { results: [] } })
    const { page } = await show(BenchResult, { props: { uid: 'uid-27', end } })
    expect(page.text()).toContain('stopped by reviewer')
    expect(page.text()).toContain('Bringing the recording to the record')
  })

  it('shows the headline figures with their uncertainty', async () => {
    const run = aRun(27, { outcome: 'stopped', warning_count: 1 })
    serve({
      'GET /api/v1/session/': session(),
      'GET /api/v1/runs/': { results: [run] },
      'GET /api/v1/runs/27/': { ...run, result: null },
    })
    const { page } = await show(BenchResult, { props: { uid: 'uid-27', end } })
    const text = page.text().replaceAll(/\s+/g, '')
    expect(text).toContain('thrust1,123.5±0.8gf')
    expect(text).toContain('1warning')
    expect(page.get('a').text()).toBe('Run 27')
  })
})
