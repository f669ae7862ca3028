import { afterEach, describe, expect, it } from 'vitest'
import SetAsideRuns from '@/features/board/SetAsideRuns.vue'
import { type Frame, useBench } from '@/live/useBench'
import { refusal, serve, session, settle, show } from './mounting'

afterEach(() => {
  serve({})
  document.body.innerHTML = ''
})

const frame = (set_aside: Frame['set_aside']) =>
  ({ state: 'idle', link: true, time_s: null, values: {}, set_aside }) as unknown as Frame
const ASIDE = [
  { run_id: 'run-1', title: 'Drift A · Wickett', reason: 'The air pressure is impossible.' },
  { run_id: 'run-2', title: '', reason: 'plan.json is empty or damaged.' },
]

describe('runs that could not be stored', () => {
  it('are named with their reason, and nothing is shown without one', async () => {
    serve({ 'GET /api/v1/session/': session() })
    const { page } = await show(SetAsideRuns)
    expect(page.text()).toBe('')
    useBench().take(frame(ASIDE))
    await settle()
    expect(page.text()).toContain('2 runs on the bench’s disk could not be stored')
    expect(page.text()).toContain('Drift A · Wickett: The air pressure is impossible.')
    expect(page.text()).toContain('run-2: plan.json is empty or damaged.')
  })

  it('are tried again by a key, which a text field keeps', async () => {
    const asked = serve({
      'GET /api/v1/session/': session(),
      'POST /api/v1/bench/retry/': frame([]),
    })
    const { page } = await show(SetAsideRuns)
    useBench().take(frame(ASIDE))
    await settle()
    const input = document.createElement('input')
    document.body.append(input)
    input.dispatchEvent(new KeyboardEvent('keydown', { key: 'r', bubbles: true }))
    await settle()
    expect(asked.filter((a) => a.method === 'POST')).toEqual([])
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'r', bubbles: true }))
    await settle()
    expect(asked.find((a) => a.method === 'POST')?.body).toEqual({ run_id: 'run-1' })
    expect(page.text()).toBe('')
  })

  it('stay where they are when it fails, and say why', async () => {
    serve({
      'GET /api/v1/session/': session(),
      'POST /api/v1/bench/retry/': refusal(409, 'That run is not waiting.'),
    })
    const { page } = await show(SetAsideRuns)
    useBench().take(frame(ASIDE))
    await settle()
    await page.findAll('button')[1]?.trigger('click')
    await settle()
    expect(page.get('[role=alert]').text()).toBe('That run is not waiting.')
    expect(page.text()).toContain('run-2')
  })

  it('offer nothing to a reader', async () => {
    serve({ 'GET /api/v1/session/': session('reader') })
    const { page } = await show(SetAsideRuns)
    useBench().take(frame(ASIDE))
    await settle()
    expect(page.findAll('button')).toEqual([])
  })
})
