/** The rig as one uses it: what is unknown, what is changed, a check mass, a calibration, a day. */
import { afterEach, describe, expect, it, vi } from 'vitest'
import BenchDayForm from '@/features/rig/BenchDayForm.vue'
import BenchDay from '@/features/rig/BenchDay.vue'
import CalibrationSheet from '@/features/rig/CalibrationSheet.vue'
import CheckMass from '@/features/rig/CheckMass.vue'
import GeometrySheet from '@/features/rig/GeometrySheet.vue'
import InstrumentTable from '@/features/rig/InstrumentTable.vue'
import PropellerAdder from '@/features/rig/PropellerAdder.vue'
import StandLook from '@/features/rig/StandLook.vue'
import SupplyLook from '@/features/rig/SupplyLook.vue'
import { alerts, pick, refusal, serve, session, settle, show } from './mounting'

afterEach(() => {
  serve({})
  localStorage.clear()
  document.body.innerHTML = ''
})

const SESSION = { 'GET /api/v1/session/': session() }
const page = <T>(results: T[]) => ({ count: results.length, next: null, results })
const check = (rest: object = {}) => ({
  id: 1,
  checked_at: '2026-10-05T08:00:00Z',
  mass_g: 500,
  reading_g: 501,
  step_g: 1,
  thrust_gf: 501,
  difference_gf: 1,
  u_gf: 4,
  moved: false,
  sentence: '500 g shows as 501 gf: +1 gf, u 4 gf, as its uncertainty allows.',
  note: '',
  struck_reason: '',
  version: 1,
  ...rest,
})
const stand = (rest: object = {}) => ({
  id: 4,
  name: 'Lever and scale',
  kind: 'lever',
  repeatability_rel: null,
  calibration_rel: null,
  thrust_u_rel: null,
  assumed_words: 'thrust ±1 % (load cell)',
  calibrated_on: null,
  remind_on: null,
  last_check: null,
  live: false,
  note: '',
  retired: false,
  version: 3,
  states: [],
  instruments: [],
  calibrations: [],
  checks: [],
  ...rest,
})
const bodies = (asked: { method: string; path: string; body: unknown }[], path: string) =>
  asked.filter((one) => one.method !== 'GET' && one.path.endsWith(path)).map((one) => one.body)
const button = (root: ParentNode, text: string) =>
  [...root.querySelectorAll('button')].find((one) => one.textContent?.trim().startsWith(text))

