/** Claims against measurements, incidents, and a propeller's hub. */
import { afterEach, describe, expect, it } from 'vitest'
import AgainstSheet from '@/features/motor_file/AgainstSheet.vue'
import IncidentSheet from '@/features/motor_file/IncidentSheet.vue'
import HubRow from '@/features/rig/HubRow.vue'
import { base, body } from './intakeServer'
import { aMotorFile, pick, serve, settle, show } from './mounting'

// Keys are listened for on the window: a page of an earlier test must not hear them.
afterEach(() => {
  serve({})
  localStorage.clear()
  document.body.innerHTML = ''
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
    const { page } = await show(HubRow, {
      props: { propeller },
    })
    const [mass, bore, hub] = page.findAll('input')
    await hub?.trigger('change')
    await mass?.setValue('0,15 oz')
    await mass?.trigger('change')
    await settle()
    expect(body(asked, 'PATCH').at(0)).toEqual({ mass_g: expect.closeTo(4.25, 1) as number })
    asked.length = 0
    await bore?.setValue('5,03')
    await bore?.trigger('change')
    await settle()
    expect(body(asked, 'PATCH').at(0)).toEqual({ bore_mm: 5.03 })
    await bore?.setValue('wide')
    await bore?.trigger('change')
    expect(page.get('[role=alert]').text()).toContain('A number in mm')
  })
})
