/** The teardown sheet and the comparison as one uses them. */
import { afterEach, describe, expect, it, vi } from 'vitest'
import PhotoStrip from '@/features/photos/PhotoStrip.vue'
import TeardownPage from '@/features/teardown/TeardownPage.vue'
import { anAttribute, refusal, serve, session, settle, show } from './mounting'

// Keys are listened for on the window: a page of an earlier test must not hear them.
afterEach(() => {
  serve({})
  localStorage.clear()
  document.body.innerHTML = ''
})

const SESSION = { 'GET /api/v1/session/': session() }
const choice = (key: string, rest: object = {}) => ({
  key,
  label: key,
  suggests: '',
  helps: [],
  costs: [],
  ...rest,
})
const motor = {
  id: 3,
  maker: 'Ostrel',
  name: 'Drift',
  full_name: 'Ostrel Drift 2206 1900',
  size_code: '2206',
  size_basis: 'stator',
  kv_label_rpm_per_v: 1900,
  samples: [
    { id: 7, motor: 3, mark: 'A' },
    { id: 8, motor: 3, mark: 'B' },
  ],
}
const seen = (attribute: string, rest: object) => ({
  id: 1,
  sample: 8,
  attribute,
  status: 'observed',
  choice: '',
  value: null,
  u: null,
  ordinal: '',
  reference: null,
  reference_name: '',
  reference_short: '',
  reference_changed: false,
  instrument: '',
  note: '',
  observed_at: '2026-10-05T09:00:00Z',
  observed_by_name: 'Ilse',
  version: 1,
  ...rest,
})
const empty = { observations: [], findings: [], not_applicable: [] }
const answers = {
  ...SESSION,
  'GET /api/v1/motors/': { results: [motor] },
  'GET /api/v1/teardown/vocabulary/': {
    version: 3,
    steps: ['Magnets'],
    outside_step: 'Outside',
    attributes: [
      anAttribute('total_height', { step: 'Outside', unit: 'mm', high: 200 }),
      anAttribute('shape', {
        choices: [choice('arc', { helps: ['power'], costs: ['cost'] }), choice('flat')],
        ordinal_words: ['less', 'about the same', 'more'],
      }),
      anAttribute('diameter', {
        unit: 'mm',
        low: 4,
        high: 120,
        ordinal_words: ['smaller', 'about the same', 'larger'],
      }),
      anAttribute('pole_count', { unit: '', integer: true, low: 2, high: 96 }),
    ],
  },
  'GET /api/v1/samples/7/teardown/': empty,
  'GET /api/v1/samples/8/teardown/': { ...empty, observations: [seen('shape', { choice: 'arc' })] },
  'GET /api/v1/samples/7/photos/': [],
}
const open = () => show(TeardownPage, { path: '/teardown/7', at: '/teardown/:sample' })
const press = (key: string) =>
  (document.activeElement ?? document.body).dispatchEvent(
    new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }),
  )
const puts = (asked: { method: string; body: unknown }[]) =>
  asked.filter((a) => a.method === 'PUT').map((a) => a.body as Record<string, unknown>)
const stored = (body: unknown) => ({ ...seen('x', {}), ...(body as object), sample: 7, version: 1 })

