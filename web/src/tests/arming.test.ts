import { afterEach, describe, expect, it } from 'vitest'
import BenchPage from '@/features/bench/BenchPage.vue'
import StartPanel from '@/features/bench/StartPanel.vue'
import { useArming } from '@/features/bench/useArming'
import { type BenchDraft, checklistOf, freshDraft } from '@/features/bench/setup'
import { useBench } from '@/live/useBench'
import { h, ref } from 'vue'
import { aFrame } from './frames'
import { refusal, serve, session, settle, show } from './mounting'

/** Limits that a fresh bench has no number for. */
const LEFT_OFF: BenchDraft['off'] = ['power_w', 'speed_rpm', 'voltage_floor_v']
const OPEN = { open: true, stand: null, troubles: [] }

afterEach(() => {
  serve({})
  localStorage.clear()
  document.body.innerHTML = ''
})

/** The bench with everything chosen and confirmed, a linked stand at rest and an open door. */
async function ready(answers: Record<string, unknown> = {}, role = 'reviewer') {
  const asked = serve({ 'GET /api/v1/session/': session(role), ...answers })
  const chosen = { sample: 1, propeller: 2, supply: 3, stand: 4 }
  const draft = ref<BenchDraft>({ ...freshDraft(), ...chosen, off: LEFT_OFF })
  let arming: ReturnType<typeof useArming> | undefined
  await show({
    setup() {
      arming = useArming(draft)
      return () => null
    },
  })
  const bench = useBench()
  bench.take(aFrame({ state: 'idle' }))
  bench.door = { ...OPEN }
  if (!arming) throw new Error('not mounted')
  arming.confirmed.value = new Set(checklistOf(draft.value).map((item) => item.key))
  await settle()
  return { arming, asked, bench, draft }
}

describe('arming', () => {
  it('may be asked for where all is there, and says nothing then', async () => {
    const { arming } = await ready()
    expect(arming.hindrance.value).toBe('')
    expect(arming.mayArm.value).toBe(true)
  })

  it('is hindered by what is missing before anything else, with the reason', async () => {
    const { arming, bench, draft } = await ready()
    const says = (words: RegExp) => {
      expect(arming.hindrance.value).toMatch(words)
      expect(arming.mayArm.value).toBe(false)
    }
    bench.door = { ...OPEN, open: false }
    says(/stop door is shut/)
    bench.take(aFrame({ state: 'idle', link: false, message: 'The stand was unplugged.' }))
    says(/The stand was unplugged/)
    bench.take(aFrame({ state: 'idle', link: false, message: '' }))
    says(/No stand is linked/)
    // Each alone is enough: everything else is there again.
    bench.take(aFrame({ state: 'idle' }))
    bench.door = { ...OPEN }
    expect(arming.mayArm.value).toBe(true)
    bench.silent_s = 2
    says(/agent is away/)
    bench.silent_s = 0
    bench.away = true
    says(/agent is away/)
    draft.value.propeller = null
    await settle()
    says(/propeller/i)
  })

  it.each(['running', 'armed', 'aborting', 'coasting', 'faulted', 'watching'] as const)(
    'is not asked for while the bench is %s',
    async (state) => {
      const { arming, bench } = await ready()
      bench.take(aFrame({ state }))
      expect(arming.mayArm.value).toBe(false)
    },
  )

  it('says a refusal until something else is chosen, and is free again', async () => {
    const { arming, asked, bench, draft } = await ready({
      'POST /api/v1/bench/arm/': refusal(409, 'The stand is warm: 61 °C.'),
    })
    await arming.arm()
    expect(asked.filter((one) => one.path.endsWith('/arm/'))).toHaveLength(1)
    expect(arming.problem.value).toContain('61 °C')
    expect(arming.refusal.value).not.toBeNull()
    expect([arming.busy.value, bench.arming]).toEqual([false, false])
    draft.value.purpose = 'again'
    await settle()
    expect(arming.refusal.value).toBeNull()
  })

  it('is not asked for a second time while the first is on its way', async () => {
    let answer: (frame: unknown) => void = () => undefined
    const { arming, bench } = await ready({
      'POST /api/v1/bench/arm/': () => new Promise((done) => (answer = done)),
    })
    const first = arming.arm()
    await settle()
    expect([arming.mayArm.value, bench.arming, bench.canCut]).toEqual([false, true, true])
    expect(arming.armWords.value).toBe('Taring and arming…')
    answer(aFrame({ state: 'armed' }))
    await first
    expect([arming.busy.value, bench.arming, arming.state.value]).toEqual([false, false, 'armed'])
  })

  it('starts the run that is armed and no other, by who armed it', async () => {
    const { arming, asked, bench } = await ready({
      'POST /api/v1/bench/start/': aFrame({ state: 'running' }),
    })
    bench.take(aFrame({ state: 'armed', run_id: 'uid-31', operator_id: 1 }))
    expect(arming.mayStart.value).toBe(true)
    await arming.start()
    expect(asked.at(-1)?.body).toEqual({ run_id: 'uid-31' })
    bench.take(aFrame({ state: 'armed', run_id: 'uid-32', operator_id: 2 }))
    expect(arming.mayStart.value).toBe(false)
  })
})

describe('the start control', () => {
  const panel = async (props: object) =>
    (
      await show(StartPanel, {
        props: { frame: aFrame({ state: 'armed' }), busy: false, mayStart: true, ...props },
      })
    ).page

  it('is a new press: an Enter that is still held from arming starts nothing', async () => {
    const page = await panel({})
    const held = new KeyboardEvent('keydown', { key: 'Enter', repeat: true, cancelable: true })
    page.get('.start').element.dispatchEvent(held)
    expect(held.defaultPrevented).toBe(true)
    const pressed = new KeyboardEvent('keydown', { key: 'Enter', cancelable: true })
    page.get('.start').element.dispatchEvent(pressed)
    expect(pressed.defaultPrevented).toBe(false)
    await page.get('.start').trigger('click')
    expect(page.emitted('start')).toHaveLength(1)
  })

  it('is shut for who did not arm, and says who did', async () => {
    const page = await panel({ mayStart: false })
    expect(page.get('.start').attributes('disabled')).toBeDefined()
    expect(page.text()).toContain('Ilse armed this run and starts it')
  })

  it('resets what has faulted and does not start it', async () => {
    const page = await panel({ frame: aFrame({ state: 'faulted' }) })
    await page.get('.start').trigger('click')
    expect(page.emitted('reset')).toHaveLength(1)
    expect(page.emitted('start')).toBeUndefined()
  })
})

describe('the page', () => {
  it('gives the start control the focus when it becomes armed, not to who just arrives', async () => {
    serve({ 'GET /api/v1/session/': session() })
    const { page } = await show(BenchPage)
    useBench().take(aFrame({ state: 'idle' }))
    await settle()
    useBench().take(aFrame({ state: 'armed' }))
    await settle()
    expect(document.activeElement).toBe(page.get('.start').element)
    page.unmount()
    const arriving = {
      setup() {
        useBench().take(aFrame({ state: 'armed' }))
        return () => h(BenchPage)
      },
    }
    const { page: later } = await show(arriving)
    expect(later.find('.start').exists()).toBe(true)
    expect(document.activeElement).toBe(document.body)
  })
})
