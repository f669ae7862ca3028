import { describe, expect, it } from 'vitest'
import AgainstSheet from '@/features/motor_file/AgainstSheet.vue'
import LoadClaims from '@/features/intake/LoadClaims.vue'
import { aMotorFile, alerts, refusal, serve, session, settle, show } from './mounting'

const figure = (name: string, said: number, measured: number | null) => ({
  name,
  label: name === 'thrust_gf' ? 'Thrust' : 'Current',
  unit: name === 'thrust_gf' ? 'gf' : 'A',
  said,
  measured: {
    value: measured,
    u: measured && 8,
    n: 1,
    origin: 'measured',
    reason: measured ? '' : 'no run on that propeller and as many cells',
  },
  measured_from: measured ? 'highest of 2 runs' : '',
  deviation_pct: {
    value: measured && 100 * (measured / said - 1),
    u: measured && 0.6,
    n: 1,
    origin: 'derived',
    reason: '',
  },
  resolved: Boolean(measured),
})
const LOAD = {
  id: 5,
  version: 2,
  source: 'web page',
  stated_on: '2026-05-04',
  cells: 4,
  propeller: '5.1x4.2x3',
  odd: ['620 W at 30 A are 20.7 V, which 4 cells do not have under load.'],
  figures: [figure('thrust_gf', 1300, 1200), figure('current_a', 40, null)],
}

const estimate = (value: number, u: number) => ({
  value,
  u,
  n: 1,
  origin: 'estimated',
  reason: '',
  assumed: true,
})
const FORESEEN = [
  {
    id: 5,
    rests_on: 'motor as A; propeller identified from 3 runs',
    why_not: '',
    figures: [
      {
        name: 'thrust_gf',
        foreseen: estimate(1180, 70),
        off_pct: estimate(-9, 5),
        differs: false,
      },
      { name: 'current_a', foreseen: estimate(31, 2), off_pct: estimate(-22, 5), differs: true },
    ],
  },
  { id: 6, rests_on: '', why_not: '“Tri-blade” says no diameter and pitch', figures: [] },
]

async function open(loads: object[] = [], role = 'reviewer', answers: object = {}) {
  const asked = serve({
    'GET /api/v1/session/': session(role),
    'POST /api/v1/motors/3/claimed-loads/': { id: 6 },
    'DELETE /api/v1/claimed-loads/5/': {},
    'GET /api/v1/motors/3/foreseen-loads/': FORESEEN,
    ...answers,
  })
  const { page } = await show(LoadClaims, {
    props: {
      file: aMotorFile({ claimed_loads: loads }),
      source: 'data sheet',
      statedOn: '2026-06-01',
    },
  })
  const type = async (label: string, text: string) => {
    const at = page.findAll('label').find((one) => one.text().startsWith(label))
    expect(at, label).toBeTruthy()
    await page.get(`#${CSS.escape(at?.attributes('for') ?? '')}`).setValue(text)
  }
  const note = async () => {
    await page.get('form').trigger('submit')
    await settle()
  }
  const sent = () => asked.filter((one) => one.method !== 'GET')
  return { page, type, note, sent }
}

