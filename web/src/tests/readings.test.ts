/** A sheet of typed readings as one uses it. */
import { afterEach, describe, expect, it, vi } from 'vitest'
import type { SheetDraft } from '@/features/runs/sheetDraft'
import ReadingsPage from '@/features/runs/ReadingsPage.vue'
import { alerts, refusal, serve, session, settle, show } from './mounting'

afterEach(() => {
  serve({})
  localStorage.clear()
  document.body.innerHTML = ''
})

const empty = {
  thrust_gf: null,
  power_w: null,
  efficiency_g_per_w: null,
  rise_k: null,
  burst: null,
  bursts: null,
  mean_thrust_gf: null,
  spread_gf: null,
  findings: [],
}
const page = (results: object[]) => ({ count: results.length, next: null, results })
const contradiction = (row: Record<string, number>) =>
  row.power_w === 940
    ? [
        {
          field: 'power_w',
          code: 'x',
          message: '940 W is impossible.',
          impossible: true,
          owed: false,
        },
      ]
    : []
const beyond = (row: Record<string, number>) =>
  (row.current_a ?? 0) > 38
    ? [
        {
          field: 'current_a',
          code: 'overrun',
          message: '41 A: above 38 A.',
          impossible: false,
          owed: false,
        },
      ]
    : []
