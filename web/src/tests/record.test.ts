import { afterEach, describe, expect, it, vi } from 'vitest'
import RunReview from '@/features/runs/RunReview.vue'
import RunTable from '@/features/runs/RunTable.vue'
import RunsPage from '@/features/runs/RunsPage.vue'
import ImportPage from '@/features/imports/ImportPage.vue'
import IntakePage from '@/features/intake/IntakePage.vue'
import LoginPage from '@/features/accounts/LoginPage.vue'
import { aRun, alerts, headline, pick, refusal, serve, session, settle, show } from './mounting'

afterEach(() => {
  // Requests that come late must not leave the test.
  serve({})
  localStorage.clear()
  document.body.innerHTML = ''
})

const SESSION = { 'GET /api/v1/session/': session() }

describe('the verdict on a run', () => {
  it('accepts with one click', async () => {
    const asked = serve({ ...SESSION, 'PATCH /api/v1/runs/5/': {} })
    const { page } = await show(RunReview, { props: { run: aRun(5) } })
    await page.findAll('button')[0]?.trigger('click')
    await settle()
    expect(asked.find((a) => a.method === 'PATCH')?.body).toEqual({
      review: 'accepted',
      review_reason: '',
      version: 1,
    })
  })

  it('rejects only with a reason', async () => {
    const asked = serve({ ...SESSION, 'PATCH /api/v1/runs/5/': {} })
    const { page } = await show(RunReview, { props: { run: aRun(5) } })
    const reject = page.findAll('button').find((b) => b.text() === 'Reject')
    expect(reject?.attributes('disabled')).toBeDefined()
    await page.get('input').setValue('prop slipped')
    expect(reject?.attributes('disabled')).toBeUndefined()
    await reject?.trigger('click')
    await settle()
    expect(asked.find((a) => a.method === 'PATCH')?.body).toEqual({
      review: 'rejected',
      review_reason: 'prop slipped',
      version: 1,
    })
  })

  it('is only shown to a reader', async () => {
    serve({ 'GET /api/v1/session/': session('reader') })
    const { page } = await show(RunReview, { props: { run: aRun(5) } })
    expect(page.findAll('button')).toHaveLength(0)
    expect(page.text()).toContain('not reviewed yet')
  })

  it('keeps a typed reason when the server is away', async () => {
    serve(SESSION)
    const { page } = await show(RunReview, { props: { run: aRun(5) } })
    await page.get('input').setValue('prop slipped')
    await page
      .findAll('button')
      .find((b) => b.text() === 'Reject')
      ?.trigger('click')
    await settle()
    expect(page.get('[role=alert]').text()).toContain('What you typed is still here')
    expect((page.get('input').element as HTMLInputElement).value).toBe('prop slipped')
  })
})

describe('runs in a table', () => {
  const bare = [headline('max_thrust_gf', null), headline('max_current_a', 4.2)]
  const runs = [
    aRun(1),
    aRun(2, { headline: bare, comparable: false }),
    aRun(3, { review: 'rejected' }),
  ]
  const table = async (props: object) => (await show(RunTable, { props: { runs, ...props } })).page

  it('are taken into the comparison one by one', async () => {
    const page = await table({ choosing: true, chosen: [3] })
    const boxes = page.findAll('tbody input')
    expect((boxes[2]?.element as HTMLInputElement).checked).toBe(true)
    expect(boxes[1]?.attributes('disabled')).toBeDefined()
    await boxes[0]?.setValue(true)
    expect(page.emitted('update:chosen')?.at(-1)).toEqual([[3, 1]])
  })

  it('keep what was taken on another page', async () => {
    const page = await table({ choosing: true, chosen: [77] })
    await page.findAll('tbody input')[0]?.setValue(true)
    expect(page.emitted('update:chosen')?.at(-1)).toEqual([[77, 1]])
    expect(page.emitted('update:chosen')).toHaveLength(1)
  })

  it('let go of what was taken elsewhere', async () => {
    const page = await table({ choosing: true, chosen: [1, 3] })
    await page.setProps({ chosen: [] })
    await settle()
    const boxes = page.findAll('tbody input').map((box) => box.element as HTMLInputElement)
    expect(boxes.map((box) => box.checked)).toEqual([false, false, false])
  })

  it('show what was rejected, and a dash with its reason for a figure that is not there', async () => {
    const page = await table({})
    const rows = page.findAll('tbody tr')
    expect(rows[2]?.classes()).toContain('rejected')
    expect(rows[1]?.get('.absent').attributes('data-reason')).toBe('thrust was not logged')
  })

  it('show the figures of each kind in its own words', async () => {
    const own = [headline('kv_raw_rpm_per_v', 1902), headline('no_load_current_a', 0.81)]
    const mixed = [aRun(1), aRun(2, { kind: 'no_load', headline: own, comparable: false })]
    const page = await table({ runs: mixed })
    const rows = page.findAll('tbody tr')
    expect(rows[0]?.text()).toContain('Largest thrust')
    expect(rows[1]?.text()).toContain('No load')
    expect(rows[1]?.text()).toContain('kV, raw')
    expect(rows[1]?.text()).not.toContain('Largest thrust')
    expect(rows[1]?.findAll('.absent')).toHaveLength(0)
  })

  it('have columns of their own where all are of one kind', async () => {
    const page = await table({ kind: 'steps', ordered: true })
    expect(page.get('thead').text()).toContain('Largest thrust (gf)')
    const press = () =>
      page.findAll('.sort').find((head) => head.text().startsWith('Largest thrust'))
    await press()?.trigger('click')
    expect(page.emitted('update:order')?.at(-1)).toEqual(['-max_thrust_gf'])
    await page.setProps({ order: '-max_thrust_gf' })
    await press()?.trigger('click')
    expect(page.emitted('update:order')?.at(-1)).toEqual(['max_thrust_gf'])
    await page.setProps({ order: 'max_thrust_gf' })
    await press()?.trigger('click')
    expect(page.emitted('update:order')?.at(-1)).toEqual([''])
  })
})

