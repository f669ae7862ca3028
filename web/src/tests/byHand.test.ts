import { ElRadioGroup, ElSlider } from 'element-plus'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import BenchStrip from '@/app/BenchStrip.vue'
import { AlarmSound, PATTERNS } from '@/features/bench/alarmSound'
import HandPanel from '@/features/bench/HandPanel.vue'
import LiveFigures from '@/features/bench/LiveFigures.vue'
import WhoseThrottle from '@/features/bench/WhoseThrottle.vue'
import { armBody, checklistOf, freshDraft, gapsOf, hands } from '@/features/bench/setup'
import RunLimits from '@/features/runs/RunLimits.vue'
import { type Frame, NOT_ENDED, useBench } from '@/live/useBench'
import { aFrame, aLimit } from './frames'
import { aRun, alerts, pick, refusal, serve, session, settle, show } from './mounting'

const HAND = {
  phase: 'hold',
  says: 'Hold 60 %.',
  asked_pct: 60,
  at: 1,
  of: 3,
  held_s: 1.24,
  hold_s: 3,
  guide: 'throttle_pct',
  alarm: '',
  near: [],
} satisfies Frame['by_hand']
const asked = (changed: Partial<NonNullable<Frame['by_hand']>> = {}) =>
  aFrame({ state: 'watching', by_hand: { ...HAND, ...changed } })

let tones: { pitch: number }[] = []
class FakeAudio {
  currentTime = 0
  destination = {}
  resume = () => Promise.resolve()
  close = () => Promise.resolve()
  createGain = () => ({
    gain: { setValueAtTime: () => 0, exponentialRampToValueAtTime: () => 0 },
    connect: (to: unknown) => to,
  })
  createOscillator = () => {
    const tone = {
      frequency: { value: 0 },
      connect: (to: unknown) => to,
      start: () => tones.push({ pitch: tone.frequency.value }),
      stop: () => 0,
    }
    return tone
  }
}

beforeEach(() => {
  tones = []
  vi.stubGlobal('AudioContext', FakeAudio)
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
  serve({})
  localStorage.clear()
  document.body.innerHTML = ''
})

