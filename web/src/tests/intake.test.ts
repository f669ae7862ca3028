/** A motor's intake as one uses it: parcel, claims, mass, outside, fit, peers. */
import { enableAutoUnmount } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import type { Component } from 'vue'
import BoxTable from '@/features/intake/BoxTable.vue'
import ClaimStep from '@/features/intake/ClaimStep.vue'
import FitStep from '@/features/intake/FitStep.vue'
import MassStep from '@/features/intake/MassStep.vue'
import MotorIntakePage from '@/features/intake/MotorIntakePage.vue'
import OutsideStep from '@/features/intake/OutsideStep.vue'
import ParcelSheet from '@/features/intake/ParcelSheet.vue'
import PeersStep from '@/features/intake/PeersStep.vue'
import AgainstSheet from '@/features/motor_file/AgainstSheet.vue'
import IncidentSheet from '@/features/motor_file/IncidentSheet.vue'
import PhotoStrip from '@/features/photos/PhotoStrip.vue'
import HubRow from '@/features/rig/HubRow.vue'
import {
  aMotorFile,
  alerts,
  anAttribute,
  pick,
  refusal,
  serve,
  session,
  settle,
  show,
} from './mounting'

// Keys are listened for on the window: a page of an earlier test must not hear them.
enableAutoUnmount(afterEach)
afterEach(() => {
  serve({})
  localStorage.clear()
  document.body.innerHTML = ''
})

const number = (key: string, label: string, unit: string, high: number) => ({
  key,
  label,
  unit,
  low: 0.5,
  high,
  words: false,
  expected: false,
})
const base = {
  'GET /api/v1/session/': session(),
  'GET /api/v1/claim-quantities/': [
    number('mass_g', 'Mass', 'g', 2000),
    number('max_current_a', 'Rated current', 'A', 500),
    { ...number('bearings', 'Bearings', '', 0), words: true },
  ],
  'GET /api/v1/teardown/vocabulary/': {
    version: 3,
    steps: ['Magnets'],
    outside_step: 'Outside',
    attributes: [
      anAttribute('total_height', { label: 'Height over all', unit: 'mm', low: 4, high: 200 }),
      anAttribute('body_height', { label: 'Height of the body', unit: 'mm', low: 3, high: 150 }),
      anAttribute('lead_gauge', {
        label: 'Gauge of the leads',
        unit: 'AWG',
        integer: true,
        low: 10,
        high: 34,
      }),
      anAttribute('prop_hold', {
        label: 'What holds the propeller',
        choices: [{ key: 'nut', label: 'a nut', suggests: '', helps: [], costs: [] }],
      }),
    ],
  },
  'GET /api/v1/samples/7/teardown/': { observations: [], findings: [], not_applicable: [] },
  'GET /api/v1/motors/3/': aMotorFile(),
}
/** Bodies of the requests that write; a late check of typed claims is none. */
const body = (asked: { method: string; path: string; body: unknown }[], method: string) =>
  asked
    .filter((a) => a.method === method && !a.path.endsWith('claim-check/'))
    .map((a) => a.body as Record<string, unknown>)
type Page = Awaited<ReturnType<typeof show>>['page']
const value = (page: Page, selector: string) =>
  (page.get(selector).element as HTMLInputElement).value

