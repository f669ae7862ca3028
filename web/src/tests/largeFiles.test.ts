/** Logs of hundreds of megabytes: sent part by part, followed until they are a run. */
import { type VueWrapper } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import ImportPage from '@/features/imports/ImportPage.vue'
import { largeStands, samenessOf, tellingPart } from '@/features/imports/large'
import { alerts, refusal, serve, session, settle, show } from './mounting'

afterEach(() => {
  serve({})
  document.body.innerHTML = ''
})

const PART = 8_000_000
/** A file that says it is large; a slice of it says where it begins. */
function largeFile(name: string, parts: number): File {
  const file = new File(['x'], name, { lastModified: 77 })
  const size = parts * PART - 5
  Object.defineProperty(file, 'size', { value: size })
  file.slice = (from = 0, until = size) => new Blob([JSON.stringify([from, until])])
  return file
}
const opened = {
  file_name: 'soak.csv',
  bench_log: true,
  known_as: '',
  stored_as: null,
  mapping: null,
  columns: [
    { name: 'thrust_gf', channel: 'thrust_gf' },
    { name: 'remark', channel: '' },
  ],
  preamble: [],
  asks: 0,
  problem: '',
  large: true,
  runs: [
    {
      kind: 'soak',
      row_count: 3_600_000,
      duration_s: null,
      called: { sample: 'drift', propeller: '5x4', supply: '' },
      sample: 7,
      propeller: 3,
      supply: null,
      needs_propeller: true,
      points: null,
      best: {},
      warnings: [],
      problem: '',
    },
  ],
}
const large = (rest: object = {}) => ({
  id: 5,
  name: 'soak.csv',
  size: 5 * PART - 5,
  here: 0,
  part_bytes: PART,
  parts_here: [],
  state: 'arriving',
  problem: '',
  run: null,
  work: null,
  work_done: null,
  work_total: null,
  work_unit: '',
  inbox: null,
  asked_by_name: 'Ilse',
  begun_at: '2026-11-28T10:00:00Z',
  ...rest,
})
const page = (results: object[]) => ({ count: results.length, next: null, results })
const lists = {
  'GET /api/v1/session/': session(),
  'GET /api/v1/stands/': page([]),
  'GET /api/v1/supplies/': page([]),
  'GET /api/v1/motors/': page([]),
  'GET /api/v1/propellers/': page([]),
  'GET /api/v1/imports/inbox/': page([]),
  'GET /api/v1/imports/large/': page([]),
  'POST /api/v1/imports/large/open/': opened,
  'POST /api/v1/imports/large/': large({ parts_here: [1] }),
  'POST /api/v1/imports/large/5/store/': large({ state: 'storing', work: 9 }),
}
const parts = (answer: unknown) =>
  Object.fromEntries(
    [0, 1, 2, 3, 4].map((index) => [`PUT /api/v1/imports/large/5/parts/${index}/`, answer]),
  )
async function open(files: File[]) {
  const shown = await show(ImportPage, { path: '/import' })
  await shown.page.get('.el-upload-dragger').trigger('drop', { dataTransfer: { files } })
  await settle()
  return shown
}
const submit = async (sheet: VueWrapper) => {
  await sheet.findAll('form').at(-1)?.trigger('submit')
  await settle()
}

