/** Other people's files as one brings them in. */
import { afterEach, describe, expect, it, vi } from 'vitest'
import ImportPage from '@/features/imports/ImportPage.vue'
import { alerts, pick, refusal, serve, session, settle, show } from './mounting'

afterEach(() => {
  serve({})
  document.body.innerHTML = ''
})

const page = (results: object[]) => ({ count: results.length, next: null, results })
const column = (name: string, channel: string, rest: object = {}) => ({
  name,
  channel,
  unit: 'gf',
  negate: false,
  certainty: 0.9,
  why: 'by its name',
  ask: '',
  names: '',
  low: 0,
  high: 1180.4,
  samples: ['0', '0.6', '1.18'],
  trace: [0, null, 1],
  others: [],
  ...rest,
})
const run = (rest: object = {}) => ({
  kind: 'steps',
  row_count: 500,
  duration_s: 24,
  called: { sample: 'drift', propeller: '5x4', supply: '' },
  sample: 7,
  propeller: 3,
  supply: null,
  needs_propeller: true,
  points: 4,
  best: { max_thrust_gf: 1180.4 },
  warnings: ['the motor was warm'],
  problem: '',
  ...rest,
})
const mapping = {
  format: 'log-mapping/1',
  columns: {
    seconds: { channel: 'time_s', unit: 's', certainty: 0.9 },
    load: { channel: 'thrust_gf', unit: 'gf', certainty: 0.5, why: 'by the range' },
  },
  names: {},
  pole_count: null,
  header: {},
  idle_s: 8,
}
const opened = (rest: object = {}) => ({
  file_name: 'friend.csv',
  bench_log: false,
  known_as: '',
  stored_as: null,
  mapping,
  columns: [column('seconds', 'time_s', { unit: 's' }), column('load', 'thrust_gf')],
  preamble: ['logged in a garage'],
  asks: 0,
  problem: '',
  runs: [run()],
  ...rest,
})
const lists = {
  'GET /api/v1/session/': session(),
  'GET /api/v1/stands/': page([]),
  'GET /api/v1/supplies/': page([]),
  'GET /api/v1/motors/': page([]),
  'GET /api/v1/propellers/': page([]),
}
async function open(files: File[]) {
  const shown = await show(ImportPage, { path: '/import' })
  await shown.page.get('.el-upload-dragger').trigger('drop', { dataTransfer: { files } })
  await settle()
  return shown
}
const file = (name: string) => new File([name], name, { type: 'text/csv' })
type Page = Awaited<ReturnType<typeof open>>['page']
const button = (sheet: Page, text: string) =>
  sheet.findAll('button').find((one) => one.text().startsWith(text))
const sentMapping = (asked: { path: string; body: unknown }[]) => {
  const last = asked.filter((one) => one.path === '/api/v1/imports/open/').at(-1)
  return JSON.parse((last?.body as FormData).get('mapping') as string) as typeof mapping
}