describe('the hand on the throttle', () => {
  it('is told what to do, how long it held, and that nothing here can cut', async () => {
    serve({})
    const { page } = await show(HandPanel, { props: { frame: asked() } })
    expect(page.get('.says').text()).toBe('Hold 60 %.')
    const text = page.text().replaceAll(/\s+/g, ' ')
    expect(text).toContain('1.2 of 3.0 s · position 2 of 3')
    expect(text).toContain('cannot cut it')
    expect(text).toContain('Space or Esc ends the record, not the motor')
    expect(alerts(page)).toEqual([])
    expect(text).not.toContain('not read')
  })

  it('says what tells where the hand is when nobody reads the throttle', async () => {
    serve({})
    const { page } = await show(HandPanel, { props: { frame: asked({ guide: 'speed_rpm' }) } })
    expect(page.text()).toContain('The throttle is not read; speed tells when it is held.')
  })

  it('is warned in words and by sound before a limit, and louder beyond it', async () => {
    vi.useFakeTimers()
    serve({})
    const near = asked({ near: [{ name: 'current_a', label: 'Current', how: 'near' }] })
    const { page } = await show(HandPanel, { props: { frame: near } })
    await vi.advanceTimersByTimeAsync(0)
    expect(alerts(page)).toEqual(['Near its limit: current.'])
    expect(page.get('section').classes()).toContain('near')
    await vi.advanceTimersByTimeAsync(PATTERNS.near.every_ms)
    expect(tones).toEqual([{ pitch: 660 }, { pitch: 660 }])
    await page.setProps({ frame: asked({ alarm: 'Current 41 A above the limit of 40 A.' }) })
    await vi.advanceTimersByTimeAsync(PATTERNS.beyond.every_ms)
    expect(alerts(page)).toEqual(['CUT BY HAND NOW. Current 41 A above the limit of 40 A.'])
    expect(page.get('section').classes()).toContain('beyond')
    expect(tones.slice(2).map((tone) => tone.pitch)).toEqual([990, 990])
    await page.setProps({ frame: asked() })
    tones = []
    await vi.advanceTimersByTimeAsync(5000)
    expect(tones).toEqual([])
  })

  it('falls silent with the panel', async () => {
    vi.useFakeTimers()
    serve({})
    const { page } = await show(HandPanel, { props: { frame: asked({ alarm: 'x' }) } })
    page.unmount()
    tones = []
    await vi.advanceTimersByTimeAsync(5000)
    expect(tones).toEqual([])
  })

  it('says so where the browser makes no sound', async () => {
    vi.stubGlobal('AudioContext', undefined)
    expect(new AlarmSound().try()).toBe(false)
    serve({})
    const { page } = await show(HandPanel, { props: { frame: asked() } })
    await page.get('button').trigger('click')
    expect(page.text()).toContain('watch the colour')
  })

  it('plays the transmitter of a simulated stand only', async () => {
    const sent = serve({ 'POST /api/v1/bench/hand/': asked() })
    const { page } = await show(HandPanel, { props: { frame: asked() } })
    page.getComponent(ElSlider).vm.$emit('update:modelValue', 35)
    await settle()
    expect(sent.filter((one) => one.path.endsWith('/hand/')).map((one) => one.body)).toEqual([
      { pct: 35 },
    ])
    await page.setProps({ frame: { ...asked(), has_hand: false } })
    expect(page.findComponent(ElSlider).exists()).toBe(false)
  })

  it('moves the transmitter one message at a time, and at last to where the hand is', async () => {
    const waiting: (() => void)[] = []
    const late = () => new Promise((done) => waiting.push(() => done(asked())))
    const sent = serve({ 'POST /api/v1/bench/hand/': late })
    const { page } = await show(HandPanel, { props: { frame: asked() } })
    const positions = () =>
      sent
        .filter((one) => one.path.endsWith('/hand/'))
        .map((one) => (one.body as { pct: number }).pct)
    const slider = page.getComponent(ElSlider).vm
    for (const pct of [11, 12, 13, 20]) {
      slider.$emit('update:modelValue', pct)
      await settle()
    }
    // The first is on its way: none that could overtake it is.
    expect(positions()).toEqual([11])
    waiting.shift()?.()
    await vi.waitFor(() => expect(positions()).toEqual([11, 20]))
    waiting.shift()?.()
    await settle()
    expect(positions()).toEqual([11, 20])
    slider.$emit('update:modelValue', 0)
    await vi.waitFor(() => expect(positions()).toEqual([11, 20, 0]))
  })

  it('says that it did not move, and moves again', async () => {
    let refused = true
    const sent = serve({
      'POST /api/v1/bench/hand/': () => (refused ? refusal(409, 'Nothing is recorded.') : asked()),
    })
    const { page } = await show(HandPanel, { props: { frame: asked() } })
    const slider = page.getComponent(ElSlider).vm
    slider.$emit('update:modelValue', 9)
    await vi.waitFor(() => expect(page.text()).toContain('did not move'))
    refused = false
    slider.$emit('update:modelValue', 10)
    await vi.waitFor(() => expect(page.text()).not.toContain('did not move'))
    expect(sent).toHaveLength(2)
  })
})

describe('the strip by hand', () => {
  it('ends the record and does not claim to cut', async () => {
    serve({
      'GET /api/v1/session/': session(),
      'POST /api/v1/bench/stop/': aFrame({ state: 'watched' }),
    })
    const { page } = await show(BenchStrip)
    const bench = useBench()
    bench.take(asked())
    await settle()
    expect(page.get('[role=status]').text()).toBe('RECORDING, BY HAND')
    expect(page.get('.stop').text()).toContain('END RECORD')
    await page.get('.stop').trigger('click')
    await settle()
    expect(bench.stopping).toBe(false)
    expect(bench.stopNews).toBe('')
    expect(page.get('[role=status]').text()).toBe('Throttle in a hand, not cut from here')
  })

  it('says so when the record could not be ended', async () => {
    serve({
      'GET /api/v1/session/': session(),
      'POST /api/v1/bench/stop/': refusal(503, 'The agent is away.'),
    })
    await show(BenchStrip)
    const bench = useBench()
    bench.take(asked())
    await bench.stop()
    expect(bench.stopProblem).toBe(NOT_ENDED)
  })
})