describe('the teardown sheet', () => {
  it('sends one answer as one request and reads its sheet once', async () => {
    const asked = serve({ ...answers, 'PUT /api/v1/samples/7/teardown/': stored })
    await open()
    const before = asked.length
    press('2')
    await settle()
    await settle()
    expect(asked.slice(before).map((one) => `${one.method} ${one.path}`)).toEqual([
      'PUT /api/v1/samples/7/teardown/',
      'GET /api/v1/samples/7/teardown/',
    ])
  })

  it('shows an answer while it is on its way, and takes it back where it is refused', async () => {
    let answer: (value: unknown) => void = () => {}
    const held = new Promise((resolve) => (answer = resolve))
    serve({ ...answers, 'PUT /api/v1/samples/7/teardown/': () => held })
    const { page } = await open()
    const listed = () => page.get('.questions').text()
    press('2')
    await settle()
    expect(page.text()).toContain('flat')
    const underway = listed()
    answer(refusal(400, 'This cannot be.'))
    await settle()
    await settle()
    expect(page.text()).toContain('This cannot be.')
    expect(listed()).not.toBe(underway)
  })

  it('takes one key per answer and goes on to the next question', async () => {
    const asked = serve({ ...answers, 'PUT /api/v1/samples/7/teardown/': stored })
    const { page } = await open()
    expect(page.get('.question h2').text()).toBe('shape')
    press('2')
    await settle()
    expect(puts(asked)[0]).toMatchObject({ attribute: 'shape', status: 'observed', choice: 'flat' })
    expect(page.get('.question h2').text()).toBe('diameter')
  })

  it('takes a key for the question that is shown, also before the server has replied', async () => {
    const release: (() => void)[] = []
    const asked = serve({
      ...answers,
      'PUT /api/v1/samples/7/teardown/': (body: unknown) =>
        new Promise((resolve) => release.push(() => resolve(stored(body)))),
    })
    const { page } = await open()
    press('2')
    await settle()
    expect(page.get('.question h2').text()).toBe('diameter')
    press('u')
    await settle()
    expect(page.get('.question h2').text()).toBe('pole_count')
    // One after the other: the second waits for the first.
    expect(puts(asked)).toHaveLength(1)
    release.shift()?.()
    await settle()
    await settle()
    expect(puts(asked).map((body) => [body.attribute, body.status])).toEqual([
      ['shape', 'observed'],
      ['diameter', 'could_not_tell'],
    ])
    release.shift()?.()
  })

  it('says which answer was refused and leads back to it, without pulling anybody', async () => {
    serve({
      ...answers,
      'PUT /api/v1/samples/7/teardown/': (body: unknown) =>
        (body as { attribute: string }).attribute === 'shape'
          ? refusal(400, 'This cannot be.')
          : stored(body),
    })
    const { page } = await open()
    press('2')
    await settle()
    press('u')
    await settle()
    await settle()
    expect(page.get('.question h2').text()).toBe('pole_count')
    const said = page.findAll('[role=alert]').find((one) => one.text().includes('cannot be'))
    expect(said?.text()).toContain('shape')
    await said?.get('button').trigger('click')
    expect(page.get('.question h2').text()).toBe('shape')
    expect(page.text()).not.toContain('This cannot be.')
  })

  it('takes a measure in inches, letters that are keys elsewhere and all', async () => {
    const asked = serve({ ...answers, 'PUT /api/v1/samples/7/teardown/': stored })
    const { page } = await open()
    press('ArrowDown')
    await settle()
    const field = page.get<HTMLInputElement>('.measure input')
    field.element.focus()
    field.element.value = '1.1 '
    await field.trigger('input')
    press('i')
    press('n')
    await settle()
    expect(puts(asked)).toHaveLength(0)
    expect(document.activeElement).toBe(field.element)
    await field.setValue('1.1 in')
    await field.trigger('keydown', { key: 'Enter' })
    await settle()
    expect(puts(asked)[0]).toMatchObject({ attribute: 'diameter', value: 27.94, typed: '1.1 in' })
  })

  it('keeps "could not tell" and "not looked at" apart', async () => {
    const asked = serve({ ...answers, 'PUT /api/v1/samples/7/teardown/': stored })
    await open()
    press('0')
    await settle()
    press('u')
    await settle()
    press('x')
    await settle()
    expect(puts(asked).map((body) => [body.attribute, body.status])).toEqual([
      ['shape', 'could_not_tell'],
      ['diameter', 'could_not_tell'],
      ['pole_count', 'not_looked'],
    ])
  })

  it('answers as the reference sample, inferred from it, or beside it', async () => {
    const asked = serve({ ...answers, 'PUT /api/v1/samples/7/teardown/': stored })
    const { page } = await open()
    // By its name, before anybody opened the list.
    expect(page.get('.reference .el-select__placeholder').text()).toMatch(/^sample /)
    press('s')
    await settle()
    expect(puts(asked)[0]).toMatchObject({ status: 'same_as', reference: 8 })
    // Nobody measured the diameter there: nothing to take over, but it can be held beside.
    press('s')
    press('i')
    await settle()
    expect(puts(asked)).toHaveLength(1)
    press('>')
    await settle()
    expect(puts(asked)[1]).toMatchObject({ status: 'ordinal', ordinal: 'more', reference: 8 })
    await page.findAll('.questions button')[0]?.trigger('click')
    press('i')
    await settle()
    expect(puts(asked)[2]).toMatchObject({ attribute: 'shape', status: 'inferred' })
  })

  it('measures with a decimal comma, u and instrument; counts without', async () => {
    const asked = serve({ ...answers, 'PUT /api/v1/samples/7/teardown/': stored })
    const { page } = await open()
    press('ArrowDown')
    await settle()
    const inputs = page.findAll('.measure input')
    await inputs[0]?.setValue('21,2')
    await inputs[1]?.setValue('0.01')
    await page.get('.measure').trigger('submit')
    await settle()
    expect(puts(asked)[0]).toMatchObject({
      status: 'measured',
      value: 21.2,
      u: 0.01,
      instrument: 'calliper',
    })
    await page.get('.measure input').setValue('14')
    await page.get('.measure').trigger('submit')
    await settle()
    expect(puts(asked)[1]).toMatchObject({
      attribute: 'pole_count',
      status: 'observed',
      value: 14,
      u: null,
    })
  })

  it.each([
    ['tight', 'Write a number'],
    ['212', 'check the unit'],
  ])('does not send %s', async (text, says) => {
    const asked = serve({ ...answers, 'PUT /api/v1/samples/7/teardown/': stored })
    const { page } = await open()
    press('ArrowDown')
    await settle()
    await page.get('.measure input').setValue(text)
    await page.get('.measure').trigger('submit')
    await settle()
    expect(page.get('.question [role=alert]').text()).toContain(says)
    expect(puts(asked)).toHaveLength(0)
    expect((page.get('.measure input').element as HTMLInputElement).value).toBe(text)
  })

  it('keeps what is half typed over a reload, per question', async () => {
    serve(answers)
    const first = await open()
    press('ArrowDown')
    await settle()
    await first.page.get('.measure input').setValue('21.')
    await settle()
    first.page.unmount()
    const { page } = await open()
    press('ArrowDown')
    await settle()
    expect((page.get('.measure input').element as HTMLInputElement).value).toBe('21.')
  })

  it('goes on while the server is away and sends what waits when it is back', async () => {
    serve(answers)
    const { page } = await open()
    press('1')
    await settle()
    expect(page.get('.question h2').text()).toBe('diameter')
    expect(page.get('[role=status].away').text()).toContain('1 answer waits here')
    expect(page.text()).toContain('arc · not sent')
    const asked = serve({ ...answers, 'PUT /api/v1/samples/7/teardown/': stored })
    window.dispatchEvent(new Event('online'))
    await settle()
    await vi.waitFor(() => expect(page.find('.away').exists()).toBe(false))
    expect(puts(asked)).toHaveLength(1)
  })

  it('shows two versions field by field when somebody else answered first', async () => {
    const current = {
      version: 5,
      who: 'Tomas',
      at: null,
      values: { status: 'observed', choice: 'flat', note: 'looked twice' },
    }
    serve({
      ...answers,
      'PUT /api/v1/samples/7/teardown/': refusal(409, 'x', { code: 'changed_meanwhile', current }),
    })
    const { page } = await open()
    press('1')
    await settle()
    expect(page.get('.merge').text()).toContain('Tomas changed this')
    const asked = serve({ ...answers, 'PUT /api/v1/samples/7/teardown/': stored })
    for (const radio of page.findAll('.merge input[value=mine]')) await radio.setValue(true)
    await page
      .findAll('.merge button')
      .find((b) => b.text() === 'Keep these')
      ?.trigger('click')
    await settle()
    expect(puts(asked)[0]).toMatchObject({ choice: 'arc', version: 5 })
    expect(page.find('.merge').exists()).toBe(false)
  })

  it('sends a number from the version it was begun from, not from a later one', async () => {
    const old = seen('diameter', { sample: 7, status: 'measured', value: 21.2, version: 3 })
    serve({ ...answers, 'GET /api/v1/samples/7/teardown/': { ...empty, observations: [old] } })
    const first = await open()
    press('ArrowDown')
    await settle()
    await first.page.get('.measure input').setValue('21.4')
    await settle()
    first.page.unmount()
    const newer = { ...old, value: 22, version: 4 }
    const asked = serve({
      ...answers,
      'GET /api/v1/samples/7/teardown/': { ...empty, observations: [newer] },
      'PUT /api/v1/samples/7/teardown/': stored,
    })
    const { page } = await open()
    press('ArrowDown')
    await settle()
    await page.get('.measure').trigger('submit')
    await settle()
    expect(puts(asked)[0]).toMatchObject({ value: 21.4, version: 3 })
  })

  it('leaves out what does not apply, with the reason', async () => {
    serve({
      ...answers,
      'GET /api/v1/samples/7/teardown/': {
        ...empty,
        not_applicable: [{ attribute: 'shape', reason: 'a brushed can has no bell' }],
      },
    })
    const { page } = await open()
    expect(page.get('.question h2').text()).toBe('diameter')
    expect(page.get('.reason').text()).toContain('a brushed can has no bell')
  })

  it('shows the usual cautions, and to a reader no buttons', async () => {
    serve({ ...answers, 'GET /api/v1/session/': session('reader') })
    const { page } = await open()
    expect(page.get('.caution').text()).toContain('eye protection')
    expect(page.find('.answers').exists()).toBe(false)
  })
})