describe('supplies', () => {
  const pack = {
    id: 9,
    name: 'Old one',
    kind: 'pack',
    nominal_voltage_v: null,
    open_circuit_v: null,
    resistance_ohm: null,
    assumed_ohm: null,
    assumed_words: '',
    trip_a: null,
    folds_back: false,
    limit_a: null,
    chemistry: 'lipo',
    cells: null,
    capacity_mah: null,
    rate_c: null,
    cycles: null,
    floor_v: null,
    note: '',
    retired: false,
    version: 2,
  }
  const answers = { ...SESSION, 'GET /api/v1/supplies/': page([pack]) }

  it('shows what is not known as a dash with its reason, never as 0', async () => {
    serve(answers)
    const { page: look } = await show(SupplyLook)
    const reasons = look.findAll('.absent').map((one) => one.attributes('data-reason'))
    expect(reasons).toContain('its cells are not known')
    expect(reasons).toContain('not measured, and nothing to assume it from')
    expect(look.find('tbody').text()).not.toMatch(/\b0\b/)
  })

  it('adds a pack of which only the name is known', async () => {
    const asked = serve({ ...answers, 'POST /api/v1/supplies/': { ...pack, version: 1 } })
    const { page: look } = await show(SupplyLook)
    button(look.element, 'Another supply')?.click()
    await settle()
    const form = look.findAll('form').at(-1)
    const inputs = form?.findAll('input') ?? []
    await inputs[0]?.setValue('From the shed')
    await pick(look, `#${inputs[1]?.attributes('id')}`, 'Pack')
    await form?.trigger('submit')
    await settle()
    expect(bodies(asked, 'supplies/')[0]).toMatchObject({
      name: 'From the shed',
      kind: 'pack',
      cells: null,
      resistance_ohm: null,
    })
  })

  it('keeps what was typed where it is no number, and sends nothing', async () => {
    const asked = serve(answers)
    const { page: look } = await show(SupplyLook)
    await look.get('.el-table__expand-icon').trigger('click')
    await settle()
    const form = look.get('.change form')
    const cells = form
      .findAll('input')
      .find((one) => (one.element as HTMLInputElement).placeholder === 'unknown')
    await cells?.setValue('four')
    await form.trigger('submit')
    await settle()
    expect(alerts(look).join()).toContain('four')
    expect((cells?.element as HTMLInputElement).value).toBe('four')
    expect(bodies(asked, 'supplies/9/')).toEqual([])
  })

  it('joins packs into one, and says beside them what must not be joined', async () => {
    const known = { ...pack, cells: 4, capacity_mah: 1500, nominal_voltage_v: 14.8 }
    const rows = [
      { ...known, id: 1, name: 'One' },
      { ...known, id: 2, name: 'Two' },
      { ...pack, id: 3, name: 'Unknown' },
      { ...known, id: 4, name: 'Gone', retired: true },
      {
        ...known,
        id: 5,
        name: 'Both',
        joined: 'series',
        packs: [
          { id: 1, name: 'One' },
          { id: 2, name: 'Two' },
        ],
        limit_a: 90,
        limited_by: 'One',
      },
    ]
    let refuse = true
    const said = 'Packs of different chemistry must not be joined.'
    const asked = serve({
      ...SESSION,
      'GET /api/v1/supplies/': page(rows),
      'POST /api/v1/supplies/': () =>
        refuse ? refusal(400, said, { fields: { packs: [said] } }) : rows[4],
    })
    const { page: look } = await show(SupplyLook)
    expect(look.text()).toContain('One + Two, in series')
    expect(look.text()).toContain('by One')
    button(look.element, 'Join packs')?.click()
    await settle()
    const form = look.findAll('form').at(-1)
    const inputs = form?.findAll('input') ?? []
    await inputs[0]?.setValue('Both')
    await pick(look, `#${inputs[1]?.attributes('id')}`, 'In parallel')
    // Only single packs whose cells and capacity are known, and that are in use.
    await expect(pick(look, `#${inputs[2]?.attributes('id')}`, 'Gone')).rejects.toThrow(
      'among One,Two',
    )
    await pick(look, `#${inputs[2]?.attributes('id')}`, 'One')
    expect(button(look.element, 'Join')?.hasAttribute('disabled')).toBe(false)
    await pick(look, `#${inputs[2]?.attributes('id')}`, 'Two')
    await form?.trigger('submit')
    await settle()
    expect(alerts(look)).toContain(said)
    refuse = false
    await form?.trigger('submit')
    await settle()
    expect(bodies(asked, 'supplies/')[1]).toEqual({
      name: 'Both',
      kind: 'pack',
      joined: 'parallel',
      packs: [1, 2],
    })
    expect(look.text()).not.toContain('each checked with a meter first')
  })

  it('retires with the version it was read at', async () => {
    const asked = serve({ ...answers, 'PATCH /api/v1/supplies/9/': { ...pack, retired: true } })
    const { page: look } = await show(SupplyLook)
    await look.get('.el-table__expand-icon').trigger('click')
    await settle()
    button(look.element, 'Retire')?.click()
    await settle()
    expect(bodies(asked, 'supplies/9/')[0]).toEqual({ retired: true, version: 2 })
  })
})

it('says why a supply could not be retired', async () => {
  const row = {
    id: 9,
    name: 'Old one',
    kind: 'pack',
    retired: false,
    version: 2,
    chemistry: 'lipo',
  }
  serve({
    ...SESSION,
    'GET /api/v1/supplies/': page([row]),
    'PATCH /api/v1/supplies/9/': refusal(409, 'Tomas changed this while you were writing.'),
  })
  const { page: look } = await show(SupplyLook)
  await look.get('.el-table__expand-icon').trigger('click')
  await settle()
  button(look.element, 'Retire')?.click()
  await settle()
  expect(alerts(look).join()).toContain('Tomas changed this')
})

