import { afterEach, describe, expect, it, vi } from 'vitest'
import RunReview from '@/features/runs/RunReview.vue'
import RunTable from '@/features/runs/RunTable.vue'
import RunsPage from '@/features/runs/RunsPage.vue'
import ImportPage from '@/features/imports/ImportPage.vue'
import IntakePage from '@/features/intake/IntakePage.vue'
import LoginPage from '@/features/accounts/LoginPage.vue'
import { aRun, refusal, serve, session, settle, show } from './mounting'

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
  const runs = [aRun(1), aRun(2, { max_thrust_gf: null }), aRun(3, { review: 'rejected' })]

  it('are taken into the comparison one by one', async () => {
    const { page } = await show(RunTable, { props: { runs, choosing: true, chosen: [3] } })
    const boxes = page.findAll('input')
    expect(boxes[1]?.attributes('disabled')).toBeDefined()
    await boxes[0]?.setValue(true)
    expect(page.emitted('update:chosen')?.[0]).toEqual([[3, 1]])
    await boxes[2]?.setValue(false)
    expect(page.emitted('update:chosen')?.[1]).toEqual([[1]])
  })

  it('show what was rejected, and a dash for a figure that is not there', async () => {
    const { page } = await show(RunTable, { props: { runs } })
    const rows = page.findAll('tbody tr')
    expect(rows[2]?.classes()).toContain('rejected')
    expect(rows[1]?.find('.absent').exists()).toBe(true)
  })

  it('are found by words in any order', async () => {
    const other = aRun(9, { motor_name: 'Hollin Pale 2807 1250', propeller_name: 'Corran 7x3.8x3' })
    serve({ ...SESSION, 'GET /api/v1/runs/': { results: [...runs, other] } })
    const { page } = await show(RunsPage)
    expect(page.findAll('tbody tr')).toHaveLength(4)
    await page.get('.find input').setValue('corran pale')
    expect(page.findAll('tbody tr')).toHaveLength(1)
    await page.get('.find input').setValue('nothing of the kind')
    expect(page.text()).toContain('No run fits')
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
    await settle()
    expect(page.get('[role=alert]').text()).toBe('On the bench already.')
    expect(page.findAll('.field-problem').some((p) => p.text() === 'Is here.')).toBe(true)
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

  async function drop(page: Awaited<ReturnType<typeof show>>['page']) {
    const file = new File(['time_s\n0\n'], 'log.csv', { type: 'text/csv' })
    await page.get('.drop').trigger('drop', { dataTransfer: { files: [file] } })
    await settle()
  }

  it('shows what was understood before anything is stored', async () => {
    const asked = serve({ ...lists, 'POST /api/v1/imports/preview/': understood })
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
      'POST /api/v1/imports/preview/': understood,
      'POST /api/v1/imports/': { id: 31 },
    })
    const { page, path } = await show(ImportPage)
    await drop(page)
    const store = page.findAll('button').find((b) => b.text() === 'Store it as a run')
    expect(store?.attributes('disabled')).toBeDefined()
    await page.get('#belongs-sample').setValue('7')
    await page.get('form').trigger('submit')
    await settle()
    await vi.waitFor(() => expect(path()).toBe('/runs/31'))
  })

  it('says line, column and expectation of a bad file', async () => {
    const where = { line: 3, column: 'thrust_gf', expected: 'a number' }
    serve({
      ...lists,
      'POST /api/v1/imports/preview/': refusal(400, "the file, line 3: '2O' is no number", {
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
