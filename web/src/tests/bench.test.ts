import { afterEach, describe, expect, it, vi } from 'vitest'
import { reactive } from 'vue'
import BenchAlarms from '@/app/BenchAlarms.vue'
import BenchStrip from '@/app/BenchStrip.vue'
import BenchResult from '@/features/bench/BenchResult.vue'
import BenchSetup from '@/features/bench/BenchSetup.vue'
import LiveFigures from '@/features/bench/LiveFigures.vue'
import SafetyChecklist from '@/features/bench/SafetyChecklist.vue'
import { checklist, freshDraft } from '@/features/bench/setup'
import { useBench } from '@/live/useBench'
import { aFrame, aLimit } from './frames'
import { aRun, pick, serve, session, settle, show } from './mounting'

afterEach(() => {
  // Requests that come late must not leave the test.
  serve({})
  localStorage.clear()
  document.body.innerHTML = ''
})

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
      'POST /api/v1/bench/stop/': aFrame({ state: 'aborting', message: 'Stopped by Ilse.' }),
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
  const STATES = [
    'idle',
    'armed',
    'running',
    'aborting',
    'coasting',
    'zeroed',
    'safe',
    'faulted',
  ] as const

  it('is hot from arming until it is still, and can cut a fault as well', async () => {
    await show(BenchStrip)
    const bench = useBench()
    const hot = STATES.map((state) => {
      bench.take(aFrame({ state }))
      return [bench.hot, bench.canCut]
    })
    expect(hot.map(([is]) => is)).toEqual([false, true, true, true, true, false, false, false])
    expect(hot.map(([, can]) => can)).toEqual([false, true, true, true, true, false, false, true])
  })

  it('can cut while it is arming, and whatever the agent says, when the stand says it is armed', async () => {
    await show(BenchStrip)
    const bench = useBench()
    bench.take(aFrame({ state: 'idle' }))
    bench.arming = true
    expect(bench.canCut).toBe(true)
    bench.arming = false
    expect(bench.canCut).toBe(false)
    bench.door = {
      open: true,
      stand: { armed: true, throttle_pct: 0, speed_rpm: null },
      troubles: [],
    }
    expect(bench.canCut).toBe(true)
  })

  it('shouts within a second when a stop did not arrive, and says when it did after all', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
    try {
      serve({})
      await show(BenchAlarms, {}, () => vi.advanceTimersByTimeAsync(1))
      const bench = useBench()
      void bench.stop()
      await vi.advanceTimersByTimeAsync(800)
      expect(bench.stopProblem).toBe('')
      await vi.advanceTimersByTimeAsync(200)
      expect(bench.stopProblem).toBe('STOP did not arrive: cut the supply by hand.')
      bench.take(aFrame({ state: 'running' }))
      expect(bench.stopProblem).not.toBe('')
      bench.take(aFrame({ state: 'coasting' }))
      expect(bench.stopProblem).toBe('')
      expect(bench.stopNews).toContain('throttle zero')
    } finally {
      vi.useRealTimers()
    }
  })

  it('takes no answer of the web process for a stop that arrived', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
    try {
      serve({ 'POST /api/v1/bench/stop/': aFrame({ state: 'aborting' }) })
      await show(BenchAlarms, {}, () => vi.advanceTimersByTimeAsync(1))
      const bench = useBench()
      void bench.stop()
      await vi.advanceTimersByTimeAsync(1000)
      expect(bench.stopProblem).toContain('cut the supply by hand')
    } finally {
      vi.useRealTimers()
    }
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

  it('say what became of every limit: off by whom, not to be judged, the stand’s own', async () => {
    const limits = [
      aLimit('thrust_gf', 'Thrust', 'gf', null, { state: 'off', off_by: 'Ilse' }),
      aLimit('motor_temp_c', 'Motor temperature', '°C', 90, { state: 'cannot_judge' }),
      aLimit('current_a', 'Current', 'A', 90, { stand_limit: 80 }),
      aLimit('voltage_floor_v', 'Voltage', 'V', 13.2, { channel: 'voltage_v' }),
    ]
    const { page } = await show(LiveFigures, { props: { frame: aFrame({ limits }) } })
    const text = page.text()
    expect(text).toContain('no limit: Ilse’s choice')
    expect(text).toContain('cut at 90 °C: CANNOT BE JUDGED')
    expect(text).toContain('cut at 80 A, the stand’s own')
    expect(text).toContain('cut below 13.2 V')
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
      props: { modelValue: new Set(), items: checklist(), disabled: false },
    })
    expect(page.findAll('input')).toHaveLength(checklist().length)
    expect(page.text()).toContain("maker's instructions, local codes and")
    expect(page.text()).toContain('does not make a run safe')
  })

  it('adds and takes back', async () => {
    const { page } = await show(SafetyChecklist, {
      props: { modelValue: new Set(['mount_clamped']), items: checklist(), disabled: false },
    })
    const boxes = page.findAll('input')
    await boxes[0]?.setValue(true)
    await boxes[4]?.setValue(false)
    const sets = page.emitted('update:modelValue') as [Set<string>][]
    expect([...(sets[0]?.[0] ?? [])].sort()).toEqual(['eye_protection', 'mount_clamped'])
    expect([...(sets[1]?.[0] ?? [])]).toEqual(['eye_protection'])
  })
})