describe('a stand', () => {
  it('says what is assumed where nobody declared it', async () => {
    serve({
      ...SESSION,
      'GET /api/v1/stands/': page([stand()]),
      'GET /api/v1/stands/4/': stand(),
    })
    const { page: look } = await show(StandLook)
    expect(look.text()).toContain('assumed: thrust ±1 % (load cell)')
    expect(look.text()).toContain('never checked')
  })

  it('notes a check mass with the step that was read, and says that the stand moved', async () => {
    const moved = check({ moved: true, sentence: '500 g shows as 514 gf. More than u explains.' })
    const asked = serve({ ...SESSION, 'POST /api/v1/stands/4/checks/': moved })
    const { page: look } = await show(CheckMass, { props: { stand: stand() } })
    const [mass, reading] = look.findAll('input')
    await mass?.setValue('500')
    await reading?.setValue('514.5')
    await look.get('form').trigger('submit')
    await settle()
    expect(bodies(asked, 'checks/')[0]).toEqual({ mass_g: 500, reading_g: 514.5, step_g: 0.1 })
    expect((mass?.element as HTMLInputElement).value).toBe('500')
    expect((reading?.element as HTMLInputElement).value).toBe('')
    await look.setProps({ stand: stand({ checks: [check(), moved] }) })
    expect(look.get('.doubt').text()).toContain('More than u explains')
    expect(look.findAll('path.moved')).toHaveLength(1)
    expect(look.findAll('circle.held')).toHaveLength(1)
  })

  it('says in words how thrust becomes a reading', async () => {
    serve(SESSION)
    const state = {
      id: 1,
      valid_from: '2026-09-01',
      motor_arm_mm: 168,
      scale_arm_mm: 112,
      arm_u_mm: null,
      lifts: false,
      rest_g: 0,
      step_g: 1,
      weights: [{ name: 'plate', mass_g: 131, u_g: null }],
      ratio: 0.667,
      added_g: 131,
      note: '',
      version: 1,
    }
    const { page: look } = await show(GeometrySheet, {
      props: { stand: stand({ states: [state] }) },
    })
    expect(look.text()).toContain('thrust = (reading + 131 g (plate)) × 112 mm ÷ 168 mm')
    expect(look.text()).toContain('good to 1 mm (assumed)')
    await look.setProps({ stand: stand({ states: [{ ...state, lifts: true, rest_g: 3000 }] }) })
    expect(look.text()).toContain('(3,000 g − reading + 131 g (plate)) ×')
  })

  it('does not keep weights whose sum was added up wrong', async () => {
    const asked = serve({ ...SESSION, 'POST /api/v1/stands/4/states/': {} })
    const { page: look } = await show(GeometrySheet, { props: { stand: stand() } })
    button(look.element, 'Changed since')?.click()
    await settle()
    const field = (label: string) =>
      look.findAll('.field-row').find((one) => one.text().startsWith(label))
    for (const [name, grams] of [
      ['plate', '131'],
      ['clamp', '92'],
    ]) {
      await field('Weight')?.get('input').setValue(name)
      await field('Weighs')?.get('input').setValue(grams)
      button(look.element, 'One more weight')?.click()
      await settle()
    }
    await field('Their sum')?.get('input').setValue('232')
    expect(alerts(look).join()).toContain('make 223.0 g, not 232 g')
    expect(button(look.element, 'Keep this geometry')?.disabled).toBe(true)
    await field('Their sum')?.get('input').setValue('223')
    await look.get('form').trigger('submit')
    await settle()
    const [sent] = bodies(asked, 'states/') as { weights: object[] }[]
    expect(sent?.weights).toEqual([
      { name: 'plate', mass_g: 131, u_g: null },
      { name: 'clamp', mass_g: 92, u_g: null },
    ])
  })

  it('names an instrument, with what nobody knows as unknown', async () => {
    const asked = serve({ ...SESSION, 'POST /api/v1/stands/4/instruments/': { version: 1 } })
    const { page: look } = await show(InstrumentTable, { props: { stand: stand() } })
    const inputs = look.findAll('form input')
    await pick(look, `#${inputs[0]?.attributes('id')}`, 'Current')
    await pick(look, `#${inputs[1]?.attributes('id')}`, 'Watt meter')
    await look.get('form').trigger('submit')
    await settle()
    expect(bodies(asked, 'instruments/')[0]).toEqual({
      channel: 'current_a',
      kind: 'watt_meter',
      step: null,
      range_to: null,
      relative_u: null,
      keeps: 'live',
      signal: 'own',
    })
  })
})

describe('a calibration', () => {
  const fit = {
    gain: 1.03,
    u_gain: 0.001,
    offset_gf: 0.5,
    u_offset_gf: 0.4,
    linearity_gf: 1.2,
    hysteresis_gf: null,
    repeatability_gf: null,
    largest_g: 1000,
    relative_u: 0.0175,
    residuals_gf: [0.1, -0.2, 0.1],
    remarks: ['The stand shows 3 % too much.'],
  }

  it('is looked at while it is typed, knows when it goes down, and is kept as it was read', async () => {
    const asked = serve({
      ...SESSION,
      'POST /api/v1/stands/4/calibration-trial/': fit,
      'POST /api/v1/stands/4/calibrations/': {},
    })
    const { page: look } = await show(CalibrationSheet, { props: { stand: stand() } })
    button(look.element, 'Calibrate')?.click()
    await settle()
    for (const [mass, reading] of [
      ['0', '0'],
      ['1000', '1030'],
      ['500', '517'],
      ['0', '1'],
    ]) {
      const [first, second] = look.findAll('.new form input')
      await first?.setValue(mass)
      await second?.setValue(reading)
      await look.get('.new form').trigger('submit')
      await settle()
    }
    await vi.waitFor(() => expect(look.text()).toContain('3 % too much'))
    await look.findAll('.new form').at(-1)?.trigger('submit')
    await settle()
    const [sent] = bodies(asked, 'calibrations/') as { loads: { going: string }[] }[]
    expect(sent?.loads.map((load) => load.going)).toEqual(['up', 'up', 'down', 'down'])
    expect(sent).toMatchObject({ step_g: 1, masses_relative_u: null, remind_on: null })
  })

  it('outlives a reload half typed', async () => {
    serve({ ...SESSION, 'POST /api/v1/stands/4/calibration-trial/': fit })
    const first = await show(CalibrationSheet, { props: { stand: stand() } })
    button(first.page.element, 'Calibrate')?.click()
    await settle()
    const [mass, reading] = first.page.findAll('.new form input')
    await mass?.setValue('200')
    await reading?.setValue('201')
    await first.page.get('.new form').trigger('submit')
    await settle()
    first.page.unmount()
    const again = await show(CalibrationSheet, { props: { stand: stand() } })
    expect(again.page.text()).toContain('200 g: 201 g')
  })
})