describe('photos', () => {
  const photo = {
    id: 4,
    sample: 7,
    attribute: 'shape',
    caption: 'from below',
    width_px: 10,
    height_px: 8,
    size_bytes: 9,
    taken_off: false,
    uploaded_at: '',
    uploaded_by_name: 'Ilse',
    image: '/api/v1/photos/4/picture/',
    thumbnail: '/api/v1/photos/4/picture/?small=1',
  }
  const props = { sample: 7, mark: 'A' }
  async function choose(page: Awaited<ReturnType<typeof show>>['page'], file: File) {
    const input = page.get('input[type=file]')
    Object.defineProperty(input.element, 'files', { value: [file], configurable: true })
    await input.trigger('change')
    await settle()
  }

  it('are shown with their caption, and sent as they were chosen', async () => {
    const asked = serve({
      ...answers,
      'GET /api/v1/samples/7/photos/': [photo],
      'POST /api/v1/samples/7/photos/': photo,
    })
    const { page } = await show(PhotoStrip, { props: { ...props, attribute: 'shape' } })
    expect(page.get('img').attributes('alt')).toBe('from below')
    await choose(page, new File(['x'], 'a.jpg', { type: 'image/jpeg' }))
    const form = asked.find((a) => a.method === 'POST')?.body as FormData
    expect(form.get('attribute')).toBe('shape')
  })

  it('that are none are said so beside the field, before anything is sent', async () => {
    const asked = serve(answers)
    const { page } = await show(PhotoStrip, { props })
    await choose(page, new File(['x'], 'a.pdf', { type: 'application/pdf' }))
    expect(page.get('[role=alert]').text()).toBe('This is not a picture.')
    expect(asked.some((a) => a.method === 'POST')).toBe(false)
  })

  it('say why the server refused them', async () => {
    serve({
      ...answers,
      'POST /api/v1/samples/7/photos/': refusal(400, 'The picture is damaged.'),
    })
    const { page } = await show(PhotoStrip, { props })
    await choose(page, new File(['x'], 'a.jpg', { type: 'image/jpeg' }))
    expect(page.get('[role=alert]').text()).toBe('The picture is damaged.')
  })

  it('can be taken off and put back', async () => {
    const asked = serve({
      ...answers,
      'GET /api/v1/samples/7/photos/': [photo],
      'PATCH /api/v1/photos/4/': photo,
    })
    const { page } = await show(PhotoStrip, { props })
    await page.get('.thumb').trigger('click')
    const button = (text: string) => page.findAll('button').find((b) => b.text() === text)
    await button('Take it off')?.trigger('click')
    await settle()
    await button('Put it back')?.trigger('click')
    await settle()
    expect(asked.filter((a) => a.method === 'PATCH').map((a) => a.body)).toEqual([
      { taken_off: true },
      { taken_off: false },
    ])
  })
})
