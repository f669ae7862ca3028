import { afterEach, describe, expect, it } from 'vitest'
import AfterStop from '@/features/bench/AfterStop.vue'
import LivePicture from '@/features/bench/live/LivePicture.vue'
import RepeatsPanel from '@/features/bench/RepeatsPanel.vue'
import RunSteps from '@/features/bench/RunSteps.vue'
import { readyWords } from '@/live/ready'
import { refusal, serve, settle, show } from './mounting'

afterEach(() => {
  serve({})
  document.body.innerHTML = ''
})

const uid = 'aaaaaaaa-0000-4000-8000-000000000001'
const figure = { u: 6, n: 2, origin: 'measured', reason: '', assumed: false }
const repeats = {
  n: 2,
  wanted: 3,
  runs: [],
  advice: 'run',
  words: '2 of 3 made; so far they agree within what the stand repeats to (1 %).',
  rows: [
    {
      name: 'max_thrust_gf',
      values: [1180.2, 1193.1],
      mean: { ...figure, value: 1186.6 },
      s: 9.1,
      p_value: 0.28,
      agrees: true,
    },
    {
      name: 'max_current_a',
      values: [29.1, 32.2],
      mean: { ...figure, value: 30.6, u: 0.9 },
      s: 2.2,
      p_value: 0.001,
      agrees: false,
    },
  ],
}
const panel = (props = {}) => show(RepeatsPanel, { props: { uid, wanted: 3, may: true, ...props } })
const press = (key: string, from: EventTarget = document.body) =>
  from.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }))

describe('the repeats of a run', () => {
  it('shows the values, their mean and whether they agree', async () => {
    const asked = serve({ 'GET /api/v1/bench/repeats/': repeats })
    const { page } = await panel()
    await settle()
    expect(asked[0]?.query).toEqual({ run: uid, wanted: '3' })
    const text = page.text().replaceAll(/\s+/g, ' ')
    expect(text).toContain('2 of 3')
    expect(text).toContain('1,180 · 1,193 gf')
    expect(text).toContain('29.1 · 32.2 A')
    expect(page.findAll('.apart').map((cell) => cell.text())).toEqual(['do not agree'])
    expect(page.get('button').text()).toContain('Run it again')
  })

  it('writes one value no finer than it is known', async () => {
    const row = { ...repeats.rows[0], values: [945.93], s: null, agrees: null }
    const mean = { ...figure, value: 945.93, u: 4.7, n: 1 }
    const fine = {
      ...row,
      name: 'best_efficiency_g_per_w',
      values: [7.4413],
      mean: { ...figure, value: 7.4413, u: 0.04 },
    }
    serve({ 'GET /api/v1/bench/repeats/': { ...repeats, n: 1, rows: [{ ...row, mean }, fine] } })
    const { page } = await panel()
    await settle()
    const cells = page.findAll('td:first-of-type').map((cell) => cell.text())
    expect(cells).toEqual(['946 gf', '7.44 gf/W'])
  })

  it('goes to the confirmation by R, but not while somebody types or may not run', async () => {
    serve({ 'GET /api/v1/bench/repeats/': repeats })
    const { page } = await panel()
    await settle()
    const field = document.createElement('input')
    document.body.append(field)
    press('r', field)
    expect(page.findComponent(RepeatsPanel).emitted('again')).toBeUndefined()
    press('r')
    expect(page.findComponent(RepeatsPanel).emitted('again')).toHaveLength(1)
    page.unmount()
    const reader = await panel({ may: false })
    await settle()
    press('r')
    expect(reader.page.findComponent(RepeatsPanel).emitted('again')).toBeUndefined()
    expect(reader.page.find('button').exists()).toBe(false)
  })

  it('says when one more is proposed, when it is enough, and when it could not be read', async () => {
    for (const [advice, word] of [
      ['another', 'Run one more'],
      ['enough', 'all the same'],
    ] as const) {
      serve({ 'GET /api/v1/bench/repeats/': { ...repeats, advice } })
      const { page } = await panel()
      await settle()
      expect(page.get('button').text()).toContain(word)
      page.unmount()
    }
    serve({ 'GET /api/v1/bench/repeats/': refusal(404, 'Not found.') })
    const { page } = await panel()
    await settle()
    expect(page.get('[role=alert]').text()).toContain('could not be read')
  })
})

describe('the case after the stop', () => {
  const now = new Date(2026, 10, 27, 14, 0, 0)

  it('names the hour at which it is ready, at the earliest while it still warms', () => {
    const after = { phase: 'cooling', highest_c: 61.2, ready_in_s: 300 } as const
    expect(readyWords(after, now).replaceAll(/\s/g, ' ')).toBe('ready at 14:05, in ~5 min 00 s')
    expect(readyWords({ ...after, phase: 'warming' }, now)).toContain('at the earliest')
    expect(readyWords({ ...after, phase: 'ready', ready_in_s: 0 }, now)).toBe('cool')
  })

  it('is said with the highest it reached', async () => {
    const frame = { after: { phase: 'warming', highest_c: 55.52, ready_in_s: 240 } }
    const { page } = await show(AfterStop, { props: { frame } })
    expect(page.text()).toContain('still warms')
    expect(page.text()).toContain('highest 55.5 °C')
    const none = await show(AfterStop, { props: { frame: { after: null } } })
    expect(none.page.text()).toBe('')
  })
})

describe('the run in hand', () => {
  const frame = {
    run_id: uid,
    limits: [],
    expected: [],
    picture: {
      shape: 'curve',
      rows: [{ x: 60, values: { thrust_gf: 493, current_a: 7.8 }, series: 'plateau' }],
      says: 'At 60 %: 493 gf, 7.8 A.',
    },
    progress: {
      steps: ['to 80 %'],
      step: 0,
      next: {
        throttle_pct: 80,
        figures: [
          { name: 'current_a', value: 17.3, u: 0.7 },
          { name: 'voltage_v', value: 15.8, u: 0.1 },
        ],
      },
    },
  }

  it('says its newest point and draws it', async () => {
    const asked = serve({
      'GET /api/v1/bench/in-hand/': { run_id: uid, guarded: true, curve: [] },
    })
    const { page } = await show(LivePicture, { props: { frame, height: 200 } })
    await settle()
    expect(page.get('[role=status]').text()).toBe('At 60 %: 493 gf, 7.8 A.')
    expect(page.get('[role=group]').attributes('aria-label')).toContain('± 2 u')
    expect(asked.filter((one) => one.path.endsWith('in-hand/'))).toHaveLength(1)
  })

  it('draws nothing before its first point', async () => {
    serve({ 'GET /api/v1/bench/in-hand/': { run_id: uid, guarded: true, curve: [] } })
    const { page } = await show(LivePicture, {
      props: { frame: { ...frame, picture: null }, height: 200 },
    })
    await settle()
    expect(page.find('section').exists()).toBe(false)
  })

  it('shows what the next step will draw', async () => {
    const { page } = await show(RunSteps, { props: { frame } })
    const next = page.get('[aria-label="Next step"]').text().replaceAll(/\s+/g, ' ')
    expect(next).toContain('Next, 80 %')
    expect(next).toContain('~17.3±0.7A')
    expect(next).not.toContain('15.8')
  })
})
