/** A sheet of typed readings as one uses it. */
import { enableAutoUnmount } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import ReadingsPage from '@/features/runs/ReadingsPage.vue'
import { alerts, refusal, serve, session, settle, show } from './mounting'

enableAutoUnmount(afterEach)
afterEach(() => {
  serve({})
  localStorage.clear()
  document.body.innerHTML = ''
})

const empty = { thrust_gf: null, power_w: null, efficiency_g_per_w: null, findings: [] }
const page = (results: object[]) => ({ count: results.length, next: null, results })
const answers = {
  'GET /api/v1/session/': session(),
  'GET /api/v1/stands/': page([]),
  'GET /api/v1/supplies/': page([]),
  'GET /api/v1/escs/': page([]),
  'GET /api/v1/motors/': page([]),
  'GET /api/v1/propellers/': page([]),
  'POST /api/v1/readings/look/': (body: unknown) =>
    (body as { rows: Record<string, number>[] }).rows.map((row) => ({
      ...empty,
      thrust_gf: row.scale_g === undefined ? null : row.scale_g + 223,
      findings:
        row.power_w === 940
          ? [{ field: 'power_w', code: 'x', message: '940 W is impossible.', impossible: true }]
          : [],
    })),
}
async function open(draft?: object) {
  if (draft) localStorage.setItem('spindle.readings', JSON.stringify(draft))
  const { page: sheet } = await show(ReadingsPage, { path: '/readings' })
  return sheet
}
type Sheet = Awaited<ReturnType<typeof open>>
const cell = (sheet: Sheet, row: number, label: string) =>
  sheet.get<HTMLInputElement>(`input[aria-label="Row ${row}: ${label}"]`)
const sent = (asked: { method: string; path: string; body: unknown }[], path: string) =>
  asked.filter((one) => one.method === 'POST' && one.path === path).map((one) => one.body)
const FULL = {
  sample: 7,
  propeller: 3,
  supply: 0,
  stand: 0,
  day: '2026-10-05',
  kind: 'held',
  note: '',
  rows: [{ throttle_pct: '0', scale_g: '-223' }, { throttle_pct: '100', scale_g: '742' }, {}],
}

describe('the sheet of readings', () => {
  it('says what a reading means while it is typed', async () => {
    serve(answers)
    const sheet = await open()
    await cell(sheet, 2, 'Throttle, %').setValue('100')
    await cell(sheet, 2, 'Scale shows, g').setValue('742')
    await vi.waitFor(() => expect(sheet.text()).toContain('965'))
    await vi.waitFor(() => expect(sheet.find('.tag.within').exists()).toBe(true))
  })

  it('keeps a contradictory row as it was typed, and says so beside its cell', async () => {
    serve(answers)
    const sheet = await open()
    await cell(sheet, 2, 'Power, W').setValue('940')
    await vi.waitFor(() => expect(alerts(sheet).join()).toContain('940 W is impossible.'))
    expect(cell(sheet, 2, 'Power, W').element.value).toBe('940')
    expect(cell(sheet, 2, 'Power, W').element.closest('.wrong')).not.toBeNull()
  })

  it('is unchecked while the server is away, never fine, and loses nothing', async () => {
    serve({ ...answers, 'POST /api/v1/readings/look/': refusal(503, 'The server is away.') })
    const sheet = await open()
    await cell(sheet, 2, 'Scale shows, g').setValue('742')
    await vi.waitFor(() => expect(sheet.text()).toContain('Unchecked: The server is away.'))
    expect(sheet.find('.tag.within').exists()).toBe(false)
    sheet.unmount()
    serve(answers)
    const again = await open()
    expect(cell(again, 2, 'Scale shows, g').element.value).toBe('742')
  })

  it('says that a cell is no number, and sends no sheet with it', async () => {
    const asked = serve({ ...answers, 'POST /api/v1/readings/': { id: 5 } })
    const sheet = await open({ ...FULL, rows: [...FULL.rows.slice(0, 2), { scale_g: 'much' }] })
    expect(alerts(sheet).join()).toContain('“much” is no number')
    await sheet.get('form').trigger('submit')
    await settle()
    expect(sent(asked, '/api/v1/readings/')).toEqual([])
  })

  it('becomes a run: numbers, no invented seconds, empty cells not there', async () => {
    const asked = serve({ ...answers, 'POST /api/v1/readings/': { id: 5 } })
    const sheet = await open(FULL)
    await sheet.get('form').trigger('submit')
    await settle()
    expect(sent(asked, '/api/v1/readings/')[0]).toEqual({
      rows: [
        { throttle_pct: 0, scale_g: -223 },
        { throttle_pct: 100, scale_g: 742 },
      ],
      maxima: false,
      day: '2026-10-05',
      stand: null,
      sample: 7,
      propeller: 3,
      supply: null,
      note: '',
    })
    const kept = JSON.parse(localStorage.getItem('spindle.readings') ?? '{}') as typeof FULL
    expect([kept.propeller, kept.rows.length]).toEqual([3, 3])
  })

  it('keeps the sheet where it is refused', async () => {
    serve({ ...answers, 'POST /api/v1/readings/': refusal(409, 'Kept already, as run 4.') })
    const sheet = await open(FULL)
    await sheet.get('form').trigger('submit')
    await settle()
    expect(alerts(sheet).join()).toContain('as run 4')
    expect(cell(sheet, 2, 'Scale shows, g').element.value).toBe('742')
  })

  it('takes a paste, fills from above, and takes it back', async () => {
    serve(answers)
    const sheet = await open()
    const paste = new Event('paste', { bubbles: true }) as Event & { clipboardData: object }
    paste.clipboardData = { getData: () => '100\t742\t15.6\n50\t519\t16.0\n' }
    cell(sheet, 2, 'Throttle, %').element.dispatchEvent(paste)
    await settle()
    expect(cell(sheet, 3, 'Voltage, V').element.value).toBe('16.0')
    await cell(sheet, 4, 'Voltage, V').trigger('keydown.ctrl', { key: 'd' })
    await settle()
    expect(cell(sheet, 4, 'Voltage, V').element.value).toBe('16.0')
    await cell(sheet, 4, 'Voltage, V').trigger('keydown.ctrl', { key: 'z' })
    await settle()
    expect(cell(sheet, 4, 'Voltage, V').element.value).toBe('')
    expect(cell(sheet, 3, 'Voltage, V').element.value).toBe('16.0')
  })
})