describe('claims', () => {
  const remark = { code: 'implied_voltage', state: 'odd', message: 'implies 9 V.' }
  const answers = { ...base, 'POST /api/v1/motors/3/claim-check/': [remark] }

  it('are checked while they are typed, before anything is stored', async () => {
    const asked = serve(answers)
    const { page } = await show(ClaimStep, { props: { file: aMotorFile() } })
    await page.get('#claim-max_current_a').setValue('26,5')
    await vi.waitFor(() => {
      const check = asked.findLast((a) => a.path.endsWith('claim-check/'))?.body as {
        claims: unknown
      }
      expect(check?.claims).toEqual([
        { quantity: 'max_current_a', value: 26.5, words: '', source: 'box label' },
      ])
    })
    await vi.waitFor(() => expect(page.text()).toContain('implies 9 V.'))
    expect(page.text()).toContain('claims, not measurements')
    expect(asked.some((a) => a.path === '/api/v1/motors/3/claims/')).toBe(false)
  })

  it('are kept with Enter, which goes on to the next line', async () => {
    const asked = serve({ ...answers, 'POST /api/v1/motors/3/claims/': {} })
    const { page } = await show(ClaimStep, { props: { file: aMotorFile() } })
    await page.get('#claim-mass_g').setValue('30.1')
    await page.get('#claim-mass_g').trigger('keydown', { key: 'Enter' })
    await settle()
    expect(asked.find((a) => a.path === '/api/v1/motors/3/claims/')?.body).toMatchObject({
      quantity: 'mass_g',
      value: 30.1,
      source: 'box label',
    })
    expect(document.activeElement?.id).toBe('claim-max_current_a')
  })

  it('say a wrong unit beside the field, keep it, and store nothing', async () => {
    const asked = serve({ ...answers, 'POST /api/v1/motors/3/claims/': {} })
    const { page } = await show(ClaimStep, { props: { file: aMotorFile() } })
    await page.get('#claim-mass_g').setValue('28000')
    await page.get('#claim-mass_g').trigger('blur')
    await settle()
    expect(page.get('#said-mass_g').text()).toContain('check the unit')
    expect(page.get('#claim-mass_g').attributes('aria-invalid')).toBe('true')
    expect(asked.some((a) => a.path === '/api/v1/motors/3/claims/')).toBe(false)
    page.unmount()
    const again = await show(ClaimStep, { props: { file: aMotorFile() } })
    expect(value(again.page, '#claim-mass_g')).toBe('28000')
  })

  it('are sent from the version the typing was begun from, also to take one off', async () => {
    const claim = (version: number, value: number) => ({
      id: 1,
      quantity: 'mass_g',
      label: 'Mass',
      value,
      words: '',
      unit: 'g',
      source: 'box label',
      version,
    })
    serve(answers)
    const { page } = await show(ClaimStep, {
      props: { file: aMotorFile({ claims: [claim(2, 30)] }) },
    })
    await page.get('#claim-mass_g').setValue('32')
    const asked = serve({ ...answers, 'POST /api/v1/motors/3/claims/': {} })
    await page.setProps({ file: aMotorFile({ claims: [claim(3, 31)] }) })
    await page.get('#claim-mass_g').trigger('blur')
    await settle()
    expect(asked.find((a) => a.path === '/api/v1/motors/3/claims/')?.body).toMatchObject({
      value: 32,
      version: 2,
    })
  })

  it('offer both when somebody else wrote first', async () => {
    const current = { version: 3, who: 'Tomas', at: null, values: { value: 31, words: '' } }
    const file = aMotorFile({
      claims: [
        {
          id: 1,
          quantity: 'mass_g',
          label: 'Mass',
          value: 30,
          words: '',
          unit: 'g',
          source: 'box label',
          version: 2,
        },
      ],
    })
    serve({
      ...answers,
      'POST /api/v1/motors/3/claims/': refusal(409, 'x', { code: 'changed_meanwhile', current }),
    })
    const { page } = await show(ClaimStep, { props: { file } })
    await page.get('#claim-mass_g').setValue('32')
    await page.get('#claim-mass_g').trigger('blur')
    await settle()
    expect(page.get('#said-mass_g').text()).toContain('Tomas wrote 31 meanwhile')
    const asked = serve({ ...answers, 'POST /api/v1/motors/3/claims/': {} })
    const mine = page.findAll('#said-mass_g button').find((b) => b.text() === 'Keep mine')
    await mine?.trigger('click')
    await settle()
    expect(asked.find((a) => a.path === '/api/v1/motors/3/claims/')?.body).toMatchObject({
      value: 32,
      version: 3,
    })
  })
})