describe('a maker’s table of loads', () => {
  it('is noted row by row under the source and the day above it', async () => {
    const { page, type, note, sent } = await open()
    expect(page.text()).toContain('Many pages have a table')
    await type('Cells', '4')
    await type('Propeller', '5.1x4.2x3')
    await type('Thrust', '1 300')
    await type('Current', '38,5')
    await note()
    expect(sent()).toHaveLength(1)
    expect(sent()[0]?.body).toEqual({
      source: 'data sheet',
      stated_on: '2026-06-01',
      cells: 4,
      propeller: '5.1x4.2x3',
      thrust_gf: 1300,
      current_a: 38.5,
      power_w: null,
    })
    // The next row is on the same propeller.
    const fields = page.findAll('input').map((one) => (one.element as HTMLInputElement).value)
    expect(fields).toEqual(['', '5.1x4.2x3', '', '', ''])
  })

  it.each([
    ['Thrust', 'much', 'is no number'],
    ['Power', '-5', 'is no number'],
    ['Cells', '4.5', 'whole number'],
    ['Cells', '', 'whole number'],
  ])('%s typed as “%s” is said, and nothing is sent or lost', async (label, text, said) => {
    const { page, type, note, sent } = await open()
    await type('Cells', '4')
    await type('Propeller', 'Swift')
    await type('Thrust', '1300')
    await type(label, text)
    await note()
    expect(sent()).toHaveLength(0)
    expect(alerts(page).join()).toContain(said)
    expect((page.findAll('input')[1]?.element as HTMLInputElement).value).toBe('Swift')
  })

  it('what the server refuses stands beside its field, and stays as it was typed', async () => {
    const { page, type, note } = await open([], 'reviewer', {
      'POST /api/v1/motors/3/claimed-loads/': refusal(409, 'It is there already.', {
        fields: { propeller: ['It is there already.'] },
      }),
    })
    await type('Cells', '4')
    await type('Propeller', '5.1x4.2x3')
    await type('Thrust', '1300')
    await note()
    expect(page.text().split('It is there already.')).toHaveLength(2)
    expect((page.findAll('input')[2]?.element as HTMLInputElement).value).toBe('1300')
  })

  it('shows what is stated, what is not, and what is odd', async () => {
    const { page } = await open([LOAD])
    const rows = page.findAll('tbody tr').map((row) => row.text())
    expect(rows[0]).toContain('5.1x4.2x3')
    expect(rows[0]).toContain('web page, 2026-05-04')
    expect(rows[1]).toContain('20.7 V')
    expect(page.find('[data-reason="the source states none"]').exists()).toBe(true)
  })

  it('is taken off from the version that was read', async () => {
    const { page, sent } = await open([LOAD])
    await page.get('button[aria-label^="Take off: 4 cells"]').trigger('click')
    await settle()
    expect(sent()[0]).toMatchObject({
      method: 'DELETE',
      path: '/api/v1/claimed-loads/5/',
      query: { version: '2' },
    })
  })

  it('each figure stands over what the model foresees, or why it does not', async () => {
    const { page } = await open([LOAD, { ...LOAD, id: 6, propeller: 'Tri-blade', odd: [] }])
    await settle()
    const text = page.text().replaceAll(/\s+/g, ' ')
    expect(text).toContain('foreseen ~1,180±70')
    expect(text).toMatch(/foreseen ~31\.0±2\.0\s*a?.*differs/)
    expect(text).toContain('3.7 to 4.2 V a cell: motor as A; propeller identified from 3 runs.')
    expect(text).toContain('Not foreseen: “Tri-blade” says no diameter and pitch.')
  })

  it('a reader reads', async () => {
    const { page } = await open([LOAD], 'reader')
    expect(page.find('form').exists()).toBe(false)
    expect(page.find('button').exists()).toBe(false)
  })
})

describe('on the motor file', () => {
  it('each figure stands beside what was measured on the same, or why nothing was', async () => {
    serve({
      'GET /api/v1/session/': session(),
      'GET /api/v1/motors/3/foreseen-loads/': FORESEEN,
    })
    const file = aMotorFile({ claimed_loads: [LOAD] })
    const { page } = await show(AgainstSheet, { props: { file } })
    await settle()
    expect(page.text()).not.toContain('Nothing claimed is on record')
    const [thrust, current] = page.findAll('[aria-labelledby=loads] tbody tr')
    expect(thrust?.text()).toContain('4 cells, 5.1x4.2x3')
    expect(thrust?.text()).toContain('highest of 2 runs')
    expect(thrust?.text()).toContain('differs')
    expect(current?.text()).toContain('no run on that propeller')
    // Nothing was run: what the model makes of it stands in, and is called so.
    expect(current?.text()).toContain('foreseen ~31.0±2.0A')
    expect(current?.text()).toContain('−22±5%foreseen differs')
    // A run says more than a model.
    expect(thrust?.text()).not.toContain('foreseen')
  })

  it('nothing is asked of a motor without a table', async () => {
    const asked = serve({ 'GET /api/v1/session/': session() })
    await show(AgainstSheet, { props: { file: aMotorFile() } })
    await settle()
    expect(asked.some((one) => one.path.includes('foreseen'))).toBe(false)
  })
})
