/** Other benches: a pack looked into and quoted, what is read apart, the motor's quoted evidence. */
import { beforeEach, describe, expect, it } from 'vitest'
import OtherBenchesPage from '@/features/benches/OtherBenchesPage.vue'
import QuotedSheet from '@/features/motor_file/QuotedSheet.vue'
import { alerts, refusal, serve, session, settle, show } from './mounting'

beforeEach(() => localStorage.clear())

const figure = (value: number, u = 1) => ({
  value,
  u,
  n: 1,
  origin: 'measured',
  reason: '',
  assumed: false,
})
const offset = {
  condition: 'speed_rpm',
  name: 'thrust_gf',
  offset_pct: 5.2,
  u_pct: 2,
  half_width_pct: 3.9,
  outcome: 'different',
  loads: 3,
  motors: 1,
  assumed: true,
}
const held = {
  motor: 3,
  motor_name: 'Ostrel Drift 2206 1900',
  load: 'Wickett 5x3.6x3, 16 V bench supply',
  condition: 'speed_rpm',
  at: 14000,
  name: 'thrust_gf',
  ours: { figure: figure(328, 7), samples: 1, runs: 2 },
  theirs: { figure: figure(344, 8), samples: 1, runs: 1 },
  offset_pct: 5,
  u_pct: 3,
  half_width_pct: 6,
  outcome: 'unresolved',
  one_sample: true,
}
const PACK = {
  id: 8,
  version: 2,
  bench: 1,
  bench_name: 'Saltpan Loft Bench',
  kind: 'motor',
  subject: 'Ostrel Drift 2206 1900',
  edition: 1,
  issued_on: '2026-09-20',
  sentence: 'It wants to be fed.',
  licence: '',
  grade_label: 'Fair evidence',
  grade_line: 'Fair evidence: 2 samples, 7 runs.',
  disclosure: ['Bought.', 'No link pays.'],
  size_bytes: 1_400_000,
  file_name: 'x.zip',
  put_aside: '',
  imported_by_name: 'Ilse',
  imported_at: '2026-10-09T09:00:00Z',
  counts: true,
  run_count: 7,
  motors: [
    {
      key: 'drift',
      full_name: 'Ostrel Drift 2206 1900',
      ours: 3,
      ours_name: 'Ostrel Drift 2206 1900',
      samples: [
        { mark: 'A', ours: 7, ours_mark: 'A' },
        { mark: 'M', ours: null, ours_mark: '' },
      ],
    },
  ],
  propellers: [{ key: 'p1', full_name: 'Wickett 5x3.6x3', ours: 4, ours_name: 'Wickett 5x3.6x3' }],
  remarks: [{ number: 4, remarks: ['max_thrust_gf: they state 900; their log gives 850.'] }],
}
const BENCH = {
  bench: {
    id: 1,
    version: 1,
    name: 'Saltpan Loft Bench',
    address: '',
    note: '',
    pack_count: 1,
    motor_count: 1,
  },
  packs: [PACK],
  check: {
    offsets: [offset],
    held: [held],
    theirs_only: [{ motor: 3, motor_name: 'Ostrel Drift 2206 1900', load: 'Wickett, 14.8 V' }],
  },
}
const LOOKED = {
  bench_name: 'Saltpan Loft Bench',
  address: '',
  subject: 'Ostrel Drift 2206 1900',
  edition: 1,
  issued_on: '2026-09-20',
  sentence: 'It wants to be fed.',
  licence: '',
  grade_label: 'Fair evidence',
  grade_line: 'Fair evidence: 2 samples, 7 runs.',
  disclosure: ['Bought.'],
  runs: 7,
  size_bytes: 1_400_000,
  motors: [{ key: 'drift', full_name: 'Ostrel Drift', samples: ['A', 'M'], runs: 7, ours: null }],
  propellers: [{ key: 'p1', full_name: 'Wickett 5x3.6x3', samples: [], runs: 3, ours: null }],
}
const NONE = { count: 0, next: null, previous: null, results: [] }
const answers = (more: object = {}) => ({
  'GET /api/v1/session/': session(),
  'GET /api/v1/other-benches/': { ...NONE, count: 1, results: [BENCH.bench] },
  'GET /api/v1/other-benches/1/': BENCH,
  'GET /api/v1/motors/': NONE,
  'GET /api/v1/propellers/': NONE,
  ...more,
})
async function drop(page: Awaited<ReturnType<typeof show>>['page']) {
  const input = page.get('input[type=file]')
  const file = new File(['PK'], 'their.zip', { type: 'application/zip' })
  Object.defineProperty(input.element, 'files', { value: [file] })
  await input.trigger('change')
  await settle()
}
const press = async (page: Awaited<ReturnType<typeof show>>['page'], text: string) => {
  const found = page.findAll('button').find((one) => one.text() === text)
  if (!found) throw new Error(`no button ${text}`)
  if (found.attributes('type') === 'submit') await found.trigger('submit')
  else await found.trigger('click')
  await settle()
}

