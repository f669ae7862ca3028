/** The bench's table of leads as one uses it. */
import { afterEach, describe, expect, it } from 'vitest'
import LeadTable from '@/features/intake/LeadTable.vue'
import { alerts, refusal, serve, session, settle, show } from './mounting'

afterEach(() => {
  document.body.innerHTML = ''
})

const usual = (value: number | null) => ({
  value,
  u: value === null ? null : 0.5,
  n: 1,
  origin: 'estimated',
  assumed: false,
  reason: value === null ? 'no usual mass is known of this kind' : '',
})
const row = { id: 4, gauge: 20, insulation: 'ptfe', g_per_m: 5.4, u_g_per_m: null, note: '' }
const KINDS = [
  {
    gauge: 18,
    insulation: 'silicone',
    row: null,
    usual: usual(10.7),
    offcuts: { g_per_m: 10.4321, u_g_per_m: 0.2987, n: 3 },
  },
  { gauge: 20, insulation: 'ptfe', row: { ...row, version: 2 }, usual: usual(null), offcuts: null },
]
const answers = { 'GET /api/v1/session/': session(), 'GET /api/v1/lead-wires/': KINDS }

async function open(more: object = {}) {
  const asked = serve({ ...answers, ...more })
  const { page } = await show(LeadTable)
  expect(asked.filter((one) => one.path === '/api/v1/lead-wires/')).toEqual([])
  const details = page.get('details').element as HTMLDetailsElement
  details.open = true
  details.dispatchEvent(new Event('toggle'))
  await settle()
  return { page, asked, sent: () => asked.filter((one) => one.method !== 'GET') }
}
type Page = Awaited<ReturnType<typeof open>>['page']
const press = async (page: Page, text: string) => {
  await page
    .findAll('button')
    .find((one) => one.text().startsWith(text))
    ?.trigger('click')
  await settle()
}
const field = (page: Page, label: string) => {
  const found = page.findAll('label').find((one) => one.text().startsWith(label))
  return page.get(`[id="${found?.attributes('for')}"]`)
}

describe('the table of leads', () => {
  it('asks nothing before somebody looks, and says what nobody noted', async () => {
    const { page } = await open()
    expect(page.text()).toContain('AWG 18, silicone')
    expect(page.text()).toContain('AWG 20, PTFE')
    const reasons = page.findAll('.absent').map((one) => one.attributes('data-reason'))
    expect(reasons).toContain('no usual mass is known of this kind')
    expect(reasons).toContain('no off-cut of this kind was weighed')
  })

  it('takes what own off-cuts say, as fine as they say it', async () => {
    const { page, sent } = await open({ 'POST /api/v1/lead-wires/': row })
    await press(page, 'Take')
    expect(sent()[0]?.body).toEqual({
      gauge: 18,
      insulation: 'silicone',
      g_per_m: 10.4,
      u_g_per_m: 0.299,
      note: 'from 3 own off-cuts',
    })
  })

  it('notes a kind, and does not send what is no number', async () => {
    const { page, sent } = await open({ 'POST /api/v1/lead-wires/': row })
    await field(page, 'Gauge').setValue('20.5')
    await field(page, 'One lead').setValue('heavy')
    await page.get('form').trigger('submit')
    await settle()
    expect(alerts(page).join()).toContain('whole number')
    expect(alerts(page).join()).toContain('heavy')
    expect(sent()).toEqual([])
    await field(page, 'Gauge').setValue('22')
    await field(page, 'One lead').setValue('4,1')
    await page.get('form').trigger('submit')
    await settle()
    expect(sent()[0]?.body).toEqual({
      gauge: 22,
      insulation: 'silicone',
      g_per_m: 4.1,
      u_g_per_m: null,
    })
    expect((field(page, 'Gauge').element as HTMLInputElement).value).toBe('')
  })

  it('takes a row off at the version that was read, and says a refusal', async () => {
    const { page, asked } = await open({
      'DELETE /api/v1/lead-wires/4/': () => refusal(409, 'Tomas changed this.'),
    })
    await press(page, 'Take off')
    expect(asked.find((one) => one.method === 'DELETE')?.query).toEqual({ version: '2' })
    expect(alerts(page)).toContain('Tomas changed this.')
  })
})