const answers = {
  'GET /api/v1/session/': session(),
  'GET /api/v1/stands/': page([]),
  'GET /api/v1/supplies/': page([]),
  'GET /api/v1/escs/': page([]),
  'GET /api/v1/motors/': page([]),
  'GET /api/v1/propellers/': page([]),
  'POST /api/v1/readings/look/': (body: unknown) =>
    (body as { blocks: { rows: Record<string, number>[] }[] }).blocks.map(({ rows }) => ({
      rows: rows.map((row) => ({
        ...empty,
        thrust_gf: typeof row.scale_g === 'number' ? row.scale_g + 223 : null,
        findings: [...contradiction(row), ...beyond(row)],
      })),
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
const byText = (sheet: Sheet, text: string) => {
  const found = sheet.findAll('button').find((button) => button.text() === text)
  if (!found) throw new Error(`no button ${text}`)
  return found
}
const labelled = (sheet: Sheet, label: string) => {
  const found = sheet.findAll('label').find((one) => one.text().startsWith(label))
  return sheet.get<HTMLInputElement>(`[id="${found?.attributes('for')}"]`)
}
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
    const asked = serve({ ...answers, 'POST /api/v1/readings/': [{ id: 5 }] })
    const sheet = await open({ ...FULL, rows: [...FULL.rows.slice(0, 2), { scale_g: 'much' }] })
    expect(alerts(sheet).join()).toContain('“much” is no number')
    await sheet.get('form').trigger('submit')
    await settle()
    expect(sent(asked, '/api/v1/readings/')).toEqual([])
  })

  it('has a column for the clip, which is sent and is not enough of a row', async () => {
    const asked = serve({ ...answers, 'POST /api/v1/readings/': [{ id: 5 }] })
    const rows = [FULL.rows[0], { throttle_pct: '100', scale_g: '742', clip: 'clip 3 at 04:12' }]
    const columns = ['throttle_pct', 'scale_g', 'clip']
    const sheet = await open({ ...FULL, columns, rows: [...rows, { clip: 'clip 4' }, {}] })
    expect(alerts(sheet).join()).toContain('Nothing of this row was read yet')
    await sheet.get('form').trigger('submit')
    await settle()
    expect(sent(asked, '/api/v1/readings/')).toEqual([])
    await cell(sheet, 3, 'Clip and time').setValue('')
    await sheet.get('form').trigger('submit')
    await settle()
    const kept = sent(asked, '/api/v1/readings/')[0] as { blocks: { rows: object[] }[] }
    expect(kept.blocks[0]?.rows[1]).toEqual({
      throttle_pct: 100,
      scale_g: 742,
      clip: 'clip 3 at 04:12',
    })
  })

  it('says when the motor is cool again, by the clock where it saw the temperature typed', async () => {
    const cooling = (ready_s: number) => (body: unknown) =>
      (body as { blocks: { rows: Record<string, number>[] }[] }).blocks.map(({ rows }) => ({
        rows: rows.map((row) => ({ ...empty, ready_s: row.motor_temp_c ? ready_s : null })),
      }))
    serve({ ...answers, 'POST /api/v1/readings/look/': cooling(225) })
    const rows = [...FULL.rows.slice(0, 1), { throttle_pct: '100', motor_temp_c: '45' }, {}]
    const sheet = await open({ ...FULL, rows })
    expect(sheet.text()).toMatch(/\(within 5 K of the air\) ~3\smin 45\ss after it was read\./)
    await cell(sheet, 2, 'Motor, °C').setValue('46')
    await vi.waitFor(() => expect(sheet.text()).toMatch(/ready at about \d\d:\d\d\./))
    serve({ ...answers, 'POST /api/v1/readings/look/': cooling(0) })
    await cell(sheet, 2, 'Motor, °C').setValue('22')
    await vi.waitFor(() => expect(sheet.text()).toContain('Cool again: within 5 K'))
  })

  it('goes to a spreadsheet with its heads, or says why a browser does not let it', async () => {
    serve(answers)
    const sheet = await open(FULL)
    const taken: string[] = []
    const writeText = vi.fn(async (text: string) => void taken.push(text))
    vi.stubGlobal('navigator', { ...navigator, clipboard: { writeText } })
    await byText(sheet, 'Copy the sheet').trigger('click')
    await settle()
    expect(taken[0]?.split('\n')[0]).toContain('Scale shows (g)')
    expect(taken[0]?.split('\n')[2]).toMatch(/742.*965$/)
    writeText.mockRejectedValueOnce(new Error('no'))
    await byText(sheet, 'Copy the sheet').trigger('click')
    await settle()
    expect(sheet.text()).toContain('does not let a page copy here')
    vi.unstubAllGlobals()
  })

  it('becomes a run: numbers, no invented seconds, empty cells not there', async () => {
    const asked = serve({ ...answers, 'POST /api/v1/readings/': [{ id: 5 }] })
    const sheet = await open(FULL)
    await sheet.get('form').trigger('submit')
    await settle()
    expect(sent(asked, '/api/v1/readings/')[0]).toEqual({
      day: '2026-10-05',
      stand: null,
      blocks: [
        {
          rows: [
            { throttle_pct: 0, scale_g: -223 },
            { throttle_pct: 100, scale_g: 742 },
          ],
          maxima: false,
          averaged: false,
          sample: 7,
          propeller: 3,
          supply: null,
          note: '',
          purpose: '',
          overrun_reason: '',
          pack_state: '',
          pack_rest_v: null,
          noticed: {},
        },
      ],
    })
    const kept = JSON.parse(localStorage.getItem('spindle.readings') ?? '{}') as SheetDraft
    expect(kept.blocks.map((block) => [block.propeller, block.rows.length])).toEqual([[3, 3]])
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

  it('is an evening: another propeller is another block, and all go out together', async () => {
    const asked = serve({ ...answers, 'POST /api/v1/readings/': [{ id: 5 }, { id: 6 }] })
    const sheet = await open(FULL)
    await byText(sheet, 'Next propeller, motor or supply').trigger('click')
    await settle()
    const second = sheet.get<HTMLInputElement>('input[aria-label="Block 2, row 2: Scale shows, g"]')
    await second.setValue('~900')
    await settle()
    expect(sheet.text()).toContain('Block 2: choose the propeller')
    await sheet.get('form').trigger('submit')
    await settle()
    expect(sent(asked, '/api/v1/readings/')).toEqual([])
    const kept = JSON.parse(localStorage.getItem('spindle.readings') ?? '{}') as SheetDraft
    const [first, next] = kept.blocks
    localStorage.setItem(
      'spindle.readings',
      JSON.stringify({ ...kept, blocks: [first, { ...next, propeller: 4 }] }),
    )
    sheet.unmount()
    const again = await open()
    await again.get('form').trigger('submit')
    await settle()
    const [body] = sent(asked, '/api/v1/readings/') as { blocks: { rows: object[] }[] }[]
    expect(body?.blocks.map((block) => block.rows.length)).toEqual([2, 2])
    expect(body?.blocks[1]?.rows[1]).toEqual({ scale_g: { about: [900] } })
  })

  it('asks why a rating was passed before it is kept', async () => {
    const asked = serve({ ...answers, 'POST /api/v1/readings/': [{ id: 5 }] })
    const rows = [...FULL.rows.slice(0, 1), { throttle_pct: '100', current_a: '41' }, {}]
    const sheet = await open({ ...FULL, rows })
    await vi.waitFor(() => expect(sheet.text()).toContain('say why it went beyond a rating'))
    await labelled(sheet, 'Why was it run beyond a rating?').setValue('to see')
    await settle()
    await sheet.get('form').trigger('submit')
    await settle()
    const [body] = sent(asked, '/api/v1/readings/') as { blocks: object[] }[]
    expect(body?.blocks[0]).toMatchObject({ overrun_reason: 'to see' })
  })

  it('takes a sheet that an older page kept', async () => {
    serve(answers)
    const sheet = await open({ ...FULL, note: 'calm', strange: 1 })
    expect(cell(sheet, 2, 'Scale shows, g').element.value).toBe('742')
    const kept = JSON.parse(localStorage.getItem('spindle.readings') ?? '{}') as object
    expect(kept).toBeTruthy()
  })
})