describe('a parcel', () => {
  const row = () => aMotorFile().parcels[0] as object
  const props = () => ({ row: row(), number: 1, of: 1 })

  it('is written from the version that was read', async () => {
    const asked = serve({ ...base, 'PATCH /api/v1/parcels/21/': { version: 5 } })
    const { page } = await show(ParcelSheet, { props: props() })
    await page.get('#price-21').setValue('79,60')
    await page.get('#currency-21').setValue('EUR')
    await pick(page, '#per-21', 'a set')
    await page.get('#set-21').setValue('4')
    await page.get('form').trigger('submit')
    await settle()
    expect(body(asked, 'PATCH')[0]).toMatchObject({
      version: 4,
      price_amount: 79.6,
      price_currency: 'EUR',
      price_per: 'set',
      set_size: 4,
      shipping_amount: null,
      arrived_on: null,
    })
    expect(page.text()).toContain('On record.')
  })

  it.each(['79.60 EUR', 'seventy', '7O', '2,000'])(
    'never takes %s for no price: nothing is sent, and it says so beside the field',
    async (text) => {
      const asked = serve({ ...base, 'PATCH /api/v1/parcels/21/': { version: 5 } })
      const { page } = await show(ParcelSheet, { props: props() })
      await page.get('#price-21').setValue(text)
      await page.get('#currency-21').setValue('EUR')
      await page.get('form').trigger('submit')
      await settle()
      expect(body(asked, 'PATCH')).toEqual([])
      expect(alerts(page).join()).toContain('is no number')
      expect(value(page, '#price-21')).toBe(text)
    },
  )

  it('keeps what was typed and shows a refusal beside its field', async () => {
    serve({
      ...base,
      'PATCH /api/v1/parcels/21/': refusal(400, 'A price needs its currency.', {
        fields: { price_currency: ['A price needs its currency.'] },
      }),
    })
    const { page } = await show(ParcelSheet, { props: props() })
    await page.get('#price-21').setValue('20')
    await page.get('form').trigger('submit')
    await settle()
    expect(alerts(page)).toContain('A price needs its currency.')
    expect(value(page, '#price-21')).toBe('20')
    page.unmount()
    const again = await show(ParcelSheet, { props: props() })
    expect(value(again.page, '#price-21')).toBe('20')
  })

  it('takes parts with the sizes that matter to them', async () => {
    const asked = serve({ ...base, 'POST /api/v1/parcels/21/parts/': {} })
    const parcel = aMotorFile().parcels[0]?.parcel
    const { page } = await show(BoxTable, { props: { parcel } })
    expect(page.text()).toContain('Nothing noted of the box yet')
    await page.get('#count-21').setValue('8')
    await page.get('#length-21').setValue('6,5')
    await page.get('form').trigger('submit')
    await settle()
    expect(body(asked, 'POST')[0]).toEqual({
      kind: 'mounting_screw',
      count: 8,
      thread_mm: null,
      length_mm: 6.5,
    })
    await pick(page, '#part-21', 'Adapter')
    expect(page.find('#inner-21').exists()).toBe(true)
    expect(page.find('#length-21').exists()).toBe(false)
    await page.get('#count-21').setValue('two')
    await page.get('form').trigger('submit')
    expect(alerts(page).join()).toContain('whole number')
  })
})

describe('the scale', () => {
  const open = () => show(MassStep, { props: { file: aMotorFile(), sample: 7 } })

  it('takes a reading with the digits it was typed with', async () => {
    const asked = serve({ ...base, 'POST /api/v1/samples/7/weighings/': {} })
    const { page } = await open()
    await page.get('#w-mass').setValue('28,60')
    await page.get('#w-leads').setValue('140')
    await page.get('#w-mass').trigger('submit')
    await settle()
    expect(body(asked, 'POST')[0]).toMatchObject({
      mass_g: 28.6,
      resolution_g: 0.01,
      lead_length_mm: 140,
      nut_on: false,
    })
    expect(value(page, '#w-mass')).toBe('')
  })

  it('asks back about 28 kg and keeps what was typed', async () => {
    const asked = serve(base)
    const { page } = await open()
    await page.get('#w-mass').setValue('28000')
    expect(alerts(page).join()).toContain('Did you mean 28 g?')
    await page.get('#w-mass').trigger('submit')
    await settle()
    expect(body(asked, 'POST')).toEqual([])
    expect(value(page, '#w-mass')).toBe('28000')
  })

  it('strikes a mistake out with its reason', async () => {
    const asked = serve({ ...base, 'PATCH /api/v1/weighings/9/': {} })
    const file = aMotorFile()
    const weighing = {
      id: 9,
      sample: 7,
      mass_g: 48.6,
      resolution_g: 0.1,
      lead_length_mm: null,
      nut_on: true,
      connectors_on: false,
      instrument: '',
      weighed_on: '2026-10-01',
      note: '',
      struck_reason: '',
      version: 3,
    }
    Object.assign(file.masses.samples[0] as object, { weighings: [weighing] })
    const { page } = await show(MassStep, { props: { file, sample: 7 } })
    const strike = () => page.findAll('button').filter((b) => b.text() === 'Strike out')
    await strike()[0]?.trigger('click')
    await settle()
    expect(strike().at(-1)?.attributes('disabled')).toBeDefined()
    await page.get('.why input').setValue('read off wrongly')
    await page.get('.why').trigger('submit')
    await settle()
    expect(body(asked, 'PATCH')[0]).toEqual({ struck_reason: 'read off wrongly', version: 3 })
  })
})