describe('the runs on record', () => {
  const answers = {
    ...SESSION,
    'GET /api/v1/propellers/': { results: [] },
    'GET /api/v1/supplies/': { results: [] },
    'GET /api/v1/motors/': { count: 0, next: null, results: [] },
  }
  const queries = (asked: ReturnType<typeof serve>) =>
    asked.filter((one) => one.path === '/api/v1/runs/').map((one) => one.query)

  it('are found, ordered and paged by the server', async () => {
    const asked = serve({ ...answers, 'GET /api/v1/runs/': { count: 60, results: [aRun(1)] } })
    const { page, path } = await show(RunsPage, { path: '/runs?kind=steps&page=2' })
    expect(queries(asked)[0]).toEqual({ kind: 'steps', page: '2', page_size: '25' })
    expect(page.text()).toContain('60 found')
    await page.get('.find input').setValue('corran pale')
    await vi.waitFor(() => expect(queries(asked).at(-1)?.search).toBe('corran pale'))
    expect(queries(asked).at(-1)?.page).toBe('1')
    expect(path()).toBe('/runs?kind=steps&search=corran+pale')
    await page
      .findAll('.sort')
      .find((head) => head.text().startsWith('Largest current'))
      ?.trigger('click')
    await settle()
    expect(queries(asked).at(-1)?.order).toBe('-max_current_a')
  })

  it('say what to do where none fits, and where there is none', async () => {
    const asked = serve({ ...answers, 'GET /api/v1/runs/': { count: 0, results: [] } })
    const { page } = await show(RunsPage, { path: '/runs?search=nothing' })
    expect(page.text()).toContain('No run fits')
    await page.get('.el-table__empty-block a').trigger('click')
    await vi.waitFor(() => expect(page.text()).toContain('Make one on the bench'))
    expect(queries(asked).at(-1)).toEqual({ page: '1', page_size: '25' })
  })

  it('begin anew where an address names a page past the end', async () => {
    const asked = serve({
      ...answers,
      'GET /api/v1/runs/': () =>
        queries(asked).at(-1)?.page === '1'
          ? { count: 1, results: [aRun(1)] }
          : refusal(404, 'Invalid page.'),
    })
    const { page } = await show(RunsPage, { path: '/runs?page=99' })
    await vi.waitFor(() => expect(page.findAll('tbody tr')).toHaveLength(1))
    expect(queries(asked).map((one) => one.page)).toEqual(['99', '1'])
  })

  it('are taken out as an archive: what the list finds, or what was taken by hand', async () => {
    const export_ = {
      id: 3,
      work: 9,
      title: 'Archive of 60 runs',
      state: 'done',
      run_count: 60,
      with_logs: true,
      size_bytes: 3_240_000,
      asked_by_name: 'Ilse',
      asked_at: '2026-10-08T09:00:00Z',
    }
    const asked = serve({
      ...answers,
      'GET /api/v1/runs/': { count: 60, results: [aRun(1), aRun(2)] },
      'GET /api/v1/exports/': { count: 1, next: null, results: [export_] },
      'POST /api/v1/exports/': export_,
      'DELETE /api/v1/exports/3/': () => refusal(409, 'It is being made: stop that first.'),
    })
    const { page } = await show(RunsPage, { path: '/runs?kind=steps&state=accepted&page=2' })
    const link = page.get('a[download]')
    expect(link.attributes('href')).toBe('/api/v1/exports/3/runs.zip')
    expect(link.text()).toBe('Archive of 60 runs, 3.2 MB')
    const press = async (text: string) => {
      const all = [...document.querySelectorAll('button')]
      all.find((one) => one.textContent?.trim().startsWith(text))?.click()
      await settle()
    }
    await press('Take out 60')
    await press('Make it')
    await page.find('tbody input').setValue(true)
    await press('Take out 1')
    document.querySelector<HTMLElement>('.el-popover .el-checkbox')?.click()
    await settle()
    await press('Make it')
    const sent = asked.filter((one) => one.method === 'POST')
    expect(sent.map((one) => [one.query, one.body])).toEqual([
      [
        { kind: 'steps', state: 'accepted' },
        { runs: null, with_logs: true },
      ],
      [{}, { runs: [1], with_logs: false }],
    ])
    await press('Drop')
    expect(alerts(page)).toContain('It is being made: stop that first.')
  })

  it('compare no more than fit, and say so', async () => {
    const many = Array.from({ length: 9 }, (_, at) => aRun(at + 1))
    serve({ ...answers, 'GET /api/v1/runs/': { count: 9, results: many } })
    const { page } = await show(RunsPage)
    for (const box of page.findAll('tbody input')) await box.setValue(true)
    await settle()
    expect(page.text()).toContain('8 runs fit one comparison; 9 are taken.')
    const compare = page.findAll('button').find((one) => one.text().startsWith('Compare'))
    expect(compare?.attributes('disabled')).toBeDefined()
  })
})