const MOTORS = [
  {
    id: 3,
    full_name: 'Ostrel Drift 2206 1900',
    samples: [{ id: 7, motor: 3, mark: 'A' }],
  },
  { id: 4, full_name: 'Hollin Pale 2807 1250', samples: [{ id: 9, motor: 4, mark: 'B' }] },
]
const RIG = {
  'GET /api/v1/motors/': (_: unknown, { id, sample }: Record<string, string>) => ({
    results: MOTORS.filter(
      (motor) =>
        (!id || motor.id === Number(id)) &&
        (!sample || motor.samples.some((one) => one.id === Number(sample))),
    ),
  }),
  'GET /api/v1/propellers/': (_: unknown, { id }: Record<string, string>) => ({
    results: [{ id: 1, full_name: 'Wickett 5.1x4.2x3' }].filter(
      (one) => !id || one.id === Number(id),
    ),
  }),
  'GET /api/v1/supplies/': {
    results: [
      { id: 1, name: 'Supply 14.8 V', trip_a: 55, cells: null, floor_v: 11.84 },
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
    const draft = freshDraft()
    const { page } = await show(BenchSetup, {
      props: { modelValue: draft, wantedMotor: 4, disabled: false },
    })
    expect(draft.sample).toBe(9)
    expect(draft.stand).toBe(1)
    expect(page.text()).not.toContain('Lever and scale')
  })

  it("brings the supply's floor along and names what the gear allows", async () => {
    serve({
      ...RIG,
      'GET /api/v1/bench/limits/': (_: unknown, { supply }: Record<string, string>) =>
        supply === '1'
          ? [
              {
                channel: 'current_a',
                side: 'most',
                known: [
                  { value: 36, source: "the motor's rating" },
                  { value: 55, source: 'Supply 14.8 V' },
                ],
                unknown: ['ESC Unmarked'],
              },
            ]
          : [],
    })
    const { page } = await show(BenchSetup, {
      props: { modelValue: reactive(freshDraft()), wantedMotor: null, disabled: false },
    })
    await pick(page, '#supply', 'Pack 4-1')
    const floor = () =>
      (
        page
          .findAll('.number-field')
          .find((f) => f.text().startsWith('Below, V'))
          ?.get('input').element as HTMLInputElement
      ).value
    expect(floor()).toBe('13.2')
    await pick(page, '#supply', 'Supply 14.8 V')
    expect(floor()).toBe('11.84')
    const allowed = page.get('.gear').text().replaceAll(/\s+/g, ' ')
    expect(allowed).toContain("Current, at most 36 A (the motor's rating), 55 A (Supply 14.8 V)")
    expect(allowed).toContain('not known: ESC Unmarked')
    // The usual limit of 40 A lies beyond what the motor is rated for.
    expect(allowed).toContain('The limit that is set, 40 A, lies beyond it.')
    const current = page.findAll('.number-field').find((f) => f.text().startsWith('Current, A'))
    await current?.get('input').setValue('30')
    expect(page.get('.gear').text()).not.toContain('lies beyond')
  })

  it('forgets a propeller that is not on the bench any more', async () => {
    serve(RIG)
    const draft = { ...freshDraft(), propeller: 99 }
    await show(BenchSetup, { props: { modelValue: draft, wantedMotor: null, disabled: false } })
    expect(draft.propeller).toBeNull()
  })

  it('tells how long the profile takes, as the server reckons it', async () => {
    const course = { duration_s: 15, highest_pct: 60, depends: false, segments: [] }
    const asked = serve({ ...RIG, 'POST /api/v1/bench/profile/': course })
    const { page } = await show(BenchSetup, {
      props: {
        modelValue: { ...freshDraft(), values: { steps: { levels_pct: '20 60' } } },
        wantedMotor: null,
        disabled: false,
      },
    })
    expect(page.get('.course').text()).toContain('takes 15\u2009s')
    expect(asked.find((one) => one.path.endsWith('profile/'))?.body).toEqual({
      kind: 'steps',
      levels_pct: [20, 60],
      dwell_s: 3,
      ramp_pct_per_s: 40,
      rest_s: 3,
    })
  })

  it('asks each kind of run for what is its own, and a bare shaft for no propeller', async () => {
    serve(RIG)
    const draft = { ...freshDraft(), kind: 'no_load' }
    const { page } = await show(BenchSetup, {
      props: { modelValue: draft, wantedMotor: null, disabled: false },
    })
    expect(page.find('#propeller').exists()).toBe(false)
    expect(page.text()).toContain('Full throttle for')
    page.unmount()
    const { page: wheel } = await show(BenchSetup, {
      props: { modelValue: { ...draft, kind: 'flywheel' }, wantedMotor: null, disabled: false },
    })
    expect(wheel.text()).toContain('Wheel rated for')
    // What nobody can know is not made up.
    expect(wheel.text()).toContain('Wheel rated for: 500 to 250000 rpm')
    wheel.unmount()
  })
})

describe('the result at the end', () => {
  const end = { outcome: 'stopped', code: 'stopped', reason: 'Stopped by Ilse.', by: 'Ilse' }

  it('waits until the recording is on record', async () => {
    serve({ 'GET /api/v1/session/': session(), 'GET /api/v1/runs/': { results: [] } })
    const { page } = await show(BenchResult, {
      props: { uid: 'uid-27', end, wanted: 3, may: true },
    })
    expect(page.text()).toContain('Stopped by Ilse.')
    expect(page.text()).toContain('Bringing the recording to the record')
  })

  it('shows the headline figures with their uncertainty', async () => {
    const run = aRun(27, { outcome: 'stopped', warning_count: 1 })
    serve({
      'GET /api/v1/session/': session(),
      'GET /api/v1/runs/': { results: [run] },
      'GET /api/v1/runs/27/': { ...run, result: null },
    })
    const { page } = await show(BenchResult, {
      props: { uid: 'uid-27', end, wanted: 3, may: true },
    })
    const text = page.text().replaceAll(/\s+/g, '')
    expect(text).toContain('thrust1,123.5±0.8gf')
    expect(text).toContain('1warning')
    expect(page.get('a').text()).toBe('Run 27')
  })
})