describe('other benches', () => {
  it('says where packs come from while there is none', async () => {
    serve(answers({ 'GET /api/v1/other-benches/': NONE }))
    const { page } = await show(OtherBenchesPage, { path: '/compare/benches' })
    expect(page.text()).toContain('No other bench yet')
    expect(page.find('input[type=file]').exists()).toBe(true)
  })

  it('holds one against ours, load by load, and says what only they ran', async () => {
    serve(answers())
    const { page } = await show(OtherBenchesPage, { path: '/compare/benches' })
    const text = page.text()
    expect(text).toContain('Their scale shows 5.2 ± 2.0\u2009% more than ours')
    expect(text).toContain('Thrust at one speed, 14,000\u2009rpm')
    expect(text).toContain('the very same motor on both')
    expect(text).toContain('not told apart: −1.0\u2009% to +11\u2009%')
    expect(text).toContain('Wickett, 14.8 V')
    expect(text).toContain('Licence: not said')
    expect(text).toContain('their A is our A')
    expect(text).toContain('their log gives 850')
    expect(page.get('a[download]').attributes('href')).toBe('/api/v1/quoted-packs/8/file/')
  })

  it('lets a reader read and nothing else', async () => {
    serve(answers({ 'GET /api/v1/session/': session('reader') }))
    const { page } = await show(OtherBenchesPage, { path: '/compare/benches' })
    expect(page.find('input[type=file]').exists()).toBe(false)
    expect(page.text()).not.toContain('Put it aside')
  })

  it('shows whose a pack is before it is kept, and keeps it with what is ours', async () => {
    let kept = ''
    serve(
      answers({
        'POST /api/v1/quoted-packs/look/': LOOKED,
        'POST /api/v1/quoted-packs/': (body: unknown) => {
          kept = String((body as FormData).get('ours'))
          return PACK
        },
      }),
    )
    const { page } = await show(OtherBenchesPage, { path: '/compare/benches' })
    await drop(page)
    expect(page.text()).toContain('not said; ask them before you use it')
    expect(page.text()).toContain('Their Ostrel Drift (7 runs) is our')
    await page.get('.begin input').setValue(true)
    await press(page, 'Quote it')
    expect(JSON.parse(kept)).toEqual({
      motors: { drift: 'new' },
      samples: { 'drift/A': null, 'drift/M': null },
      propellers: { p1: null },
    })
    expect(page.text()).toContain('Quoted: Ostrel Drift 2206 1900, 7 runs.')
    expect(page.text()).not.toContain('What of it is ours?')
  })

  it('says what is wrong with a file, and keeps what was chosen when it is refused', async () => {
    serve(
      answers({
        'POST /api/v1/quoted-packs/look/': refusal(400, 'their.zip: this is no ZIP archive.'),
      }),
    )
    const first = await show(OtherBenchesPage, { path: '/compare/benches' })
    await drop(first.page)
    expect(alerts(first.page)).toContain('their.zip: this is no ZIP archive.')
    serve(
      answers({
        'POST /api/v1/quoted-packs/look/': LOOKED,
        'POST /api/v1/quoted-packs/': refusal(409, 'This pack is quoted already.'),
      }),
    )
    const { page } = await show(OtherBenchesPage, { path: '/compare/benches' })
    await drop(page)
    await press(page, 'Quote it')
    expect(alerts(page)).toContain('This pack is quoted already.')
    expect(page.text()).toContain('What of it is ours?')
  })

  it('puts a pack aside only with a reason', async () => {
    const asked = serve(answers({ 'PATCH /api/v1/quoted-packs/8/': PACK }))
    const { page } = await show(OtherBenchesPage, { path: '/compare/benches' })
    await press(page, 'Put it aside …')
    const button = page.findAll('button').find((one) => one.text() === 'Put it aside')
    expect(button?.attributes('disabled')).toBeDefined()
    await page.get('.pack input[maxlength="240"]').setValue('their scale drifts')
    await press(page, 'Put it aside')
    expect(asked.find((one) => one.method === 'PATCH')?.body).toEqual({
      put_aside: 'their scale drifts',
      version: 2,
    })
  })

  it('tells what is wrong when the list cannot be read', async () => {
    serve(answers({ 'GET /api/v1/other-benches/': refusal(500, 'The record is away.') }))
    const { page } = await show(OtherBenchesPage, { path: '/compare/benches' })
    expect(alerts(page).join()).toContain('The record is away.')
  })
})

describe('quoted evidence on a motor', () => {
  const EVIDENCE = {
    bench: 1,
    bench_name: 'Saltpan Loft Bench',
    subject: 'Ostrel Drift 2206 1900',
    edition: 1,
    issued_on: '2026-09-20',
    sentence: 'It wants to be fed.',
    licence: 'CC BY 4.0',
    grade_label: 'Fair evidence',
    grade_line: 'Fair evidence: 2 samples, 7 runs.',
    figures: [{ name: 'mass_g', figure: figure(31.2, 0.1) }],
    loads: [
      {
        load: 'Wickett 5x3.6x3, 16 V bench supply',
        samples: 1,
        runs: 1,
        figures: [{ name: 'thrust_gf', figure: figure(1014, 22) }],
      },
    ],
    offsets: [offset],
  }
  it('stands apart with bench, edition, licence and grade', async () => {
    serve({ 'GET /api/v1/motors/3/quoted/': [EVIDENCE] })
    const { page } = await show(QuotedSheet, { props: { motor: 3 } })
    const text = page.text()
    expect(text).toContain('Saltpan Loft Bench')
    expect(text).toContain('Fair evidence: 2 samples, 7 runs.')
    expect(text).toContain('CC BY 4.0')
    expect(text).toContain('1,014±22gf')
    expect(text).toContain('31.20±0.10g')
    expect(text).toContain('Held against our own runs')
  })
  it('says that nobody is quoted', async () => {
    serve({ 'GET /api/v1/motors/3/quoted/': [] })
    const { page } = await show(QuotedSheet, { props: { motor: 3 } })
    expect(page.text()).toContain('No other bench is quoted on this motor.')
  })
})
