/** Afterwards: flights and what they say, letters and answers, points that wait, names erased. */
import { beforeEach, describe, expect, it } from 'vitest'
import AfterwardsPage from '@/features/afterwards/AfterwardsPage.vue'
import FollowUpForm from '@/features/afterwards/FollowUpForm.vue'
import WaitingPoints from '@/features/board/WaitingPoints.vue'
import AfterwardsSheet from '@/features/motor_file/AfterwardsSheet.vue'
import { answers, figure, FLIGHT, LETTER, POINT, REPORT } from './afterwardsServer'
import { alerts, refusal, serve, session, settle, show } from './mounting'

beforeEach(() => localStorage.clear())

const press = async (
  shown: Awaited<ReturnType<typeof show>>['page'],
  text: string,
  at = 0,
): Promise<void> => {
  const found = shown.findAll('button').filter((one) => one.text() === text)[at]
  if (!found) throw new Error(`no button ${text}`)
  if (found.attributes('type') === 'submit') await found.trigger('submit')
  else await found.trigger('click')
  await settle()
}

describe('flights', () => {
  it('say their error, the school that fits and what differs in one thing', async () => {
    serve(answers())
    const { page: shown } = await show(AfterwardsPage, { path: '/afterwards' })
    const text = shown.text()
    expect(text).toContain('12 ± 3 % longer than on the stand')
    expect(text).toContain('what its own flights say')
    expect(text).toContain('fits best')
    expect(text).toContain('does not fit')
    expect(text).toContain('not ruled out')
    expect(text).toContain('windy (1) against calm (3): minutes −28 ± 6\u2009%, different')
    expect(text).toContain('nobody noted: hover share')
    expect(text).toContain('10.4±0.5min')
    expect(text).toContain('from 3 runs, 16 V bench supply')
    expect(text).toContain('fire-safe place')
  })

  it('are noted with minutes alone, and keep the day', async () => {
    const asked = serve(answers({ 'POST /api/v1/flights/': FLIGHT }))
    const { page: shown } = await show(AfterwardsPage, { path: '/afterwards' })
    expect(shown.text()).toContain('Say how many minutes.')
    await shown.findAll('.flight input')[1]?.setValue('8,2')
    await press(shown, 'Note the flight')
    const sent = asked.find((one) => one.method === 'POST')?.body as Record<string, unknown>
    expect(sent).toMatchObject({ craft: 2, minutes: 8.2, put_back_mah: null, samples: [] })
    expect(shown.text()).toContain('Noted: 8.2 min on 2026-10-20.')
  })

  it('that are refused say why, and keep what was typed', async () => {
    serve(
      answers({
        'POST /api/v1/flights/': refusal(400, 'The day lies in the future.', {
          fields: { flown_on: ['The day lies in the future.'] },
        }),
      }),
    )
    const { page: shown } = await show(AfterwardsPage, { path: '/afterwards' })
    const minutes = shown.findAll('.flight input')[1]
    await minutes?.setValue('8')
    await press(shown, 'Note the flight')
    expect(alerts(shown).join()).toContain('The day lies in the future.')
    expect((minutes?.element as HTMLInputElement).value).toBe('8')
  })

  it('are struck out with a word', async () => {
    const asked = serve(answers({ 'PATCH /api/v1/flights/5/': FLIGHT }))
    const { page: shown } = await show(AfterwardsPage, { path: '/afterwards' })
    await press(shown, 'strike out …')
    const field = shown.findAll('input[maxlength="200"]')[0]
    await field?.setValue('landed early')
    await press(shown, 'Strike it out')
    expect(asked.find((one) => one.method === 'PATCH')?.body).toEqual({
      struck_reason: 'landed early',
      version: 2,
    })
  })

  it('want a craft first', async () => {
    serve(answers({ 'GET /api/v1/craft/': [] }))
    const { page: shown } = await show(AfterwardsPage, { path: '/afterwards' })
    expect(shown.text()).toContain('No craft is kept yet')
  })

  it('come in as a table whose columns are named first', async () => {
    let sent = ''
    serve(
      answers({
        'POST /api/v1/afterwards/tables/look/': {
          heads: ['Date', 'Quad', 'Airtime'],
          first: [['2026-10-12', 'Five inch', '5,5']],
          rows: 1,
          proposed: ['flown_on', 'craft', ''],
          choices: [
            { name: 'flown_on', title: 'Day', needed: true },
            { name: 'craft', title: 'Craft', needed: true },
            { name: 'minutes', title: 'Minutes', needed: true },
          ],
        },
        'POST /api/v1/afterwards/tables/': (body: unknown) => {
          sent = String((body as FormData).get('columns'))
          return { noted: 1 }
        },
      }),
    )
    const { page: shown } = await show(AfterwardsPage, { path: '/afterwards' })
    const input = shown.get('input[type=file]')
    const file = new File(['x'], 'log.csv', { type: 'text/csv' })
    Object.defineProperty(input.element, 'files', { value: [file] })
    await input.trigger('change')
    await settle()
    expect(shown.text()).toContain('Still to be named: Minutes')
    const selects = shown.find('.table').findAllComponents({ name: 'ElSelect' })
    selects[2]?.vm.$emit('update:modelValue', 'minutes')
    await settle()
    await press(shown, 'Note all 1')
    expect(JSON.parse(sent)).toEqual(['flown_on', 'craft', 'minutes'])
    expect(shown.text()).toContain('1 noted.')
  })
})

