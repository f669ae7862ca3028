/** A motor's intake as one uses it: parcel, claims, the scale, peers. */
import { afterEach, describe, expect, it, vi } from 'vitest'
import BoxTable from '@/features/intake/BoxTable.vue'
import ClaimStep from '@/features/intake/ClaimStep.vue'
import MassStep from '@/features/intake/MassStep.vue'
import MotorIntakePage from '@/features/intake/MotorIntakePage.vue'
import ParcelSheet from '@/features/intake/ParcelSheet.vue'
import PeersStep from '@/features/intake/PeersStep.vue'
import { base, body, value } from './intakeServer'
import { aMotorFile, alerts, pick, refusal, serve, settle, show } from './mounting'

// Keys are listened for on the window: a page of an earlier test must not hear them.
afterEach(() => {
  serve({})
  localStorage.clear()
  document.body.innerHTML = ''
})

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

describe('what is taken off', () => {
  it('can be put back while it is said', async () => {
    const part = {
      id: 5,
      version: 2,
      kind: 'mounting_screw',
      count: 4,
      thread_mm: 3,
      length_mm: 6,
      inner_mm: null,
      outer_mm: null,
      height_mm: null,
      note: 'black',
    }
    const asked = serve({
      ...base,
      'DELETE /api/v1/parts/5/': {},
      'POST /api/v1/parcels/21/parts/': part,
    })
    const parcel = { ...aMotorFile().parcels[0]?.parcel, parts: [part] }
    const { page } = await show(BoxTable, { props: { parcel } })
    const off = page.findAll('button').find((one) => one.text().startsWith('Take off'))
    await off?.trigger('click')
    await settle()
    const back = [...document.querySelectorAll('button')].find(
      (one) => one.textContent === 'Put it back',
    )
    back?.click()
    await settle()
    expect(body(asked, 'POST')[0]).toMatchObject({
      kind: 'mounting_screw',
      count: 4,
      note: 'black',
    })
  })
})

describe('the scale', () => {
  const open = () => show(MassStep, { props: { file: aMotorFile(), sample: 7 } })

  it('takes ounces with the u of their last digit, and keeps what was typed', async () => {
    const asked = serve({ ...base, 'POST /api/v1/samples/7/weighings/': {} })
    const { page } = await open()
    await page.get('#w-mass').setValue('1.02 oz')
    await page.get('#w-mass').trigger('submit')
    await settle()
    expect(body(asked, 'POST')[0]).toMatchObject({ mass_g: 28.917, typed: '1.02 oz' })
    const sent = body(asked, 'POST')[0] as { resolution_g: number }
    expect(sent.resolution_g).toBeCloseTo(0.2835, 4)
  })

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
