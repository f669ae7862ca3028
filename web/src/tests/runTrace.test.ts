/** The trace of a long run: all of it from far, a part of it as finely as it was recorded. */
import { afterEach, describe, expect, it, vi } from 'vitest'
import ChartSheet from '@/charts/ChartSheet.vue'
import RunTrace from '@/features/runs/RunTrace.vue'
import { aRun, serve, session, settle, show } from './mounting'

afterEach(() => {
  vi.useRealTimers()
  serve({})
  document.body.innerHTML = ''
})

const trace = (query: Record<string, string>) => ({
  time_s: [Number(query.from_s ?? 0), Number(query.until_s ?? 3600)],
  channels: { thrust_gf: [1, 2], current_a: [3, null] },
  thinned: query.from_s === undefined,
  row_count: 3_600_000,
  begin_s: 0,
  end_s: 3600,
})
async function open() {
  const asked = serve({
    'GET /api/v1/session/': session(),
    'GET /api/v1/runs/5/trace/': (_: unknown, query: Record<string, string>) => trace(query),
  })
  const { page } = await show(RunTrace, { props: { run: aRun(5, { result: null }) } })
  const press = async (name: string) => {
    await page
      .findAll('button')
      .find((one) => one.text() === name)
      ?.trigger('click')
    await settle()
  }
  const parts = () =>
    asked
      .filter((one) => one.path.endsWith('/trace/'))
      .map(({ query }) => (query.from_s ? [Number(query.from_s), Number(query.until_s)] : null))
  return { page, press, parts }
}

describe('the trace of a run', () => {
  it('is read more finely when one comes nearer, with something on both sides', async () => {
    const { page, press, parts } = await open()
    expect(page.text()).toContain('3,600,000 samples; the lowest and highest of each few')
    expect(parts()).toEqual([null])
    // Asked for when it comes to rest, not for each step, however long a machine takes over them.
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
    await press('Nearer')
    await press('Nearer')
    expect(parts()).toEqual([null])
    await vi.advanceTimersByTimeAsync(200)
    vi.useRealTimers()
    await vi.waitFor(() => expect(parts()).toEqual([null, [900, 2700]]))
    await vi.waitFor(() => expect(page.text()).toContain('each of these is drawn'))
    await press('Later')
    await vi.waitFor(() => expect(parts().at(-1)).toEqual([1350, 3150]))
  })

  it('is whole again without being asked for again', async () => {
    const { page, press, parts } = await open()
    await press('Nearer')
    await vi.waitFor(() => expect(parts()).toHaveLength(2))
    await press('All of it')
    expect(page.text()).toContain('the lowest and highest of each few')
    await press('Further')
    expect(parts()).toHaveLength(2)
  })

  it('goes where it is dragged to', async () => {
    const { page, parts } = await open()
    page.getComponent(ChartSheet).vm.$emit('zoom', 50, 60)
    await vi.waitFor(() => expect(parts().at(-1)).toEqual([1620, 2340]))
  })
})