describe("somebody's file", () => {
  it('shows what each column was taken for, why, and what it would give', async () => {
    serve({ ...lists, 'POST /api/v1/imports/open/': opened() })
    const { page: sheet } = await open([file('friend.csv')])
    expect(sheet.text()).toContain('logged in a garage')
    expect(sheet.text()).toContain('by its name')
    expect(sheet.text()).toContain('0, 0.6, 1.18')
    expect(sheet.text()).toContain('the motor was warm')
    // Two stretches: nothing is drawn where nothing was written.
    expect(sheet.get('.holds path').attributes('d')?.match(/M/g)).toHaveLength(2)
  })

  it('takes two columns together, in one unit', async () => {
    const asked = serve({ ...lists, 'POST /api/v1/imports/open/': opened() })
    const { page: sheet } = await open([file('friend.csv')])
    await button(sheet, 'With a second column')?.trigger('click')
    await settle()
    const seconds = sheet.findAll('.second input')
    expect(seconds).toHaveLength(2)
    const mappings = () =>
      asked
        .filter((one) => one.path.endsWith('/open/'))
        .map((one) => (one.body as FormData).get('mapping'))
        .filter((one): one is string => typeof one === 'string')
    const before = mappings().length
    const name = seconds[1]?.attributes('aria-label')?.replace('Column taken together with ', '')
    const others = sheet.findAll('td.name').map((one) => one.text())
    const other = others.find((one) => one !== name) as string
    await pick(sheet, `#${seconds[1]?.attributes('id')}`, other)
    await vi.waitFor(() => expect(mappings().length).toBeGreaterThan(before))
    const sent = JSON.parse(mappings().at(-1) ?? '{}') as {
      columns: Record<string, { how?: string; other?: string }>
    }
    expect(sent.columns[name ?? '']).toMatchObject({ how: 'plus', other })
  })

  it('asks before anything is stored, and takes a yes', async () => {
    const unsure = [column('load', 'thrust_gf', { ask: 'gf by the range of its values' })]
    let looks = 0
    const asked = serve({
      ...lists,
      'POST /api/v1/imports/open/': () =>
        (looks += 1) > 2 ? opened() : opened({ asks: 1, columns: unsure }),
      'POST /api/v1/imports/files/': [{ id: 31 }],
    })
    const { page: sheet, path } = await open([file('friend.csv')])
    expect(sheet.text()).toContain('look at the marked columns')
    expect(button(sheet, 'Store it as a run')?.attributes('disabled')).toBeDefined()
    await button(sheet, 'That is right')?.trigger('click')
    await vi.waitFor(() =>
      expect(button(sheet, 'Store it as a run')?.attributes('disabled')).toBeUndefined(),
    )
    expect(sentMapping(asked).columns.load.certainty).toBe(1)
    await sheet.findAll('form').at(-1)?.trigger('submit')
    await vi.waitFor(() => expect(path()).toBe('/runs/31'))
    const sent = asked.find((one) => one.path === '/api/v1/imports/files/')?.body as FormData
    expect(JSON.parse(sent.get('belongs') as string)).toEqual([
      { sample: 7, propeller: 3, supply: null },
    ])
  })

  it('says what does not fit and stores nothing without a motor', async () => {
    serve({
      ...lists,
      'POST /api/v1/imports/open/': opened({
        problem: 'Electrical speed needs the pole count.',
        runs: [run({ sample: null, propeller: null })],
      }),
    })
    const { page: sheet } = await open([file('friend.csv')])
    expect(sheet.text()).toContain('Electrical speed needs the pole count.')
    expect(sheet.text()).toContain('say which motor each run was · say which propeller')
  })

  it('keeps what was said where the server refuses', async () => {
    serve({
      ...lists,
      'POST /api/v1/imports/open/': opened(),
      'POST /api/v1/imports/files/': refusal(400, 'Say what load is, or leave it out.'),
    })
    const { page: sheet } = await open([file('friend.csv')])
    await vi.waitFor(() =>
      expect(button(sheet, 'Store it as a run')?.attributes('disabled')).toBeUndefined(),
    )
    await sheet.findAll('form').at(-1)?.trigger('submit')
    await settle()
    expect(alerts(sheet).join()).toContain('Say what load is')
    expect(sheet.text()).toContain('friend.csv')
  })
})

describe('several files', () => {
  it('stand in a table with what becomes of each', async () => {
    const answers = [
      opened({ known_as: 'Garage logger' }),
      opened({ file_name: 'b.csv', asks: 2 }),
      refusal(400, 'no table of numbers with a header row was found'),
      opened({ file_name: 'd.csv', stored_as: 12 }),
    ]
    let at = 0
    serve({ ...lists, 'POST /api/v1/imports/open/': () => answers[Math.min(at++, 3)] })
    const { page: sheet } = await open(['a.csv', 'b.csv', 'c.csv', 'd.csv'].map(file))
    const rows = () => sheet.findAll('[aria-label="Files"] tbody tr').map((row) => row.text())
    await vi.waitFor(() => expect(rows()[3]).toContain('is run 12 already'))
    expect(rows()[0]).toContain('ready, read as “Garage logger”')
    expect(rows()[1]).toContain('2 columns want a look')
    expect(rows()[2]).toContain('no table of numbers')
  })
})