describe('live figures by hand', () => {
  it.each([
    [aFrame(), 'cut at 9 A'],
    [asked(), 'alarm at 9 A'],
  ])('say what a limit does', async (frame, words) => {
    const limits = [aLimit('current_a', 'Current', 'A', 9)]
    const { page } = await show(LiveFigures, { props: { frame: { ...frame, limits } } })
    expect(page.text()).toContain(words)
  })
})

describe('whose throttle it is', () => {
  const mounted = async (frame: Frame) => {
    const draft = freshDraft()
    draft.kind = 'peak'
    const made = await show(WhoseThrottle, { props: { modelValue: draft, disabled: false } })
    useBench().take(frame)
    await settle()
    return { ...made, draft }
  }

  it('is a choice, and a hand makes steps', async () => {
    serve({})
    const { page, draft } = await mounted(aFrame({ state: 'idle' }))
    expect(page.text()).not.toContain('cannot cut')
    page.getComponent(ElRadioGroup).vm.$emit('update:modelValue', true)
    await settle()
    expect([draft.by_hand, draft.kind]).toEqual([true, 'steps'])
  })

  it('is no choice at a stand that only reads', async () => {
    serve({})
    const { draft } = await mounted(aFrame({ state: 'idle', drives: false }))
    expect(draft.by_hand).toBe(true)
  })

  it('names the stands where there are several, and says why one cannot be taken', async () => {
    const sent = serve({
      'POST /api/v1/bench/stand/': refusal(409, 'Another stand is taken at rest.'),
    })
    const { page } = await mounted(aFrame({ state: 'idle', stands: ['simulated stand', 'club'] }))
    await pick(page, '#driven', 'club')
    await settle()
    expect(sent.at(-1)?.body).toEqual({ stand: 'club' })
    expect(page.text()).toContain('Another stand is taken at rest.')
  })
})

describe('the choices before it', () => {
  it('ask for what moves it and for who cuts', () => {
    const draft = { ...freshDraft(), by_hand: true }
    expect(gapsOf(draft, new Set())).toContain('Choose what the throttle is moved with')
    expect(checklistOf(draft).at(-1)?.key).toBe('hand_cuts')
    draft.kind = 'peak'
    expect(gapsOf(draft, new Set()).join()).toContain('choose steps')
    expect(hands().map((one) => one.key)).toEqual([
      'transmitter',
      'servo_tester',
      'flight_controller',
    ])
  })

  it('ask for a guard that is off, and send who has the throttle', () => {
    const draft = freshDraft()
    expect(checklistOf(draft).map((item) => item.key)).not.toContain('guard_off')
    draft.guarded = false
    expect(checklistOf(draft).at(-1)?.key).toBe('guard_off')
    draft.limits.power_w = '600'
    draft.limits.speed_rpm = '40000'
    draft.limits.voltage_floor_v = '13'
    draft.hand = 'transmitter'
    expect(armBody(draft, new Set())).toMatchObject({ guarded: false, by_hand: false, hand: '' })
    draft.by_hand = true
    expect(armBody(draft, new Set())).toMatchObject({ by_hand: true, hand: 'transmitter' })
  })
})

describe('the record of it', () => {
  it('says whose hand it was, and who switched the guard off', async () => {
    const run = {
      ...aRun(1),
      limits: [],
      by_hand: true,
      guard_off_by: 'Ilse',
      command_source: 'servo_tester',
    }
    const { page } = await show(RunLimits, { props: { run } })
    expect(page.text()).toContain('by hand: a servo tester; nothing here could cut it')
    expect(page.text()).toContain('Ilse’s choice')
    expect(page.text()).toContain('Warned at')
  })
})
