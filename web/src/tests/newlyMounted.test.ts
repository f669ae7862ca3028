/** After a swap: which way it pulls; and what to look at when it does not start. */
import { afterEach, describe, expect, it } from 'vitest'
import BenchResult from '@/features/bench/BenchResult.vue'
import NotStarting from '@/features/bench/NotStarting.vue'
import { sameProfile, textsOf } from '@/features/bench/profile'
import { afterCheck, checkDirection, DIRECTION, freshDraft } from '@/features/bench/setup'
import { aRun, alerts, refusal, serve, session, settle, show } from './mounting'

afterEach(() => {
  serve({})
  document.body.innerHTML = ''
})

describe('a direction check', () => {
  it('is set up in the place of a run, which comes back after it', () => {
    const draft = { ...freshDraft(), kind: 'peak', repeats: 4 }
    checkDirection(draft)
    expect([draft.kind, draft.repeats]).toEqual([DIRECTION, 1])
    // Asked for twice it is still that run that comes back.
    checkDirection(draft)
    afterCheck(draft)
    expect([draft.kind, draft.repeats, draft.before_check]).toEqual(['peak', 4, null])
    afterCheck(draft)
    expect(draft.kind).toBe('peak')
  })

  const result = async (warnings: object[], kind = DIRECTION) => {
    const run = aRun(27, { kind, outcome: 'completed', warning_count: warnings.length })
    const end = { outcome: 'completed', code: 'completed', reason: 'To its end.', by: '' }
    serve({
      'GET /api/v1/session/': session(),
      'GET /api/v1/runs/': { results: [run] },
      'GET /api/v1/runs/27/': { ...run, noticed: {}, result: { warnings, points: [] } },
    })
    const { page } = await show(BenchResult, {
      props: { uid: 'uid-27', end, wanted: 1, may: true },
    })
    await settle()
    return page
  }

  it('says at once that it pulls, pushes, or that nobody can tell', async () => {
    expect((await result([])).text()).toContain('It pulls the right way.')
    for (const code of ['pulls_backwards', 'direction_unclear']) {
      const page = await result([{ code, message: `${code}, in words` }])
      expect(alerts(page)).toContain(`${code}, in words`)
      expect(page.text()).not.toContain('pulls the right way')
    }
  })

  it('asks for no repeats, and no other run says which way it pulled', async () => {
    expect((await result([])).text()).not.toContain('repeats')
    expect((await result([], 'steps')).text()).not.toContain('pulls the right way')
  })
})

describe('a profile that was kept before its kind asked for more', () => {
  const old = { kind: 'peak', bursts: 3, burst_s: 2, pause_s: 10, rest_s: 3 } as never
  it('is as usual in what it does not say', () => {
    expect(textsOf(old)).toMatchObject({ half_bursts: '0', bursts: '3' })
    const typed = { kind: 'peak', half_bursts: 0, bursts: 3, burst_s: 2, pause_s: 10, rest_s: 3 }
    expect(sameProfile(old, typed as never)).toBe(true)
    expect(sameProfile(old, { ...typed, half_bursts: 2 } as never)).toBe(false)
  })
})

describe('a motor that does not start', () => {
  const look = (key: string) => ({
    key,
    question: `What of ${key}?`,
    how: 'Look.',
    findings: [
      { key: 'ok', words: 'it is well', suggests: '' },
      { key: 'bad', words: 'it is not', suggests: `Mend the ${key}.` },
    ],
  })
  const open = async (props: object = {}, more: Record<string, unknown> = {}) => {
    const asked = serve({
      'GET /api/v1/not-starting/': {
        before: 'Propeller off.',
        looks: [look('lead'), look('bell')],
      },
      'POST /api/v1/samples/4/not-starting/': { id: 9 },
      ...more,
    })
    const { page } = await show(NotStarting, { props: { modelValue: true, sample: 4, ...props } })
    await settle()
    const radios = () => [...document.querySelectorAll<HTMLInputElement>('input[type=radio]')]
    const choose = async (index: number) => {
      radios()[index]?.click()
      await settle()
    }
    const submit = async () => {
      document.querySelector('form')?.dispatchEvent(new Event('submit', { cancelable: true }))
      await settle()
    }
    return { page, asked, radios, choose, submit, text: () => document.body.textContent ?? '' }
  }

  it('is looked at one thing after the other, and each finding says what to do', async () => {
    const { page, radios, choose, text } = await open()
    expect(text()).toContain('Propeller off.')
    expect(radios()).toHaveLength(2)
    await choose(1)
    expect(text()).toContain('Mend the lead.')
    expect(radios()).toHaveLength(4)
    await choose(0)
    expect(text()).not.toContain('Mend the lead.')
    page.unmount()
  })

  it('is kept as an incident with what was found', async () => {
    const { page, asked, choose, submit, text } = await open()
    await choose(0)
    await choose(3)
    await submit()
    expect(asked.find((one) => one.method === 'POST')?.body).toEqual({
      found: { lead: 'ok', bell: 'bad' },
      note: '',
    })
    expect(text()).toContain('kept as an incident')
    page.unmount()
  })

  it('keeps nothing without a sample, and says what was refused', async () => {
    const none = await open({ sample: null })
    await none.choose(1)
    const keep = [...document.querySelectorAll('button')].find((one) =>
      one.textContent?.startsWith('Nothing helps'),
    )
    expect(keep?.disabled).toBe(true)
    none.page.unmount()
    document.body.innerHTML = ''
    const { page, choose, submit, text } = await open(
      {},
      { 'POST /api/v1/samples/4/not-starting/': refusal(400, "'bad' is nothing to be found.") },
    )
    await choose(1)
    await submit()
    expect(text()).toContain("'bad' is nothing to be found.")
    expect(text()).not.toContain('kept as an incident')
    page.unmount()
  })
})