describe('a large file', () => {
  it('is looked at by its beginning, and sent but for what came before', async () => {
    const asked = serve({
      ...lists,
      ...parts(null),
      'GET /api/v1/imports/large/5/': large({ state: 'stored', run: 31 }),
    })
    const { page: sheet, path } = await open([largeFile('soak.csv', 5)])
    expect(sheet.text()).toContain('about 3,600,000 rows, 40 MB')
    expect(sheet.text()).toContain('remark, kept in the file only')
    await submit(sheet)
    await vi.waitFor(() => expect(path()).toBe('/runs/31'))
    const sent = asked.filter((one) => one.method === 'PUT')
    expect(sent.map((one) => one.path.match(/parts\/(\d)/)?.[1])).toEqual(['0', '2', '3', '4'])
    expect(sent[0]?.body).toEqual([0, PART])
    expect(sent.at(-1)?.body).toEqual([4 * PART, 5 * PART - 5])
    const announced = asked.find((one) => one.path === '/api/v1/imports/large/')
    const said = asked.filter((one) => one.path === '/api/v1/imports/large/' && one.body)
    expect(announced).toBeDefined()
    expect(said[0]?.body).toMatchObject({
      name: 'soak.csv',
      size: 5 * PART - 5,
      sameness: `${5 * PART - 5}-77`,
      sample: 7,
      propeller: 3,
      inbox: null,
      mapping: null,
    })
  })

  it('shows how far it is, is stopped, and says what stays', async () => {
    let answers = 0
    serve({
      ...lists,
      ...parts(() => (answers += 1) < 2 || new Promise((resolve) => setTimeout(resolve, 60))),
    })
    const { page: sheet } = await open([largeFile('soak.csv', 5)])
    await submit(sheet)
    await vi.waitFor(() => expect(sheet.text()).toMatch(/\d+ of 40 MB sent/))
    const stop = sheet.findAll('button').find((one) => one.text() === 'Stop it')
    await stop?.trigger('click')
    await vi.waitFor(() => expect(alerts(sheet).join()).toContain('what came stays here'))
    expect(answers).toBeLessThan(4)
  })

  it('has two parts on their way at one time, and never one twice', async () => {
    let now = 0
    let most = 0
    const asked = serve({
      ...lists,
      ...parts(async () => {
        most = Math.max(most, (now += 1))
        await new Promise((resolve) => setTimeout(resolve, 20))
        now -= 1
        return null
      }),
      'POST /api/v1/imports/large/': large(),
      'GET /api/v1/imports/large/5/': large({ state: 'stored', run: 31 }),
    })
    const { page: sheet, path } = await open([largeFile('soak.csv', 5)])
    await submit(sheet)
    await vi.waitFor(() => expect(path()).toBe('/runs/31'))
    expect(most).toBe(2)
    const sent = asked.filter((one) => one.method === 'PUT').map((one) => one.path.slice(-2, -1))
    expect(sent).toEqual(['0', '1', '2', '3', '4'])
    const stored = asked.findIndex((one) => one.path.endsWith('/store/'))
    expect(asked.findLastIndex((one) => one.method === 'PUT')).toBeLessThan(stored)
  })

  it('stops at a part that is refused, and is not stored with a gap', async () => {
    const asked = serve({
      ...lists,
      ...parts(() => new Promise((resolve) => setTimeout(() => resolve(null), 10))),
      'PUT /api/v1/imports/large/5/parts/2/': refusal(409, 'Another part 2 of this file is here.'),
      'POST /api/v1/imports/large/': large(),
    })
    const { page: sheet } = await open([largeFile('soak.csv', 5)])
    await submit(sheet)
    await vi.waitFor(() => expect(alerts(sheet).join()).toContain('Another part 2'))
    expect(asked.some((one) => one.path.endsWith('/parts/4/'))).toBe(false)
    expect(asked.some((one) => one.path.endsWith('/store/'))).toBe(false)
  })

  it('says why it became no run', async () => {
    serve({
      ...lists,
      ...parts(null),
      'GET /api/v1/imports/large/5/': large({
        state: 'refused',
        problem: 'soak.csv, line 812: nan is no number',
      }),
    })
    const { page: sheet, path } = await open([largeFile('soak.csv', 5)])
    await submit(sheet)
    await vi.waitFor(() => expect(alerts(sheet).join()).toContain('line 812'))
    expect(path()).toBe('/import')
  })

  it('is not sent where it is refused beforehand', async () => {
    const asked = serve({
      ...lists,
      'POST /api/v1/imports/large/': refusal(409, 'soak.csv is being stored.'),
    })
    const { page: sheet } = await open([largeFile('soak.csv', 5)])
    await submit(sheet)
    expect(alerts(sheet).join()).toContain('is being stored')
    expect(asked.some((one) => one.method === 'PUT')).toBe(false)
  })

  it('of a stranger says nothing of what was not looked at', async () => {
    const mapping = {
      format: 'log-mapping/1',
      columns: { ms: { channel: 'time_s', unit: 'ms', certainty: 1 } },
      names: {},
      pole_count: null,
      header: {},
      idle_s: 8,
    }
    const asked = serve({
      ...lists,
      ...parts(null),
      'POST /api/v1/imports/large/open/': {
        ...opened,
        bench_log: false,
        mapping,
        columns: [],
        preamble: ['Logger 7', ' ', ''],
      },
      'GET /api/v1/imports/large/5/': large({ state: 'stored', run: 31 }),
    })
    const { page: sheet, path } = await open([largeFile('theirs.txt', 5)])
    expect(sheet.text()).toContain('about 3,600,000')
    expect(sheet.text()).toContain('the rest is read while it is stored')
    expect(sheet.text()).not.toContain('nothing odd')
    expect(sheet.text()).not.toContain('Logger 7 ·')
    await submit(sheet)
    await vi.waitFor(() => expect(path()).toBe('/runs/31'))
    const said = asked.filter((one) => one.path === '/api/v1/imports/large/' && one.body)
    const sent = said[0]?.body as { mapping: string }
    expect(JSON.parse(sent.mapping)).toMatchObject({ columns: mapping.columns })
  })

  it('of the inbox stays where it lies', async () => {
    const row = { id: 8, name: 'hour.csv', size: 4e8, noticed_at: '2026-11-28T10:00:00Z' }
    const asked = serve({
      ...lists,
      'GET /api/v1/imports/inbox/': page([
        { ...row, runs: 1, asks: 0, known_as: '', problem: '', put_aside: false, large: true },
      ]),
      'GET /api/v1/imports/large/5/': large({ state: 'stored', run: 31 }),
    })
    const { page: sheet, path } = await show(ImportPage, { path: '/import' })
    await sheet
      .findAll('button')
      .find((one) => one.text().startsWith('Look at it'))
      ?.trigger('click')
    await settle()
    await submit(sheet)
    await vi.waitFor(() => expect(path()).toBe('/runs/31'))
    expect(asked.some((one) => one.method === 'PUT')).toBe(false)
    const said = asked.filter((one) => one.path === '/api/v1/imports/large/' && one.body)
    expect(said[0]?.body).toMatchObject({ inbox: 8, sample: 7 })
  })

  it('that waits is stored again or dropped', async () => {
    const asked = serve({
      ...lists,
      'GET /api/v1/imports/large/': page([
        large({ here: 5 * PART - 5, problem: 'It was stopped.' }),
      ]),
    })
    const { page: sheet } = await show(ImportPage, { path: '/import' })
    expect(sheet.get('[aria-label="Large files"]').text()).toContain('It was stopped.')
    await sheet
      .findAll('[aria-label="Large files"] button')
      .find((one) => one.text().startsWith('Store it'))
      ?.trigger('click')
    await settle()
    expect(asked.some((one) => one.path.endsWith('/5/store/'))).toBe(true)
  })
})

describe('what is said of a large file', () => {
  it('says what is owed', () => {
    const of = (rest: object) => largeStands({ ...large(rest) } as never)
    expect(of({ here: 16e6 })).toBe('16 of 40 MB are here; choose the same file again to go on')
    expect(of({ here: 5 * PART - 5 })).toBe('all of it is here')
    expect(of({ state: 'storing' })).toBe('being stored')
    expect(of({ here: 16e6, problem: 'It was stopped.' })).toBe(
      'It was stopped. 16 of 40 MB are here.',
    )
  })

  it('knows the same file again, and which part tells what it is', async () => {
    expect(samenessOf(largeFile('a.csv', 5))).toBe(`${5 * PART - 5}-77`)
    expect(await tellingPart(largeFile('a.csv', 5)).text()).toBe('[0,1000000]')
    expect(await tellingPart(largeFile('A.PARQUET', 5)).text()).toBe('[38999995,39999995]')
  })
})