describe('letters', () => {
  const at = '/afterwards?look=letters'
  it('are quoted with who and when, and answered', async () => {
    const asked = serve(answers({ 'PATCH /api/v1/letters/9/': { ...LETTER, answer: 'At 71.' } }))
    const { page: shown } = await show(AfterwardsPage, { path: at })
    expect(shown.text()).toContain('2026-10-23, A. Pell')
    expect(shown.text()).toContain('58\u202f°C, as they say')
    await press(shown, 'Answer …')
    await shown.get('textarea[aria-label="Answer"]').setValue('At 71.')
    await press(shown, 'Keep')
    expect(asked.find((one) => one.method === 'PATCH')?.body).toEqual({
      answer: 'At 71.',
      campaign: null,
      version: 1,
    })
  })

  it('are noted; only a report tells of a failure', async () => {
    const asked = serve(answers({ 'POST /api/v1/letters/': LETTER }))
    const { page: shown } = await show(AfterwardsPage, { path: at })
    expect(shown.text()).not.toContain('What failed')
    await shown.get('#letter-text').setValue('Hello?')
    await press(shown, 'Note it')
    expect(asked.find((one) => one.method === 'POST')?.body).toMatchObject({
      kind: 'question',
      text: 'Hello?',
      failure: '',
      temp_c: null,
    })
  })

  it('bear names that only an administrator erases', async () => {
    serve(answers())
    const first = await show(AfterwardsPage, { path: at })
    expect(first.page.text()).not.toContain('Erase a name')
    serve(answers({ 'GET /api/v1/session/': session('administrator') }))
    const { page: shown } = await show(AfterwardsPage, { path: at })
    expect(shown.text()).toContain('Erase a name')
  })
})

describe('points that wait', () => {
  it('stand on the page with how far they are, and are done with a word', async () => {
    const asked = serve(answers({ 'PATCH /api/v1/follow-ups/4/': POINT }))
    const { page: shown } = await show(AfterwardsPage, { path: '/afterwards?look=waiting' })
    expect(shown.text()).toContain('Due: Bearing play')
    expect(shown.text()).toContain('5.5\u2009h so far')
    await press(shown, 'done …')
    await shown.get('input[maxlength="240"]').setValue('dry')
    await press(shown, 'Done')
    expect(asked.find((one) => one.method === 'PATCH')?.body).toEqual({
      done: true,
      done_note: 'dry',
      version: 1,
    })
  })

  it('are noted with what their trigger needs', async () => {
    const asked = serve({
      'GET /api/v1/session/': session(),
      'POST /api/v1/follow-ups/': POINT,
    })
    const { page: shown } = await show(FollowUpForm, { props: { motor: 3 } })
    await shown.get('input').setValue('Bearing play')
    await press(shown, 'Let it wait')
    expect(asked.find((one) => one.method === 'POST')?.body).toEqual({
      motor: 3,
      text: 'Bearing play',
      trigger: 'first_flight',
      due_on: null,
      after_hours: null,
    })
  })

  it('come back to the Board with what nobody answered', async () => {
    serve({
      'GET /api/v1/session/': session(),
      'GET /api/v1/afterwards/': {
        due: [POINT],
        due_count: 3,
        unanswered: [LETTER],
        unanswered_count: 4,
        requests: [],
        request_count: 0,
      },
    })
    const { page: shown } = await show(WaitingPoints)
    expect(shown.text()).toContain('Due: Bearing play')
    expect(shown.text()).toContain('3 are due')
    expect(shown.text()).toContain('4 without an answer')
    serve({
      'GET /api/v1/session/': session(),
      'GET /api/v1/afterwards/': {
        due: [],
        due_count: 0,
        unanswered: [],
        unanswered_count: 0,
        requests: [],
        request_count: 0,
      },
    })
    const empty = await show(WaitingPoints)
    expect(empty.page.find('section').exists()).toBe(false)
  })
})