describe('the outside', () => {
  const open = () => show(OutsideStep, { props: { file: aMotorFile(), sample: 7 } })
  const stored = (sent: unknown) => ({ id: 1, ...(sent as object), version: 1 })

  it('goes from one dimension to the next with Enter', async () => {
    const asked = serve({ ...base, 'PUT /api/v1/samples/7/teardown/': stored })
    const { page } = await open()
    await page.get('#m-total_height').setValue('31,2')
    await page.get('#m-total_height').trigger('keydown', { key: 'Enter' })
    await settle()
    expect(body(asked, 'PUT')[0]).toMatchObject({
      attribute: 'total_height',
      status: 'measured',
      value: 31.2,
      instrument: 'calliper',
    })
    expect(document.activeElement?.id).toBe('m-body_height')
    await page.get('#m-lead_gauge').setValue('20')
    await page.get('#m-lead_gauge').trigger('keydown', { key: 'Enter' })
    await settle()
    expect(body(asked, 'PUT')[1]).toMatchObject({ status: 'observed', value: 20, u: null })
  })

  it('keeps the version a dimension was begun from while somebody else measures it', async () => {
    const at = (version: number, v: number) => ({
      observations: [
        {
          id: 1,
          sample: 7,
          attribute: 'total_height',
          status: 'measured',
          value: v,
          u: null,
          version,
        },
      ],
      findings: [],
      not_applicable: [],
    })
    const path = 'GET /api/v1/samples/7/teardown/'
    serve({ ...base, [path]: at(5, 30) })
    const first = await open()
    // Typed, and the field not left: a draft, not yet an answer.
    const field = first.page.get('#m-total_height')
    ;(field.element as HTMLInputElement).value = '31'
    await field.trigger('input')
    await settle()
    first.page.unmount()
    const asked = serve({ ...base, [path]: at(6, 33), 'PUT /api/v1/samples/7/teardown/': stored })
    const { page } = await open()
    expect(value(page, '#m-total_height')).toBe('31')
    await page.get('#m-total_height').trigger('keydown', { key: 'Enter' })
    await settle()
    expect(body(asked, 'PUT')[0]).toMatchObject({ value: 31, version: 5 })
  })

  it('is typed by clicking the drawing, and follows while typing', async () => {
    serve(base)
    const { page } = await open()
    const callouts = page.findAll('.callout')
    await callouts[1]?.trigger('click')
    expect(document.activeElement?.id).toBe('m-body_height')
    await page.get('#m-body_height').setValue('18')
    expect(page.findAll('.callout')[1]?.text()).toContain('18')
    expect(page.findAll('.callout')[1]?.classes()).not.toContain('open')
  })

  it('says what cannot be beside its field and does not go on', async () => {
    serve({
      ...base,
      'PUT /api/v1/samples/7/teardown/': refusal(400, 'must be below', {
        fields: { value: ['Height of the body must be below the height over all.'] },
      }),
    })
    const { page } = await open()
    await page.get('#m-body_height').setValue('1800')
    await page.get('#m-body_height').trigger('keydown', { key: 'Enter' })
    await settle()
    expect(page.get('#f-body_height').text()).toContain('check the unit')
    await page.get('#m-body_height').setValue('40')
    await page.get('#m-body_height').trigger('keydown', { key: 'Enter' })
    await settle()
    expect(page.get('#f-body_height').text()).toContain('must be below')
    expect(value(page, '#m-body_height')).toBe('40')
    expect(document.activeElement?.id).toBe('m-body_height')
  })
})