describe('intake', () => {
  const answers = {
    ...SESSION,
    'GET /api/v1/motors/': { count: 0, next: null, results: [] },
    'GET /api/v1/peers/': [{ motor: 3, full_name: 'Ostrel Drift 2206 1900' }],
    'GET /api/v1/size-code/': {
      text: '2207',
      basis: 'stator',
      diameter_mm: 22,
      height_mm: 7,
      aspect: 0.318,
      stator_volume_mm3: 2661,
      absent_reason: '',
      doubt: '',
    },
  }

  async function fill(page: Awaited<ReturnType<typeof show>>['page']) {
    await page.get('#maker').setValue('Tarnwick')
    await page.get('#name').setValue('Plover')
    await page.get('#size').setValue('2207')
    await page.get('#kv').setValue('1,855')
    await vi.waitFor(() => expect(page.text()).toContain('Read as the stator'))
  }

  it('reads the size code while it is typed and takes the motor in', async () => {
    const asked = serve({ ...answers, 'POST /api/v1/motors/': { id: 10 } })
    const { page, path } = await show(IntakePage)
    await fill(page)
    await page.get('#marks').setValue('A, B')
    await page.get('form').trigger('submit')
    await settle()
    expect(asked.find((a) => a.method === 'POST')?.body).toMatchObject({
      maker: 'Tarnwick',
      kv_label_rpm_per_v: 1855,
      sample_marks: ['A', 'B'],
    })
    await vi.waitFor(() => expect(path()).toBe('/intake/10/parcel'))
  })

  it('keeps the draft and shows the refusal beside its field', async () => {
    serve({
      ...answers,
      'POST /api/v1/motors/': refusal(409, 'On the bench already.', {
        fields: { name: ['Is here.'] },
      }),
    })
    const { page } = await show(IntakePage)
    await fill(page)
    await page.get('form').trigger('submit')
    // A message that goes takes a moment to fade.
    await vi.waitFor(() => expect(alerts(page)).toEqual(['Is here.', 'On the bench already.']))
    expect((page.get('#maker').element as HTMLInputElement).value).toBe('Tarnwick')
  })
})