describe('a propeller as it is written', () => {
  const reading = (rest: object) => ({
    diameter_in: 25,
    pitch_in: 4,
    blades: null,
    certain: false,
    how: '25 × 4 inch',
    fits: null,
    there: '',
    ...rest,
  })
  const readings = 'GET /api/v1/propellers/readings/'
  async function write(answers: object[]) {
    serve({ ...SESSION, [readings]: answers })
    const { page: look } = await show(PropellerAdder)
    await look.get('input').setValue('2540')
    return look
  }
  const typed = (look: Awaited<ReturnType<typeof write>>) =>
    look.findAll('input').map((one) => (one.element as HTMLInputElement).value)

  it('asks where it can mean two, and takes neither by itself', async () => {
    const look = await write([reading({}), reading({ diameter_in: 2.5, how: '2.5 × 4 inch' })])
    await vi.waitFor(() => expect(look.text()).toContain('Choose which'))
    expect(typed(look)[3]).toBe('')
    button(look.element, '2.5 × 4')?.click()
    await settle()
    expect(typed(look).slice(3)).toEqual(['2.5', '4', ''])
  })

  it('proposes the one that fits the motor in hand', async () => {
    const look = await write([
      reading({ fits: false }),
      reading({ diameter_in: 2.5, how: '2.5 × 4 inch', fits: true }),
    ])
    await vi.waitFor(() => expect(typed(look)[3]).toBe('2.5'))
  })
})

describe('a bench day', () => {
  const day = (rest: object = {}) => ({
    day: '2026-10-05',
    people: 'Ilse',
    air_temp_c: 21,
    air_pressure_hpa: null,
    height_m: 500,
    pressure_hpa: 954.6,
    pressure_u_hpa: 10,
    air_humidity_pct: null,
    stand: null,
    stand_name: '',
    esc: null,
    esc_name: '',
    command_source: 'unknown',
    note: '',
    touches: [],
    version: 2,
    ...rest,
  })
  const answers = {
    ...SESSION,
    'GET /api/v1/bench-days/today/': day({ touches: [11, 12] }),
    'GET /api/v1/stands/': page([stand({ last_check: check({ moved: true }) })]),
    'GET /api/v1/escs/': page([]),
  }

  it('asks what becomes of the runs that took from it', async () => {
    const asked = serve({
      ...answers,
      'PUT /api/v1/bench-days/today/': (body: unknown) =>
        (body as { with_runs: boolean | null }).with_runs === null
          ? refusal(400, '2 of the day’s runs took this from it: 11, 12.', { code: 'touches_runs' })
          : day({ air_temp_c: 25, version: 3 }),
    })
    const { page: look } = await show(BenchDayForm)
    expect(look.text()).toContain('955 ± 10 hPa')
    await look.findAll('input')[1]?.setValue('25')
    await look.get('form').trigger('submit')
    await settle()
    expect(alerts(look).join()).toContain('11, 12')
    button(look.element, 'They keep theirs')?.click()
    await settle()
    const sent = bodies(asked, 'today/') as object[]
    expect(sent.at(-1)).toMatchObject({ with_runs: false, air_temp_c: 25, version: 2 })
    expect(look.emitted('done')).toHaveLength(1)
  })

  it('does not send a temperature that is none, and says so', async () => {
    const asked = serve(answers)
    const { page: look } = await show(BenchDayForm)
    await look.findAll('input')[1]?.setValue('warm')
    await look.get('form').trigger('submit')
    await settle()
    expect(alerts(look).join()).toContain('warm')
    expect(bodies(asked, 'today/')).toEqual([])
  })

  it('is a line on the Board, with what is in doubt of the stand', async () => {
    serve(answers)
    const { page: look } = await show(BenchDay)
    await settle()
    expect(look.text()).toContain('Ilse · 21.0 °C, ~955 hPa')
    expect(look.text()).toContain('Lever and scale has moved since its calibration')
  })
})