describe('the fit', () => {
  const fit = {
    arm_thickness_mm: 4,
    thread_depth_mm: 2.5,
    clearance_mm: 1.2,
    base_thickness_mm: 2.6,
    mount_thread_mm: 3,
    screws: [
      {
        length_mm: 8,
        in_box: true,
        outcome: 'hits_winding',
        reach_mm: 4,
        engagement_mm: 2.5,
        room_mm: -0.3,
        message: 'The screw ends inside the winding.',
      },
    ],
    leads: {
      length_mm: 150,
      needed_mm: null,
      state: 'unknown',
      message: 'Cannot say: no distance given.',
    },
    shaft: {
      diameter_mm: 5,
      free_length_mm: 13,
      nut_mm: 5,
      washer_mm: 0.5,
      hole_circle_mm: null,
      screw_mm: null,
      hold: 'nut',
    },
    propellers: [
      {
        propeller: 1,
        name: 'Sallow 3x3x3',
        bore_mm: 2,
        hub_thickness_mm: 5,
        outcome: 'impossible',
        reason: '',
        rings: [],
        findings: [
          { code: 'too_tight', state: 'impossible', message: 'does not go over the shaft' },
        ],
      },
      {
        propeller: 2,
        name: 'Wickett 5.1x4.2x3',
        bore_mm: 5.02,
        hub_thickness_mm: 6,
        outcome: 'good',
        reason: '',
        rings: [],
        findings: [{ code: 'bore', state: 'good', message: '0.02 mm of play' }],
      },
    ],
  }

  it('shows every screw and every propeller with its reason, and draws them', async () => {
    serve({ ...base, 'GET /api/v1/motors/3/fit/': fit })
    const { page } = await show(FitStep, { props: { file: aMotorFile(), sample: 7 } })
    expect(page.text()).toContain('hits winding')
    expect(page.text()).toContain('does not go over the shaft')
    const drawings = page.findAll('svg[role=img]').map((svg) => svg.attributes('aria-label'))
    expect(drawings[0]).toBe('Screw of 8 mm through an arm of 4 mm: hits winding')
    expect(drawings[1]).toBe('Wickett 5.1x4.2x3 on the shaft: good')
    await page.findAll('.pick button')[1]?.trigger('click')
    expect(page.findAll('svg[role=img]')[1]?.attributes('aria-label')).toContain('impossible')
  })

  it('does not take text for a field that was left empty', async () => {
    localStorage.setItem(
      'spindle.fit',
      JSON.stringify({ arm: '5O', screw: '8', washer: '', leads: '' }),
    )
    serve(base)
    const { page } = await show(FitStep, { props: { file: aMotorFile(), sample: 7 } })
    expect(alerts(page).join()).toContain('5O')
  })

  it('asks for what is missing instead of drawing it', async () => {
    const bare = { ...fit, thread_depth_mm: null, clearance_mm: null, propellers: [] }
    serve({ ...base, 'GET /api/v1/motors/3/fit/': bare })
    const { page } = await show(FitStep, { props: { file: aMotorFile(), sample: 7 } })
    expect(page.text()).toContain('The drawing needs the thread')
    expect(page.text()).toContain('The library is empty')
  })
})

describe('peers and expectations', () => {
  it('note a number with what it is of', async () => {
    const asked = serve({ ...base, 'POST /api/v1/motors/3/expectations/': {} })
    const { page } = await show(PeersStep, { props: { file: aMotorFile() } })
    expect(page.text()).toContain('No motor on the bench is near')
    await pick(page, '#expect-of', 'Highest thrust (gf)')
    await page.get('form').trigger('submit')
    await settle()
    expect(alerts(page).join()).toContain('Write the number')
    await page.get('#expect-value').setValue('1150')
    await page.get('form').trigger('submit')
    await settle()
    expect(body(asked, 'POST')[0]).toEqual({ quantity: 'max_thrust_gf', value: 1150, text: '' })
  })
})

describe('when the server does not answer', () => {
  const away = (path: string) =>
    Object.fromEntries(Object.entries(base).filter(([key]) => !key.includes(path)))
  it.each([
    ['claims', ClaimStep, { file: aMotorFile() }, 'claim-quantities'],
    ['measures', OutsideStep, { file: aMotorFile(), sample: 7 }, 'samples/7/teardown'],
    ['photos', PhotoStrip, { sample: 7, mark: 'A' }, 'samples/7/photos'],
    ['fit', FitStep, { file: aMotorFile(), sample: 7 }, 'fit'],
  ])('%s say so and offer another try', async (_, component, props, path) => {
    serve(away(path))
    const { page } = await show(component as Component, { props })
    await vi.waitFor(() => expect(page.text()).toContain('The server cannot be reached'))
    expect(page.text()).not.toContain('No photo yet.')
  })
})