describe('import', () => {
  const lists = {
    ...SESSION,
    'GET /api/v1/motors/': {
      results: [{ id: 3, full_name: 'Drift', samples: [{ id: 7, motor: 3, mark: 'A' }] }],
    },
    'GET /api/v1/propellers/': { results: [{ id: 1, full_name: 'Wickett' }] },
    'GET /api/v1/supplies/': { results: [] },
    'GET /api/v1/stands/': { results: [] },
  }
  const result = { points: [], summary: {}, absent: {}, warnings: [], outliers: [] }
  const understood = {
    file_name: 'log.csv',
    kind: 'steps',
    header: [{ key: 'weather', value: 'drizzle' }],
    columns: [
      { name: 'thrust_gf', label: 'Thrust', unit: 'gf', lowest: 0, highest: 1139, missing: 2 },
    ],
    carried_columns: ['note'],
    row_count: 1200,
    duration_s: 12,
    rate_hz: 100,
    sample: null,
    propeller: 1,
    result,
  }

  const benchLog = {
    file_name: 'log.csv',
    bench_log: true,
    known_as: '',
    stored_as: null,
    mapping: null,
    columns: [],
    preamble: [],
    asks: 0,
    problem: '',
    runs: [
      {
        kind: 'steps',
        row_count: 1200,
        duration_s: 12,
        called: {},
        sample: null,
        propeller: 1,
        supply: null,
        needs_propeller: true,
        points: 3,
        best: {},
        warnings: [],
        problem: '',
      },
    ],
  }

  async function drop(page: Awaited<ReturnType<typeof show>>['page']) {
    const file = new File(['time_s\n0\n'], 'log.csv', { type: 'text/csv' })
    await page.get('.el-upload-dragger').trigger('drop', { dataTransfer: { files: [file] } })
    await settle()
  }

  it('shows what was understood before anything is stored', async () => {
    const asked = serve({
      ...lists,
      'POST /api/v1/imports/open/': benchLog,
      'POST /api/v1/imports/preview/': understood,
    })
    const { page } = await show(ImportPage)
    await drop(page)
    expect(page.text()).toContain('Understood of log.csv')
    expect(page.text()).toContain('carried through, not used')
    expect(page.text()).toContain('drizzle')
    expect(asked.some((a) => a.path === '/api/v1/imports/')).toBe(false)
  })

  it('needs to know whose run it is', async () => {
    serve({
      ...lists,
      'POST /api/v1/imports/open/': benchLog,
      'POST /api/v1/imports/preview/': understood,
      'POST /api/v1/imports/': { id: 31 },
    })
    const { page, path } = await show(ImportPage)
    await drop(page)
    const store = page.findAll('button').find((b) => b.text() === 'Store it as a run')
    expect(store?.attributes('disabled')).toBeDefined()
    await pick(page, '#belongs-sample', 'Drift · A')
    await page.get('form').trigger('submit')
    await settle()
    await vi.waitFor(() => expect(path()).toBe('/runs/31'))
  })

  it('says line, column and expectation of a bad file', async () => {
    const where = { line: 3, column: 'thrust_gf', expected: 'a number' }
    serve({
      ...lists,
      'POST /api/v1/imports/open/': refusal(400, "the file, line 3: '2O' is no number", {
        where,
      }),
    })
    const { page } = await show(ImportPage)
    await drop(page)
    expect(page.findAll('.fault dd').map((d) => d.text())).toEqual(['3', 'thrust_gf', 'a number'])
    expect(page.text()).toContain('nothing was stored')
  })

  it('is not for readers', async () => {
    serve({ ...lists, 'GET /api/v1/session/': session('reader') })
    const { page } = await show(ImportPage)
    expect(page.find('input[type=file]').exists()).toBe(false)
  })
})

describe('logging in', () => {
  async function enter(path: string) {
    serve({
      'GET /api/v1/session/': { user: null, demo: true },
      'POST /api/v1/session/': session(),
    })
    const shown = await show(LoginPage, { path })
    await shown.page.get('#username').setValue('ilse')
    await shown.page.get('#password').setValue('x')
    await shown.page.get('form').trigger('submit')
    await settle()
    return shown.path()
  }

  it('leads back to where one wanted to go', async () => {
    expect(await enter('/login?next=/runs/7')).toBe('/runs/7')
  })

  it('does not lead to another site', async () => {
    expect(await enter('/login?next=//elsewhere.example/')).toBe('/')
    expect(await enter('/login?next=https://elsewhere.example/')).toBe('/')
  })

  it('empties the password and says so when refused', async () => {
    serve({
      'GET /api/v1/session/': { user: null, demo: false },
      'POST /api/v1/session/': refusal(403, 'Name and password do not match.'),
    })
    const { page } = await show(LoginPage, { path: '/login' })
    await page.get('#username').setValue('ilse')
    await page.get('#password').setValue('wrong')
    await page.get('form').trigger('submit')
    await settle()
    expect(page.get('[role=alert]').text()).toBe('Name and password do not match.')
    expect((page.get('#password').element as HTMLInputElement).value).toBe('')
    expect((page.get('#username').element as HTMLInputElement).value).toBe('ilse')
  })
})