describe("a motor's life", () => {
  const AFTER = {
    samples: [
      {
        sample: 7,
        mark: 'A',
        bench_h: 0.12,
        bench_starts: 13,
        flown_h: 1.5,
        flown_starts: 8,
        untimed: 2,
      },
    ],
    timeline: [
      {
        on: '2026-10-15',
        kind: 'incident',
        words: 'Seized',
        mark: 'A',
        hours: 1.2,
        note: 'rough',
        destroyed: true,
        incident: 1,
        sample: 7,
      },
    ],
    wear_hours: 1,
    worn: [
      {
        mark: 'A',
        load: 'no propeller, 16 V bench supply',
        name: 'no_load_current_a',
        first: figure(1, 0.01),
        now: figure(1.4, 0.01),
        hours: 1.4,
        runs: [1, 1],
        delta_pct: 40,
        u_pct: 1.5,
        outcome: 'different',
      },
    ],
    flights: [FLIGHT],
    letters: [REPORT],
    reports: { count: 2, failures: [{ words: 'Seized', count: 1 }] },
    follow_ups: [POINT],
  }
  const FILE = { motor: { id: 3, samples: [] }, incidents: [] }
  it('tells hours, what befell it, wear, flights and reports apart', async () => {
    serve({ 'GET /api/v1/session/': session(), 'GET /api/v1/motors/3/afterwards/': AFTER })
    const { page: shown } = await show(AfterwardsSheet, { props: { file: FILE } })
    const text = shown.text()
    expect(text).toContain('7\u2009min, 13 ×')
    expect(text).toContain('2 typed, time unknown')
    expect(text).toContain('1.5\u2009h, 8 ×')
    expect(text).toContain('A: Seized')
    expect(text).toContain('1.2\u2009h so far')
    expect(text).toContain('different after 1.4\u2009h')
    expect(text).toContain('2 readers report: Seized 1×. Quoted, and counted apart')
  })
  it('looks for wear after the hours one asks for', async () => {
    const asked = serve({
      'GET /api/v1/session/': session(),
      'GET /api/v1/motors/3/afterwards/': AFTER,
    })
    const { page: shown } = await show(AfterwardsSheet, { props: { file: FILE } })
    const field = shown.findAll('input').find((one) => one.element.value === '1')
    for (const text of ['12,5', '-3', 'soon']) {
      await field?.setValue(text)
      await new Promise((resolve) => setTimeout(resolve, 450))
      await settle()
    }
    const hours = asked
      .filter((one) => one.path === '/api/v1/motors/3/afterwards/')
      .map((one) => one.query?.wear_hours)
    // What is no number of hours asks for the usual ones.
    expect(hours).toEqual(['1', '12.5', undefined])
  })
  it('says what is not there', async () => {
    const none = {
      ...AFTER,
      worn: [],
      timeline: [],
      flights: [],
      letters: [],
      follow_ups: [],
      samples: [],
      reports: { count: 0, failures: [] },
    }
    serve({ 'GET /api/v1/session/': session(), 'GET /api/v1/motors/3/afterwards/': none })
    const { page: shown } = await show(AfterwardsSheet, { props: { file: FILE } })
    expect(shown.text()).toContain('No sample was run again after 1\u202fh of use')
    expect(shown.text()).toContain('It did not fly yet.')
  })
})