describe('the steps', () => {
  it('are reached by a digit and say which are there', async () => {
    serve({
      ...base,
      'GET /api/v1/motors/3/': aMotorFile({
        expectations: [
          { id: 1, text: 'x', noted_at: '2026-10-01T00:00:00Z', who: '', held_against: null },
        ],
      }),
    })
    const { page, path } = await show(MotorIntakePage, {
      path: '/intake/3/peers',
      at: '/intake/:id/:step?',
    })
    expect(page.get('[aria-current=step]').text()).toContain('Peers')
    expect(page.findAll('.steps .done').map((a) => a.text())).toEqual(['6 Peers there'])
    document.body.dispatchEvent(new KeyboardEvent('keydown', { key: '3', bubbles: true }))
    await settle()
    expect(path()).toBe('/intake/3/mass')
  })
})

describe('the motor file', () => {
  const figure = (v: number | null, u: number | null, reason = '') => ({
    value: v,
    u,
    n: 1,
    origin: 'measured',
    reason,
    assumed: u === 9,
  })
  it('holds claims against measurements and says what is not told apart', async () => {
    serve(base)
    const against = (label: string, resolved: boolean, off: number | null) => ({
      quantity: label,
      label,
      unit: 'rpm/V',
      said: 1900,
      source: 'label',
      measured: figure(off === null ? null : 1800, 9, 'no run without a propeller'),
      measured_from: '',
      deviation_pct: figure(off, 0.5, 'x'),
      resolved,
      reached_pct: figure(null, null, 'no limit'),
    })
    const rating = {
      ...against('Rated current', false, 0),
      deviation_pct: figure(null, null, 'a rating is a limit'),
      reached_pct: figure(80.2, 1.0),
    }
    const file = aMotorFile({
      against_claims: [
        against('kV', true, -5.3),
        against('Other', false, 0.4),
        against('None', false, null),
        rating,
      ],
      claims: [
        {
          id: 1,
          quantity: 'bearings',
          label: 'Bearings',
          value: null,
          words: 'sealed',
          unit: '',
          source: 'box',
          version: 1,
        },
      ],
    })
    const { page } = await show(AgainstSheet, { props: { file } })
    const rows = page.findAll('tbody tr').map((row) => row.text())
    expect(rows[0]).toContain('differs')
    expect(rows[1]).toContain('not told apart')
    expect(rows[2]).toContain('no run without a propeller')
    // A rating is a limit: the share that was reached is told, and no deviation.
    expect(rows[3]).toContain('80.2')
    expect(rows[3]).toContain('of the rating reached')
    expect(rows[3]).not.toContain('differs')
    expect(rows[4]).toContain('sealed')
    expect(rows[0]).toContain('partly assumed')
  })

  it('notes an incident', async () => {
    const asked = serve({ ...base, 'POST /api/v1/samples/8/incidents/': {} })
    const { page } = await show(IncidentSheet, { props: { file: aMotorFile() } })
    await page.findAll('button').at(-1)?.trigger('click')
    const [sample, kind] = page.findAll('[role=combobox]')
    await pick(page, `#${sample?.attributes('id')}`, 'B')
    await pick(page, `#${kind?.attributes('id')}`, 'Burnt winding')
    await page.get('input[type=checkbox]').setValue(true)
    await page.get('form').trigger('submit')
    await settle()
    expect(body(asked, 'POST')[0]).toEqual({ kind: 'burnt_winding', destroyed: true, note: '' })
  })
})

describe("a propeller's hub", () => {
  const propeller = {
    id: 2,
    full_name: 'Wickett',
    diameter_in: 5,
    bore_mm: null,
    hub_thickness_mm: 6,
    hole_circle_mm: null,
    hole_mm: null,
  }
  it('is kept when a field is left, and only when it changed', async () => {
    const asked = serve({ ...base, 'PATCH /api/v1/propellers/2/': {} })
    const { page } = await show(HubRow, { props: { propeller } })
    const [bore, hub] = page.findAll('input')
    await hub?.trigger('change')
    await bore?.setValue('5,03')
    await bore?.trigger('change')
    await settle()
    expect(body(asked, 'PATCH').at(0)).toEqual({ bore_mm: 5.03 })
    await bore?.setValue('wide')
    await bore?.trigger('change')
    expect(page.get('[role=alert]').text()).toContain('A number in mm')
  })
})
