/** What went wrong with the gear, as one notes it. */
import { afterEach, describe, expect, it } from 'vitest'
import IncidentLook from '@/features/rig/IncidentLook.vue'
import { alerts, pick, refusal, serve, session, settle, show } from './mounting'

afterEach(() => {
  serve({})
  localStorage.clear()
  document.body.innerHTML = ''
})

const page = (results: object[]) => ({ count: results.length, next: null, results })
const ROW = {
  id: 4,
  esc: 2,
  supply: null,
  propeller: null,
  stand: null,
  thing_name: 'Tarn 45',
  kind: 'burnt',
  kind_words: 'Burnt',
  happened_on: '2026-10-05',
  destroyed: true,
  note: 'at full throttle',
  struck_reason: '',
  noted_by_name: 'Ilse Varga',
  version: 1,
}
const answers = {
  'GET /api/v1/session/': session(),
  'GET /api/v1/gear-incidents/': page([ROW]),
  'GET /api/v1/escs/': page([{ id: 2, name: 'Tarn 45' }]),
  'GET /api/v1/supplies/': page([]),
  'GET /api/v1/stands/': page([]),
}
const of = (asked: { path: string; method: string; body: unknown }[], method: string) =>
  asked.filter((one) => one.method === method).map((one) => one.body)

describe('incidents of the gear', () => {
  it('are noted of one thing', async () => {
    const asked = serve({ ...answers, 'POST /api/v1/gear-incidents/': ROW })
    const { page: look } = await show(IncidentLook)
    expect(look.text()).toContain('at full throttle')
    expect(look.text()).toContain('destroyed')
    await look
      .findAll('button')
      .find((one) => one.text() === 'Note an incident')
      ?.trigger('click')
    await settle()
    const note = look.findAll('button').find((one) => one.text() === 'Note it')
    expect(note?.attributes('disabled')).toBeDefined()
    await pick(look, '#incident-thing', 'Tarn 45')
    await look.get('.el-form').trigger('submit')
    await settle()
    expect(of(asked, 'POST')[0]).toMatchObject({ esc: 2, kind: 'other', destroyed: false })
  })

  it('are struck with a reason, and a refusal is said', async () => {
    const asked = serve({
      ...answers,
      'PATCH /api/v1/gear-incidents/4/': refusal(409, 'Ilse changed this meanwhile.'),
    })
    const { page: look } = await show(IncidentLook)
    await look.get('input[aria-label="Why Tarn 45 is struck"]').setValue('the other one')
    await look.get('td form').trigger('submit')
    await settle()
    expect(of(asked, 'PATCH')).toEqual([{ struck_reason: 'the other one', version: 1 }])
    expect(alerts(look).join()).toContain('meanwhile')
  })

  it('are only read by who may not write', async () => {
    serve({ ...answers, 'GET /api/v1/session/': session('reader') })
    const { page: look } = await show(IncidentLook)
    expect(look.text()).toContain('Tarn 45')
    expect(look.text()).not.toContain('Note an incident')
    expect(look.find('input').exists()).toBe(false)
  })
})
